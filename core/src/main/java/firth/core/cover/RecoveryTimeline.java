package firth.core.cover;

import java.util.Arrays;

/**
 * How the recovery point moved: from step {@code i} on, until the next, the latest instant that can be restored is a
 * fixed one, or, while a log is received continuously, one a fixed time before the moment looked at. Never later than
 * that moment. Milliseconds since the epoch.
 */
public final class RecoveryTimeline {

    /** Nothing can be restored. */
    public static final long NOTHING = Standing.NOTHING;

    private static final long STANDS = -1;

    private long[] at = new long[32];
    private long[] latest = new long[32];
    private long[] lag = new long[32];
    private int[] cause = new int[32];
    private int size;

    RecoveryTimeline() {}

    /** Makes room for that many steps at once. */
    void expect(int steps) {
        grow(Math.max(steps, at.length));
    }

    private void grow(int room) {
        at = Arrays.copyOf(at, room);
        latest = Arrays.copyOf(latest, room);
        lag = Arrays.copyOf(lag, room);
        cause = Arrays.copyOf(cause, room);
    }

    /** @param row the backup whose coming or going moved it, -1 where none did */
    void add(long moment, long latestMs, int row) {
        if (size == 0 && latestMs == NOTHING) {
            return;
        }
        add(moment, latestMs, STANDS, row);
    }

    /** From a moment on, what was received up to {@code lagMs} before can be restored. */
    void addFlowing(long moment, long lagMs, int row) {
        add(moment, NOTHING, lagMs, row);
    }

    private void add(long moment, long latestMs, long lagMs, int row) {
        if (size > 0 && latest[size - 1] == latestMs && lag[size - 1] == lagMs) {
            return;
        }
        if (size == at.length) {
            grow(2 * size);
        }
        at[size] = moment;
        lag[size] = lagMs;
        cause[size] = row;
        latest[size++] = latestMs;
    }

    public int steps() {
        return size;
    }

    public long atMs(int step) {
        return at[step];
    }

    /** The row of the backup whose coming or going began a step, -1 where none did. */
    public int cause(int step) {
        return cause[step];
    }

    /** Whether the recovery point moves with time in a step. */
    public boolean flows(int step) {
        return lag[step] != STANDS;
    }

    /** How far the recovery point stays behind in a step in which it moves. */
    public long lagMs(int step) {
        return lag[step];
    }

    /** The recovery point at a moment of a step, {@link #NOTHING} where there is none; may be later than the moment. */
    public long latestMs(int step, long moment) {
        return flows(step) ? moment - lag[step] : latest[step];
    }

    /** The step in force at a moment, -1 before the first. */
    public int stepAt(long momentMs) {
        int found = Arrays.binarySearch(at, 0, size, momentMs);
        return found >= 0 ? found : -found - 2;
    }
}
