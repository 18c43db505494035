package firth.core.cover;

import firth.core.history.History;
import firth.core.history.LandingAges;
import firth.core.history.Stretches;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * How the recovery point moved: from step {@code i} on, until the next, the latest instant that can be restored is a
 * fixed one, or, while a log is received continuously, one a fixed time before the moment looked at. Never later than
 * that moment. Milliseconds since the epoch.
 *
 * <p>Steps are kept in parts: some as columns, some as copies of logs that behave, each of which is a step where it landed.
 */
public final class RecoveryTimeline {

    /** Nothing can be restored. */
    public static final long NOTHING = Standing.NOTHING;

    private static final long STANDS = -1;
    /** Stands for a part that is kept as columns. */
    private static final int COLUMNS = -1;

    private final History history;
    /** By part: its first step, and the row and copy of that and how far apart the copies are; or where its columns begin. */
    private int[] first = new int[8];

    private int[] row = new int[8];
    private int[] copy = new int[8];
    private int[] stride = new int[8];
    private int parts;
    /** The part looked at last, where the next look most likely goes; any is right. */
    private int hint;

    private long[] at = new long[32];
    private long[] latest = new long[32];
    private int[] cause = new int[32];
    /** Absent until the recovery point moves by itself, as it mostly never does. */
    private long @Nullable [] lag;

    private int columns;
    private int size;
    private boolean ahead;

    RecoveryTimeline(History history) {
        this.history = history;
    }

    /**
     * What holds from a moment on; of several for one moment the last counts.
     *
     * @param row the backup whose coming or going moved it, -1 where none did
     */
    void add(long moment, long latestMs, int row) {
        add(moment, latestMs, STANDS, row);
    }

    /** From a moment on, what was received up to {@code lagMs} before can be restored. */
    void addFlowing(long moment, long lagMs, int row) {
        if (lag == null) {
            lag = new long[at.length];
            Arrays.fill(lag, STANDS);
        }
        add(moment, NOTHING, lagMs, row);
    }

    /**
     * Adds a step for each of the logs that follow each other in a stretch: when one copy of it landed, to where it reaches.
     * They land one after another, later than the last step, and reach ever later, beyond it.
     *
     * @param ofCopy the copy of the first of them that counts
     * @param copies how far apart these copies are
     */
    void addLandings(int firstRow, int ofCopy, int copies, int count) {
        if (count > 0) {
            part(firstRow, ofCopy, copies);
            size += count;
            // Where one reaches beyond its landing, whether others do is not looked at.
            ahead |= history.stretches().reachesAhead(history.stretches().of(firstRow));
        }
    }

    private void part(int ofRow, int ofCopy, int apart) {
        if (parts == first.length) {
            first = Arrays.copyOf(first, 2 * parts);
            row = Arrays.copyOf(row, 2 * parts);
            copy = Arrays.copyOf(copy, 2 * parts);
            stride = Arrays.copyOf(stride, 2 * parts);
        }
        first[parts] = size;
        row[parts] = ofRow;
        copy[parts] = ofCopy;
        stride[parts++] = apart;
    }

    private void add(long moment, long latestMs, long lagMs, int ofRow) {
        if (size > 0 && atMs(size - 1) == moment) {
            dropLast();
        }
        boolean same = size == 0
                ? latestMs == NOTHING && lagMs == STANDS
                : latestMs(size - 1) == latestMs && (lag == null || lagMs(size - 1) == lagMs);
        if (same) {
            return;
        }
        if (parts == 0 || copy[parts - 1] != COLUMNS) {
            part(columns, COLUMNS, 0);
        }
        if (columns == at.length) {
            at = Arrays.copyOf(at, 2 * columns);
            latest = Arrays.copyOf(latest, 2 * columns);
            cause = Arrays.copyOf(cause, 2 * columns);
            lag = lag == null ? null : Arrays.copyOf(lag, 2 * columns);
        }
        ahead |= latestMs > moment;
        at[columns] = moment;
        if (lag != null) {
            lag[columns] = lagMs;
        }
        cause[columns] = ofRow;
        latest[columns++] = latestMs;
        size++;
    }

    private void dropLast() {
        size--;
        columns -= copy[parts - 1] == COLUMNS ? 1 : 0;
        if (first[parts - 1] == size) {
            parts--;
        }
    }

    private int part(int step) {
        int p = hint;
        if (p >= parts || step < first[p] || p + 1 < parts && step >= first[p + 1]) {
            int found = Arrays.binarySearch(first, 0, parts, step);
            p = found >= 0 ? found : -found - 2;
            hint = p;
        }
        return p;
    }

    public int steps() {
        return size;
    }

    public long atMs(int step) {
        int p = part(step);
        int n = step - first[p];
        return copy[p] == COLUMNS ? at[row[p] + n] : history.landedMs(copy[p] + n * stride[p]);
    }

    /** The row of the backup whose coming or going began a step, -1 where none did. */
    public int cause(int step) {
        int p = part(step);
        int n = step - first[p];
        return copy[p] == COLUMNS ? cause[row[p] + n] : row[p] + n;
    }

    /** Whether the recovery point moves with time in a step. */
    public boolean flows(int step) {
        return lag != null && lagMs(step) != STANDS;
    }

    /** Whether in every step the recovery point stands still, at no moment after the step's beginning. */
    public boolean onlyLooksBack() {
        return !ahead && lag == null;
    }

    /** The recovery point all through a step in which it does not move. */
    public long latestMs(int step) {
        int p = part(step);
        int n = step - first[p];
        return copy[p] == COLUMNS ? latest[row[p] + n] : history.toTimeMs(row[p] + n);
    }

    /**
     * Reads off some steps at once, none of which moves by itself.
     *
     * @param n how many
     * @param begins takes when each begins
     * @param points takes the recovery point of each
     */
    public void read(int step, int n, long[] begins, long[] points) {
        for (int done = 0; done < n; ) {
            int p = part(step + done);
            int skipped = step + done - first[p];
            int end = p + 1 < parts ? first[p + 1] : size;
            int count = Math.min(n - done, end - step - done);
            if (copy[p] == COLUMNS) {
                System.arraycopy(at, row[p] + skipped, begins, done, count);
                System.arraycopy(latest, row[p] + skipped, points, done, count);
            } else {
                history.readLandings(
                        row[p] + skipped, copy[p] + skipped * stride[p], stride[p], count, begins, points, done);
            }
            done += count;
        }
    }

    /** Takes steps that follow each other. */
    public interface StepsTaker {
        /** @param ages what is known of the ages in them; null where nothing is */
        void take(int firstStep, int endStep, @Nullable LandingAges ages);
    }

    /** Calls with the steps from one to another, those together of whose ages something is known beforehand. */
    public void eachRun(int from, int to, StepsTaker taker) {
        for (int step = from; step < to; ) {
            int p = part(step);
            int end = Math.min(to, p + 1 < parts ? first[p + 1] : size);
            if (copy[p] != COLUMNS) {
                step = known(p, step, end, taker);
            }
            if (step < end) {
                taker.take(step, end, null);
            }
            step = end;
        }
    }

    /** The steps of one part: the last of them, whose end lies outside, is left, and so are those taken in part only. */
    private int known(int p, int from, int end, StepsTaker taker) {
        int begin = row[p] + from - first[p];
        int last = row[p] + end - 1 - first[p];
        int step = from;
        Stretches stretches = history.stretches();
        for (LandingAges ages : stretches.ages(stretches.of(begin), copy[p] - history.firstCopy(row[p]))) {
            if (ages.first() >= begin && ages.end() <= last) {
                int at = first[p] + ages.first() - row[p];
                if (step < at) {
                    taker.take(step, at, null);
                }
                step = first[p] + ages.end() - row[p];
                taker.take(at, step, ages);
            }
        }
        return step;
    }

    /** How far the recovery point stays behind in a step in which it moves. */
    public long lagMs(int step) {
        int p = part(step);
        return copy[p] == COLUMNS ? Objects.requireNonNull(lag)[row[p] + step - first[p]] : STANDS;
    }

    /** The recovery point at a moment of a step, {@link #NOTHING} where there is none; may be later than the moment. */
    public long latestMs(int step, long moment) {
        return flows(step) ? moment - lagMs(step) : latestMs(step);
    }

    /** The step in force at a moment, -1 before the first. */
    public int stepAt(long momentMs) {
        return Stretches.firstWhere(0, size, step -> atMs(step) > momentMs) - 1;
    }
}
