package firth.core.cover;

import java.util.Arrays;

/**
 * How late the recovery point could be over time: from step {@code i} on, until the next, the latest instant that can
 * be restored is {@code latest(i)}, or the moment looked at where that is earlier. Milliseconds since the epoch.
 */
public final class RecoveryTimeline {

    /** Nothing can be restored. */
    public static final long NOTHING = MaxTree.NONE;

    private long[] at = new long[32];
    private long[] latest = new long[32];
    private int size;

    RecoveryTimeline() {}

    void add(long moment, long latestMs) {
        if (size > 0 && latest[size - 1] == latestMs || size == 0 && latestMs == NOTHING) {
            return;
        }
        if (size == at.length) {
            at = Arrays.copyOf(at, 2 * size);
            latest = Arrays.copyOf(latest, 2 * size);
        }
        at[size] = moment;
        latest[size++] = latestMs;
    }

    public int steps() {
        return size;
    }

    public long atMs(int step) {
        return at[step];
    }

    public long latestMs(int step) {
        return latest[step];
    }

    /** The step in force at a moment, -1 before the first. */
    public int stepAt(long momentMs) {
        int found = Arrays.binarySearch(at, 0, size, momentMs);
        return found >= 0 ? found : -found - 2;
    }
}
