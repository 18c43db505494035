package firth.core.cover;

import java.util.Arrays;

/** Moments by small numbers, some of which have none: the latest of any that follow each other is found in a few steps. */
final class LatestOf {

    /** No moment. */
    static final long NONE = Long.MIN_VALUE;

    /** Twice as many as there is room for: the moment of number {@code i} at {@code room + i}, above each two the later. */
    private final long[] latest;

    private final int room;

    LatestOf(int capacity) {
        room = Math.max(1, capacity);
        latest = new long[2 * room];
        Arrays.fill(latest, NONE);
    }

    /** Sets the moment of a number; {@link #NONE} takes it away. */
    void set(int number, long moment) {
        int at = room + number;
        latest[at] = moment;
        for (at >>= 1; at > 0; at >>= 1) {
            long later = Math.max(latest[2 * at], latest[2 * at + 1]);
            if (latest[at] == later) {
                return;
            }
            latest[at] = later;
        }
    }

    /** The latest moment of the numbers in {@code [from, to)}, {@link #NONE} where they have none. */
    long of(int from, int to) {
        long out = NONE;
        int low = room + from;
        int high = room + to;
        while (low < high) {
            if ((low & 1) == 1) {
                out = Math.max(out, latest[low++]);
            }
            if ((high & 1) == 1) {
                out = Math.max(out, latest[--high]);
            }
            low >>= 1;
            high >>= 1;
        }
        return out;
    }
}
