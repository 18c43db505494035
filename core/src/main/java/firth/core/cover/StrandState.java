package firth.core.cover;

import firth.core.history.History;
import java.util.Arrays;

/**
 * The logs of one lineage and stream that are there at one moment while copies land and go: how far they extend from any
 * position, and how late. Each change touches the segments the log covers and nothing else.
 */
final class StrandState {

    /** No log extends; no time is reached. */
    static final long NONE = Long.MIN_VALUE;

    private final History history;
    private final Segments line;
    private final int[] coverings;
    private final IndexSet uncovered;
    private final IndexSet logs;
    private final int[] emptyLogs;
    /** Streamed logs of which a part is there. */
    private int[] parts = new int[0];

    private long latestEver = NONE;

    StrandState(History history, Segments line) {
        this.history = history;
        this.line = line;
        int segments = line.boundaries();
        coverings = new int[segments];
        uncovered = IndexSet.full(segments);
        logs = new IndexSet(line.logs());
        emptyLogs = new int[segments];
    }

    /** A log comes or goes as a whole. */
    void become(int log, boolean available) {
        int from = line.fromIndex(log);
        int to = line.toIndex(log);
        if (available) {
            logs.add(line.rankByEnd(log));
            latestEver = Math.max(latestEver, history.toTimeMs(log));
        } else {
            logs.remove(line.rankByEnd(log));
        }
        if (from == to) {
            emptyLogs[to] += available ? 1 : -1;
        }
        for (int k = from; k < to; k++) {
            if (available && coverings[k]++ == 0) {
                uncovered.remove(k);
            } else if (!available && --coverings[k] == 0) {
                uncovered.add(k);
            }
        }
    }

    /** A part of a streamed log comes, or no longer is what is there of it. */
    void becomePart(int log, boolean there) {
        if (there) {
            parts = Arrays.copyOf(parts, parts.length + 1);
            parts[parts.length - 1] = log;
        } else {
            parts = Arrays.stream(parts).filter(p -> p != log).toArray();
        }
    }

    boolean hasParts() {
        return parts.length > 0;
    }

    /** No time reached so far, by whole logs or by parts at a moment, was later. */
    long bound(long moment) {
        long out = latestEver;
        for (int p : parts) {
            out = Math.max(out, moment - history.lagMs(p));
        }
        return out;
    }

    /** Where the extension from a boundary ends. */
    int endFrom(int boundary) {
        return uncovered.next(boundary);
    }

    /** The time reached from a boundary at a moment, {@link #NONE} where no log extends it. */
    long reachedFrom(int boundary, long moment) {
        int end = endFrom(boundary);
        long out = end > boundary || emptyLogs[end] > 0 ? reachedAt(end) : NONE;
        for (int p : parts) {
            if (line.fromIndex(p) <= end && end < line.toIndex(p)) {
                out = Math.max(out, moment - history.lagMs(p));
            }
        }
        return out;
    }

    /**
     * Whether logs extend from a boundary to at least another; one inside a part counts once what was received reaches
     * {@code notBefore}.
     */
    boolean extendsTo(int boundary, int target, long moment, long notBefore) {
        int end = endFrom(boundary);
        if (end >= target) {
            return true;
        }
        for (int p : parts) {
            if (line.fromIndex(p) <= end && target <= line.toIndex(p) && moment - history.lagMs(p) >= notBefore) {
                return true;
            }
        }
        return false;
    }

    private long reachedAt(int end) {
        int rank = logs.previous(line.firstRank(end + 1) - 1);
        return rank < line.firstRank(end) ? NONE : history.toTimeMs(line.logByEnd(rank));
    }
}
