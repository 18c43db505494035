package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Kind;
import java.util.Arrays;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;

/**
 * The positions of one lineage and stream at which logs and data backups begin and end and lineages part, numbered in
 * ascending order, so that the stretch between two neighbours is a segment with the lower one's number. Segment
 * {@code boundaries() - 1} lies beyond everything and is never covered.
 */
public final class PositionLine {

    /** Where rows lie on their lines, shared by all lines of a database. */
    static final class Places {
        private final int[][] from;
        private final int[][] to;
        private final int[] rank;

        Places(int streams, int rows) {
            from = new int[streams][rows];
            to = new int[streams][rows];
            rank = new int[rows];
        }
    }

    private final History history;
    private final long[] boundaries;
    private final int[] fromIndex;
    private final int[] toIndex;
    private final int[] rankByEnd;
    /** Logs by their end and the time it was reached. */
    private final int[] logsByEnd;
    /** The first rank of the logs that end at a boundary. */
    private final int[] firstRank;

    private final int[] logsByStart;
    private final int[] greatestToSoFar;

    /** @param rows the logs and data backups of the lineage that had begun */
    PositionLine(History history, int[] rows, int stream, long[] forks, Places places) {
        this.history = history;
        this.fromIndex = places.from[stream];
        this.toIndex = places.to[stream];
        this.rankByEnd = places.rank;
        long[] all = Arrays.copyOf(forks, 2 * rows.length + forks.length + 1);
        int[] logs = new int[rows.length];
        int positions = forks.length;
        int logCount = 0;
        for (int i : rows) {
            long from = history.from(i, stream);
            if (from >= 0) {
                all[positions++] = from;
                all[positions++] = history.to(i, stream);
                if (history.kind(i) == Kind.LOG) {
                    logs[logCount++] = i;
                }
            }
        }
        boundaries = distinct(all, positions);
        for (int i : rows) {
            long from = history.from(i, stream);
            fromIndex[i] = from < 0 ? -1 : Arrays.binarySearch(boundaries, from);
            toIndex[i] = from < 0 ? -1 : Arrays.binarySearch(boundaries, history.to(i, stream));
        }
        logsByEnd = ordered(ordered(Arrays.copyOf(logs, logCount), history::toTimeMs), i -> toIndex[i]);
        firstRank = new int[boundaries.length + 1];
        for (int r = 0; r < logCount; r++) {
            rankByEnd[logsByEnd[r]] = r;
            firstRank[toIndex[logsByEnd[r]] + 1]++;
        }
        for (int k = 0; k < boundaries.length; k++) {
            firstRank[k + 1] += firstRank[k];
        }
        logsByStart = ordered(Arrays.copyOf(logs, logCount), i -> fromIndex[i]);
        greatestToSoFar = greatestToSoFar(logsByStart);
    }

    /** How many distinct positions there are. */
    public int boundaries() {
        return boundaries.length;
    }

    public long position(int boundary) {
        return boundaries[boundary];
    }

    /** The boundary of a position that is one. */
    int boundaryOf(long position) {
        return Arrays.binarySearch(boundaries, position);
    }

    /** The boundary at which a row of this lineage begins, -1 where it has no positions. */
    int fromIndex(int i) {
        return fromIndex[i];
    }

    /** The boundary at which a row of this lineage ends, -1 where it has no positions. */
    int toIndex(int i) {
        return toIndex[i];
    }

    int logs() {
        return logsByEnd.length;
    }

    int rankByEnd(int log) {
        return rankByEnd[log];
    }

    int logByEnd(int rank) {
        return logsByEnd[rank];
    }

    int firstRank(int boundary) {
        return firstRank[boundary];
    }

    /** The logs in the order they begin; not to be changed. */
    int[] logsByStart() {
        return logsByStart;
    }

    /** Called with pairs of logs. */
    public interface PairAction {
        void accept(int one, int other);
    }

    /** Calls with every two logs that begin at the same position and follow each other by where they end. */
    public void neighbours(PairAction action) {
        for (int r = 1; r < logsByEnd.length; r++) {
            if (fromIndex[logsByEnd[r]] == fromIndex[logsByEnd[r - 1]]) {
                action.accept(logsByEnd[r - 1], logsByEnd[r]);
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

    /** Calls with every log that has a position in {@code [from, to)}, available or not. */
    public void logsWithin(long from, long to, IntConsumer action) {
        int low = firstBoundaryAtLeast(from);
        int high = firstBoundaryAtLeast(to);
        boolean between = low == boundaries.length || boundaries[low] > from;
        overlapping(between ? low - 1 : low, high, action);
    }

    /** Calls with every log in which nothing happened at a position in {@code [from, to]}. */
    public void emptyLogsWithin(long from, long to, IntConsumer action) {
        for (int k = firstBoundaryAtLeast(from); k < boundaries.length && boundaries[k] <= to; k++) {
            endingAt(k, log -> {
                if (history.logFrom(log) == history.logTo(log)) {
                    action.accept(log);
                }
            });
        }
    }

    /** Calls with every log that ends at a position. */
    public void logsEndingAt(long position, IntConsumer action) {
        int k = boundaryOf(position);
        if (k >= 0) {
            endingAt(k, action);
        }
    }

    private void endingAt(int boundary, IntConsumer action) {
        for (int r = firstRank[boundary]; r < firstRank[boundary + 1]; r++) {
            action.accept(logsByEnd[r]);
        }
    }

    /** Logs that hold a segment in {@code [low, high)}; stops as soon as nothing earlier reaches that far. */
    private void overlapping(int low, int high, IntConsumer action) {
        int a = 0;
        int b = logsByStart.length;
        while (a < b) {
            int middle = (a + b) >>> 1;
            if (fromIndex[logsByStart[middle]] < high) {
                a = middle + 1;
            } else {
                b = middle;
            }
        }
        for (int r = a - 1; r >= 0 && greatestToSoFar[r] > low; r--) {
            int i = logsByStart[r];
            if (toIndex[i] > low && toIndex[i] > fromIndex[i]) {
                action.accept(i);
            }
        }
    }

    private int firstBoundaryAtLeast(long position) {
        int at = Arrays.binarySearch(boundaries, position);
        return at < 0 ? -at - 1 : at;
    }

    private int[] greatestToSoFar(int[] rows) {
        int[] out = new int[rows.length];
        int greatest = -1;
        for (int r = 0; r < rows.length; r++) {
            greatest = Math.max(greatest, toIndex[rows[r]]);
            out[r] = greatest;
        }
        return out;
    }

    private static int[] ordered(int[] rows, java.util.function.IntToLongFunction key) {
        long[] keys = new long[rows.length];
        for (int r = 0; r < rows.length; r++) {
            keys[r] = key.applyAsLong(rows[r]);
        }
        int[] order = LongOrder.of(keys, rows.length);
        int[] out = new int[rows.length];
        for (int r = 0; r < rows.length; r++) {
            out[r] = rows[order[r]];
        }
        return out;
    }

    private static long[] distinct(long[] values, int size) {
        Arrays.sort(values, 0, size);
        int kept = 0;
        for (int i = 0; i < size; i++) {
            if (i == 0 || values[i] != values[i - 1]) {
                values[kept++] = values[i];
            }
        }
        return Arrays.copyOf(values, kept);
    }
}
