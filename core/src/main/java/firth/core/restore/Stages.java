package firth.core.restore;

import firth.core.cover.Lineages;
import firth.core.cover.Lines;
import firth.core.history.History;
import firth.core.restore.LogPath.Goal;
import firth.core.restore.LogPath.Onward;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/**
 * The lineages through which a data backup leads to one that descends from its own, and the stage of each stream in each of them: up to
 * the fork at which the next opens.
 *
 * @param path from the lineage of the backup on
 */
record Stages(History history, Lines lines, Lineages lineages, int tip, List<Integer> path) {

    static Stages of(History history, Lines lines, int tip, int reachedIn) {
        Lineages lineages = lines.lineages();
        List<Integer> path = new ArrayList<>();
        for (int l = reachedIn; l != history.lineage(tip); l = lineages.parent(l)) {
            path.add(l);
        }
        path.add(history.lineage(tip));
        Collections.reverse(path);
        return new Stages(history, lines, lineages, tip, path);
    }

    /** Whether it is known where the backup begins in a stream, and where each lineage left the one before. */
    boolean known(int stream) {
        return history.start(tip, stream) >= 0
                && path.stream().skip(1).allMatch(l -> lineages.fork(l, stream) != Lineages.UNKNOWN);
    }

    /** From which position on the last lineage is consistent. */
    long consistentAt(int stream) {
        return path.size() == 1 ? history.to(tip, stream) : lineages.fork(last(), stream);
    }

    /** When the last lineage begins to be restored from the backup, in milliseconds of the epoch. */
    long beginsMs() {
        return path.size() == 1 ? history.consistentAtMs(tip) : lineages.openedAtMs(last());
    }

    /** What the logs of a stream lead to when they lead, in the last lineage, to a position and a moment. */
    Goal goal(int stream, long position, long notBefore, long untilMs) {
        Goal goal = new Goal(lines.line(last(), stream), position, notBefore, untilMs, null);
        for (int p = path.size() - 2; p >= 0; p--) {
            int next = path.get(p + 1);
            long fork = lineages.fork(next, stream);
            goal = new Goal(
                    lines.line(path.get(p), stream),
                    fork,
                    lineages.openedAtMs(next),
                    LogPath.NO_MOMENT,
                    new Onward(fork, goal));
        }
        return goal;
    }

    private int last() {
        return path.get(path.size() - 1);
    }
}
