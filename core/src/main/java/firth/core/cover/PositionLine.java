package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Kind;
import java.util.Arrays;
import java.util.function.IntConsumer;

/**
 * The positions of one stream at which logs and data backups begin and end, numbered in ascending order, so that the
 * stretch between two neighbours is a segment with the lower one's number. Segment {@code boundaries() - 1} lies beyond
 * everything and is never covered.
 */
public final class PositionLine {

    private final History history;
    private final long[] boundaries;
    final int[] fromIndex;
    final int[] toIndex;
    /** Logs that had begun, by their end and the time it was reached. */
    final int[] logsByEnd;
    /** Where each row stands in {@link #logsByEnd}. */
    final int[] rankByEnd;
    /** The first rank of the logs that end at a boundary. */
    final int[] firstRank;

    private final int[] logsByStart;
    private final int[] greatestToSoFar;
    /** Data backups that need logs to be consistent, by where those begin. */
    private final int[] fuzzyByStart;

    private final int[] fuzzyGreatestToSoFar;

    public PositionLine(History history, Availability availability) {
        this.history = history;
        int n = history.size();
        long[] all = new long[2 * n + 1];
        int[] logs = new int[n];
        int[] fuzzy = new int[n];
        int positions = 0;
        int logCount = 0;
        int fuzzyCount = 0;
        for (int i = 0; i < n; i++) {
            if (history.positioned(i) && availability.begun(i)) {
                all[positions++] = history.from(i);
                all[positions++] = history.to(i);
                if (history.kind(i) == Kind.LOG) {
                    logs[logCount++] = i;
                } else if (!history.selfContained(i) && history.from(i) < history.to(i)) {
                    fuzzy[fuzzyCount++] = i;
                }
            }
        }
        boundaries = distinct(all, positions);
        fromIndex = new int[n];
        toIndex = new int[n];
        for (int i = 0; i < n; i++) {
            boolean on = history.positioned(i) && availability.begun(i);
            fromIndex[i] = on ? Arrays.binarySearch(boundaries, history.from(i)) : -1;
            toIndex[i] = on ? Arrays.binarySearch(boundaries, history.to(i)) : -1;
        }
        logsByEnd = ordered(ordered(Arrays.copyOf(logs, logCount), history::toTimeMs), i -> toIndex[i]);
        rankByEnd = new int[n];
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
        fuzzyByStart = ordered(Arrays.copyOf(fuzzy, fuzzyCount), i -> fromIndex[i]);
        fuzzyGreatestToSoFar = greatestToSoFar(fuzzyByStart);
    }

    /** How many distinct positions there are. */
    public int boundaries() {
        return boundaries.length;
    }

    public long position(int boundary) {
        return boundaries[boundary];
    }

    /** The number of the boundary at which a row ends, -1 where it has no positions. */
    public int toIndex(int i) {
        return toIndex[i];
    }

    public int[] logsByStart() {
        return logsByStart.clone();
    }

    /** Calls with every log that has a position in {@code [from, to)}, available or not. */
    public void logsWithin(long from, long to, IntConsumer action) {
        int low = firstBoundaryAtLeast(from);
        int high = firstBoundaryAtLeast(to);
        boolean between = low == boundaries.length || boundaries[low] > from;
        overlapping(logsByStart, greatestToSoFar, between ? low - 1 : low, high, action);
    }

    /** Calls with every log in which nothing happened at a position in {@code [from, to]}. */
    public void emptyLogsWithin(long from, long to, IntConsumer action) {
        for (int k = firstBoundaryAtLeast(from); k < boundaries.length && boundaries[k] <= to; k++) {
            for (int r = firstRank[k]; r < firstRank[k + 1]; r++) {
                if (history.from(logsByEnd[r]) == history.to(logsByEnd[r])) {
                    action.accept(logsByEnd[r]);
                }
            }
        }
    }

    /** Calls with every data backup whose consistency needs the given segment. */
    void needing(int segment, IntConsumer action) {
        overlapping(fuzzyByStart, fuzzyGreatestToSoFar, segment, segment + 1, action);
    }

    /** Rows that hold a segment in {@code [low, high)}; stops as soon as nothing earlier reaches that far. */
    private void overlapping(int[] rows, int[] greatestTo, int low, int high, IntConsumer action) {
        int a = 0;
        int b = rows.length;
        while (a < b) {
            int middle = (a + b) >>> 1;
            if (fromIndex[rows[middle]] < high) {
                a = middle + 1;
            } else {
                b = middle;
            }
        }
        for (int r = a - 1; r >= 0 && greatestTo[r] > low; r--) {
            int i = rows[r];
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
