package firth.core.cover;

import firth.core.time.LongOrder;
import firth.core.time.Spans;
import java.util.Arrays;
import java.util.function.IntConsumer;

/** Where each train's landings stand, and which lands next; only trains of which some have landed and some have not are looked at. */
final class Landings {

    /** Takes a log that lands, by its place and train. */
    interface LandingTaker {
        void lands(int place, int train);
    }

    private final TrainBlocks logs;
    private final int[] place;
    private final long[] next;
    /** Trains in the order their first logs land. */
    private final int[] byBegin;

    private int begun;
    /** Those under way, ascending. */
    private int[] open = new int[8];

    private int opened;

    Landings(TrainBlocks logs) {
        this.logs = logs;
        place = new int[logs.trains()];
        next = new long[logs.trains()];
        for (int t = 0; t < place.length; t++) {
            moveTo(t, logs.first(t));
        }
        byBegin = LongOrder.of(next, next.length);
    }

    /** The place of a train that lands next, of those that are to be looked at. */
    int place(int train) {
        return place[train];
    }

    void moveTo(int train, int to) {
        place[train] = to;
        next[train] = to < logs.end(train) ? logs.comes(to) : Spans.FOREVER;
    }

    /** When a train's next log lands, {@link Spans#FOREVER} where there is no such train or log. */
    long nextOf(int train) {
        return train < 0 ? Spans.FOREVER : next[train];
    }

    /** When a log of any other train lands next. */
    long nextBeside(int train) {
        long least = begun < byBegin.length && byBegin[begun] != train ? next[byBegin[begun]] : Spans.FOREVER;
        for (int o = 0; o < opened; o++) {
            least = open[o] == train ? least : Math.min(least, next[open[o]]);
        }
        return least;
    }

    /** Takes what lands at a moment, which is the next, in the order of places. */
    void takeAt(long moment, LandingTaker taker) {
        while (begun < byBegin.length && next[byBegin[begun]] <= moment) {
            open(byBegin[begun++]);
        }
        int left = 0;
        for (int o = 0; o < opened; o++) {
            int train = open[o];
            while (next[train] == moment) {
                int k = place[train];
                moveTo(train, k + 1);
                taker.lands(k, train);
            }
            if (next[train] < Spans.FOREVER) {
                open[left++] = train;
            }
        }
        opened = left;
    }

    /** Calls with each train of which some have landed and some have not. */
    void eachOpen(IntConsumer action) {
        for (int o = 0; o < opened; o++) {
            action.accept(open[o]);
        }
    }

    private void open(int train) {
        open = opened == open.length ? Arrays.copyOf(open, 2 * opened) : open;
        int at = opened++;
        for (; at > 0 && open[at - 1] > train; at--) {
            open[at] = open[at - 1];
        }
        open[at] = train;
    }
}
