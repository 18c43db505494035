package firth.core.cover;

import firth.core.history.History;
import firth.core.time.LongOrder;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;

/** The logs of one lineage and stream in the order of their positions, available or not. */
public final class PositionLine {

    private final History history;
    private final int[] logsByStart;
    /** The furthest end of the logs up to each. */
    private final long[] furthestTo;

    private final int[] logsByEnd;

    /** @param logs the rows of the logs that had begun */
    PositionLine(History history, int[] logs) {
        this.history = history;
        logsByStart = inOrder(logs)
                ? logs
                : LongOrder.by(LongOrder.by(LongOrder.by(logs, history::toTimeMs), history::logTo), history::logFrom);
        furthestTo = new long[logs.length];
        boolean endsInOrder = true;
        for (int r = 0; r < logs.length; r++) {
            long to = history.logTo(logsByStart[r]);
            furthestTo[r] = r == 0 ? to : Math.max(furthestTo[r - 1], to);
            endsInOrder &= furthestTo[r] == to;
        }
        logsByEnd = endsInOrder ? logsByStart : LongOrder.by(logsByStart, history::logTo);
    }

    private boolean inOrder(int[] logs) {
        for (int r = 1; r < logs.length; r++) {
            int one = logs[r - 1];
            int other = logs[r];
            if (history.logFrom(one) > history.logFrom(other)
                    || history.logTo(one) > history.logTo(other)
                    || history.toTimeMs(one) > history.toTimeMs(other)) {
                return false;
            }
        }
        return true;
    }

    /** The logs in the order they begin, then end, then reach; not to be changed. */
    int[] logsByStart() {
        return logsByStart;
    }

    /** Called with pairs of logs. */
    public interface PairAction {
        void accept(int one, int other);
    }

    /** Calls with every two logs that begin at the same position and follow each other by where they end. */
    public void neighbours(PairAction action) {
        for (int r = 1; r < logsByStart.length; r++) {
            if (history.logFrom(logsByStart[r]) == history.logFrom(logsByStart[r - 1])) {
                action.accept(logsByStart[r - 1], logsByStart[r]);
            }
        }
    }

    /** The furthest end of the logs that pass a test, -1 where none does. */
    public long furthest(IntPredicate test) {
        for (int r = logsByEnd.length - 1; r >= 0; r--) {
            if (test.test(logsByEnd[r])) {
                return history.logTo(logsByEnd[r]);
            }
        }
        return -1;
    }

    /**
     * Calls with every log that has a position in {@code [from, to)}; where that is empty, with those that hold the position
     * in their inside.
     */
    public void logsWithin(long from, long to, IntConsumer action) {
        for (int r = firstBeginningAt(to) - 1; r >= 0 && furthestTo[r] > from; r--) {
            int log = logsByStart[r];
            if (history.logTo(log) > from && history.logTo(log) > history.logFrom(log)) {
                action.accept(log);
            }
        }
    }

    private int firstBeginningAt(long position) {
        int low = 0;
        int high = logsByStart.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (history.logFrom(logsByStart[middle]) < position) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    /** Calls with every log in which nothing happened at a position in {@code [from, to]}. */
    public void emptyLogsWithin(long from, long to, IntConsumer action) {
        for (int r = firstEndingAt(from); r < logsByEnd.length && history.logTo(logsByEnd[r]) <= to; r++) {
            if (history.logFrom(logsByEnd[r]) == history.logTo(logsByEnd[r])) {
                action.accept(logsByEnd[r]);
            }
        }
    }

    /** Calls with every log that ends at a position. */
    public void logsEndingAt(long position, IntConsumer action) {
        for (int r = firstEndingAt(position); r < logsByEnd.length && history.logTo(logsByEnd[r]) == position; r++) {
            action.accept(logsByEnd[r]);
        }
    }

    private int firstEndingAt(long position) {
        int low = 0;
        int high = logsByEnd.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (history.logTo(logsByEnd[middle]) < position) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
