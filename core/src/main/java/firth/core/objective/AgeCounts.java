package firth.core.objective;

import java.util.ArrayList;
import java.util.List;
import java.util.function.IntToLongFunction;

/** What begins to grow, stops growing or stands still at ages, counted by places that follow each other. Milliseconds. */
final class AgeCounts {

    /** How many pieces begin to grow in a place less those that stop, and the sum of those ages likewise. */
    private final int[] pace;

    private final long[] sum;
    /** Time spent at ages that stood still. */
    private final long[] stood;

    AgeCounts(int places) {
        pace = new int[places];
        sum = new long[places];
        stood = new long[places];
    }

    void add(int place, int by, long bySum) {
        pace[place] += by;
        sum[place] += bySum;
    }

    void stood(int place, long time) {
        stood[place] += time;
    }

    /**
     * The places in which the time spent reaches some times.
     *
     * @param growingBefore how many pieces grow before the first place
     * @param spentBefore the time spent before it
     * @param begins the least age of a place, and of the one after the last
     */
    List<AgeRange> find(
            double[] times, int first, int end, long growingBefore, long spentBefore, IntToLongFunction begins) {
        List<AgeRange> out = new ArrayList<>();
        long growing = growingBefore;
        long spent = spentBefore;
        int found = first;
        for (int p = 0; p < pace.length - 1 && found < end; p++) {
            long from = begins.applyAsLong(p);
            long to = begins.applyAsLong(p + 1);
            // What begins to grow within a place spends the rest of the place in it.
            long within = growing * (to - from) + pace[p] * to - sum[p] + stood[p];
            int from0 = found;
            while (found < end && spent + within >= times[found]) {
                found++;
            }
            if (found > from0) {
                out.add(new AgeRange(from, to, growing, spent, from0, found));
            }
            growing += pace[p];
            spent += within;
        }
        return out;
    }
}
