package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.time.LongOrder;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * The logs of one lineage and stream in the order of their positions, available or not. They are kept as blocks of rows that
 * follow each other, which are stretches that behave wherever these do not overlap others; a block of one row else.
 */
public final class PositionLine {

    private final History history;
    /** By block: its first row, the row after its last, and the furthest end of its logs and all before. */
    private final int[] first;

    private final int[] end;
    private final long[] furthestTo;
    /** Blocks in the order of where they end; the same array where they end in the order they begin. */
    private final int[] byEnd;

    private final Guests guests;
    /** What other lineages lend to this one, by where it begins, and the furthest end of each and all before. */
    private final int[] lent;

    private final long[] furthestLent;

    /**
     * @param first the first row of each block of logs that exist, which begin, end and reach in the order of the rows
     * @param end the row after each block's last
     * @param lent those of the guests that are lent to this line
     */
    PositionLine(History history, int[] first, int[] end, Guests guests, int[] lent) {
        this.history = history;
        this.guests = guests;
        this.lent = LongOrder.by(lent, guests::from);
        this.furthestLent = new long[lent.length];
        for (int g = 0; g < lent.length; g++) {
            furthestLent[g] = Math.max(g == 0 ? 0 : furthestLent[g - 1], guests.to(this.lent[g]));
        }
        int[] order = order(first, end);
        int[] sortedFirst = taken(first, order);
        int[] sortedEnd = taken(end, order);
        if (overlap(sortedFirst, sortedEnd)) {
            int[] rows = IntStream.range(0, first.length)
                    .flatMap(b -> IntStream.range(first[b], end[b]))
                    .toArray();
            int[] ends = Arrays.stream(rows).map(r -> r + 1).toArray();
            int[] rowOrder = order(rows, ends);
            sortedFirst = taken(rows, rowOrder);
            sortedEnd = taken(ends, rowOrder);
        }
        this.first = sortedFirst;
        this.end = sortedEnd;
        furthestTo = new long[this.first.length];
        boolean endsInOrder = true;
        for (int b = 0; b < furthestTo.length; b++) {
            long to = lastTo(b);
            furthestTo[b] = b == 0 ? to : Math.max(furthestTo[b - 1], to);
            endsInOrder &= furthestTo[b] == to;
        }
        int[] blocks = IntStream.range(0, this.first.length).toArray();
        byEnd = endsInOrder ? blocks : LongOrder.by(blocks, this::lastTo);
    }

    /** By where they begin, then end, then reach. A block's own logs are in this order, so that its first speaks for it. */
    private int[] order(int[] first, int[] end) {
        int[] blocks = IntStream.range(0, first.length).toArray();
        return LongOrder.by(
                LongOrder.by(LongOrder.by(blocks, b -> history.toTimeMs(end[b] - 1)), b -> history.logTo(end[b] - 1)),
                b -> history.logFrom(first[b]));
    }

    private static int[] taken(int[] values, int[] order) {
        return Arrays.stream(order).map(o -> values[o]).toArray();
    }

    /** Whether a block of several rows and another reach into each other, so that their rows are not in order. */
    private boolean overlap(int[] first, int[] end) {
        long furthest = Long.MIN_VALUE;
        long furthestOfSeveral = Long.MIN_VALUE;
        for (int b = 0; b < first.length; b++) {
            boolean several = end[b] - first[b] > 1;
            long from = history.logFrom(first[b]);
            if (from < furthestOfSeveral || several && from < furthest) {
                return true;
            }
            long to = history.logTo(end[b] - 1);
            furthest = Math.max(furthest, to);
            furthestOfSeveral = several ? Math.max(furthestOfSeveral, to) : furthestOfSeveral;
        }
        return false;
    }

    private long lastTo(int block) {
        return history.logTo(end[block] - 1);
    }

    /** How many blocks of rows there are, in the order they begin, then end, then reach. */
    int blocks() {
        return first.length;
    }

    int first(int block) {
        return first[block];
    }

    /** The row after a block's last. */
    int end(int block) {
        return end[block];
    }

    /** Called with pairs of logs. */
    public interface PairAction {
        void accept(int one, int other);
    }

    /**
     * Calls with every two logs that begin at the same position and follow each other by where they end, but for the empty
     * ones of one block.
     */
    public void neighbours(PairAction action) {
        for (int b = 1; b < first.length; b++) {
            if (history.logFrom(first[b]) == history.logFrom(end[b - 1] - 1)) {
                action.accept(end[b - 1] - 1, first[b]);
            }
        }
    }

    /** The guests lent to this line, by where they begin; not to be changed. */
    int[] lent() {
        return lent;
    }

    /** Where a log ends in this line: one that another lineage lends ends at the fork. */
    public long to(int log) {
        return lent.length == 0 ? history.logTo(log) : lentTo(log).orElseGet(() -> history.logTo(log));
    }

    /** Whether a log belongs to another lineage and is lent to this one. */
    public boolean isLent(int log) {
        return lent.length > 0 && lentTo(log).isPresent();
    }

    private Optional<Long> lentTo(int log) {
        for (int g : lent) {
            if (guests.row(g) == log) {
                return Optional.of(guests.to(g));
            }
        }
        return Optional.empty();
    }

    /** Calls with every log that is lent to this line, and where it ends here. */
    public void eachLent(LentAction action) {
        for (int g : lent) {
            action.accept(guests.row(g), guests.to(g));
        }
    }

    /** Called with logs of other lineages. */
    public interface LentAction {
        void accept(int log, long end);
    }

    /** The furthest end of the logs that pass a test, -1 where none does. */
    public long furthest(IntPredicate test) {
        long ofLent = -1;
        for (int g : lent) {
            ofLent = test.test(guests.row(g)) ? Math.max(ofLent, guests.to(g)) : ofLent;
        }
        return Math.max(ofLent, furthestOwn(test));
    }

    private long furthestOwn(IntPredicate test) {
        int last = lastOwn(test);
        return last < 0 ? -1 : history.logTo(last);
    }

    /** The log of the lineage itself that passes a test and ends furthest, -1 where none does. */
    public int lastOwn(IntPredicate test) {
        for (int o = byEnd.length - 1; o >= 0; o--) {
            for (int row = end[byEnd[o]] - 1; row >= first[byEnd[o]]; row--) {
                if (test.test(row)) {
                    return row;
                }
            }
        }
        return -1;
    }

    /**
     * Calls with every log that has a position in {@code [from, to)}, lent ones too; where that is empty, with those that hold
     * the position in their inside.
     */
    public void logsWithin(long from, long to, IntConsumer action) {
        int begun = Stretches.firstWhere(0, lent.length, g -> guests.from(lent[g]) >= to);
        for (int g = begun - 1; g >= 0 && furthestLent[g] > from; g--) {
            if (guests.to(lent[g]) > from) {
                action.accept(guests.row(lent[g]));
            }
        }
        int blocks = Stretches.firstWhere(0, first.length, b -> history.logFrom(first[b]) >= to);
        for (int b = blocks - 1; b >= 0 && furthestTo[b] > from; b--) {
            int row = Stretches.firstWhere(first[b], end[b], r -> history.logFrom(r) >= to) - 1;
            for (; row >= first[b] && history.logTo(row) > from; row--) {
                if (history.logTo(row) > history.logFrom(row)) {
                    action.accept(row);
                }
            }
        }
    }

    /** Calls with every log in which nothing happened at a position in {@code [from, to]}. */
    public void emptyLogsWithin(long from, long to, IntConsumer action) {
        eachEnding(from, to, row -> {
            if (history.logFrom(row) == history.logTo(row)) {
                action.accept(row);
            }
        });
    }

    /** Calls with every log that ends in {@code [from, to]}, in the order they end. */
    private void eachEnding(long from, long to, IntConsumer action) {
        int o = Stretches.firstWhere(0, byEnd.length, n -> lastTo(byEnd[n]) >= from);
        for (; o < byEnd.length; o++) {
            int block = byEnd[o];
            int row = Stretches.firstWhere(first[block], end[block], r -> history.logTo(r) >= from);
            for (; row < end[block] && history.logTo(row) <= to; row++) {
                action.accept(row);
            }
            if (row < end[block]) {
                return;
            }
        }
    }
}
