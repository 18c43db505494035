package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Kind;

/**
 * What can be restored while copies land and go, kept up to date one event at a time. Each event touches the segments a
 * log covers and the ends of the stretches they join or part; nothing is recomputed from the beginning.
 *
 * <p>A stretch is a maximal run of covered segments. All data backups whose end lies inside one restore up to the same
 * time: the latest reached by a log that ends where the stretch ends (docs/semantics.md, "What can be restored").
 */
final class CoverState {

    private final History history;
    private final PositionLine line;
    private final int[] coverings;
    private final IndexSet uncovered;
    private final IndexSet logs;
    private final int[] emptyLogs;
    private final int[] holes;
    private final boolean[] usable;
    private final int[] activeAt;
    private final IndexSet active;
    private final MaxTree reachedByLogs;
    private final MaxTree restoredAlone;

    CoverState(History history, PositionLine line) {
        this.history = history;
        this.line = line;
        int segments = line.boundaries();
        coverings = new int[segments];
        uncovered = new IndexSet(segments);
        for (int k = 0; k < segments; k++) {
            uncovered.add(k);
        }
        logs = new IndexSet(line.logsByEnd.length);
        emptyLogs = new int[segments];
        holes = new int[history.size()];
        for (int i = 0; i < holes.length; i++) {
            if (history.kind(i).isData() && !history.selfContained(i) && line.fromIndex[i] >= 0) {
                holes[i] = line.toIndex[i] - line.fromIndex[i];
            }
        }
        usable = new boolean[history.size()];
        activeAt = new int[segments];
        active = new IndexSet(segments);
        reachedByLogs = new MaxTree(segments);
        restoredAlone = new MaxTree(history.size());
    }

    /** The latest instant any backup in use restores, as if nothing later than the logs' own times mattered. */
    long latest() {
        return Math.max(reachedByLogs.max(), restoredAlone.max());
    }

    void become(int i, boolean available) {
        if (history.kind(i) == Kind.LOG) {
            if (line.fromIndex[i] >= 0) {
                logBecomes(i, available);
            }
        } else {
            usable[i] = available;
            refresh(i);
        }
    }

    private void logBecomes(int i, boolean available) {
        int from = line.fromIndex[i];
        int to = line.toIndex[i];
        if (available) {
            logs.add(line.rankByEnd[i]);
        } else {
            logs.remove(line.rankByEnd[i]);
        }
        if (from == to) {
            emptyLogs[to] += available ? 1 : -1;
        }
        for (int k = from; k < to; k++) {
            if (available && coverings[k]++ == 0) {
                uncovered.remove(k);
                reachedByLogs.set(k, MaxTree.NONE);
                holesChange(k, -1);
            } else if (!available && --coverings[k] == 0) {
                uncovered.add(k);
                holesChange(k, 1);
                weigh(k);
            }
        }
        weigh(endFrom(to));
        if (from < to) {
            weigh(endFrom(from));
        }
    }

    private void holesChange(int segment, int by) {
        line.needing(segment, b -> {
            if (history.kind(b).isData()) {
                holes[b] += by;
                refresh(b);
            }
        });
    }

    /** Brings a data backup's part in the answer up to date. */
    private void refresh(int b) {
        boolean counts = usable[b] && !torn(b);
        boolean counted = restoredAlone.has(b);
        if (counts == counted) {
            return;
        }
        restoredAlone.set(b, counts ? history.consistentAtMs(b) : MaxTree.NONE);
        int at = line.toIndex[b];
        if (at >= 0) {
            activeAt[at] += counts ? 1 : -1;
            if (activeAt[at] > 0) {
                active.add(at);
            } else {
                active.remove(at);
            }
            weigh(endFrom(at));
        }
    }

    /** Works out anew how late the stretch that ends at a boundary reaches, if a backup leads into it. */
    private void weigh(int end) {
        int start = end == 0 ? 0 : uncovered.previous(end - 1) + 1;
        int first = active.next(start);
        boolean entered = first >= 0 && (first < end || first == end && emptyLogs[end] > 0);
        reachedByLogs.set(end, entered ? reachedAt(end) : MaxTree.NONE);
    }

    /** Where the extension from a boundary ends. */
    int endFrom(int boundary) {
        return uncovered.next(boundary);
    }

    private long reachedAt(int end) {
        int rank = logs.previous(line.firstRank[end + 1] - 1);
        return rank < line.firstRank[end] ? MaxTree.NONE : history.toTimeMs(line.logsByEnd[rank]);
    }

    boolean torn(int b) {
        return holes[b] > 0;
    }

    /** The latest instant a data backup restores by itself or with logs; never before its own. */
    long restoresUpTo(int b) {
        int at = line.toIndex[b];
        long own = history.consistentAtMs(b);
        if (at < 0) {
            return own;
        }
        int end = endFrom(at);
        return end > at || emptyLogs[end] > 0 ? Math.max(own, reachedAt(end)) : own;
    }
}
