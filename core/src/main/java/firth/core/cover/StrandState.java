package firth.core.cover;

import firth.core.history.History;
import java.util.Arrays;

/**
 * The logs of one lineage and stream that are there at one moment while copies land and go: how far they extend from any
 * position, and how late. Each change touches the segments the log covers and nothing else.
 */
final class StrandState {

    /** No log extends; no time is reached. */
    static final long NONE = LatestOf.NONE;

    private final History history;
    private final Segments line;
    private final int[] coverings;
    private final IndexSet uncovered;
    private final LatestOf reached;
    /** Streamed logs of which a part is there. */
    private int[] parts = new int[0];

    private long latestEver = NONE;

    StrandState(History history, Segments line) {
        this.history = history;
        this.line = line;
        int segments = line.boundaries();
        coverings = new int[segments];
        uncovered = IndexSet.full(segments);
        reached = new LatestOf(line.logs());
    }

    /** A log comes or goes as a whole. */
    void become(int log, boolean available) {
        reached.set(line.rankByEnd(log), available ? history.toTimeMs(log) : NONE);
        latestEver = available ? Math.max(latestEver, history.toTimeMs(log)) : latestEver;
        cover(line.fromIndex(log), line.toIndex(log), available);
    }

    /** What another lineage lends comes or goes: it takes positions on, and no time. */
    void lentBecomes(long from, long to, boolean available) {
        cover(line.boundaryOf(from), line.boundaryOf(to), available);
    }

    private void cover(int from, int to, boolean available) {
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

    /** The time reached from a boundary at a moment, {@link #NONE} where no log that has a time extends it. */
    long reachedFrom(int boundary, long moment) {
        int end = endFrom(boundary);
        long out = reached.of(line.firstEmptyRank(boundary), line.firstRank(end + 1));
        for (int p : parts) {
            if (line.fromIndex(p) <= end && isBeyond(p, boundary)) {
                out = Math.max(out, moment - history.lagMs(p));
            }
        }
        return out;
    }

    /** Whether a log holds positions from a boundary on, or nothing happened in it there or later. */
    private boolean isBeyond(int log, int boundary) {
        int from = line.fromIndex(log);
        int to = line.toIndex(log);
        return from == to ? from >= boundary : to > boundary;
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
}
