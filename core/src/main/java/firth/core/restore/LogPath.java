package firth.core.restore;

import firth.core.cover.PositionLine;
import firth.core.history.History;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntConsumer;

/** Chooses the fewest logs of a lineage and stream that lead on from a position. */
final class LogPath {

    /** No moment is asked for. */
    static final long NO_MOMENT = Long.MIN_VALUE;

    private final History history;
    private final Reading reading;

    LogPath(History history, Reading reading) {
        this.history = history;
        this.reading = reading;
    }

    /** What the logs of a line lead to: a moment, or a position. */
    private record Goal(PositionLine line, long to, long notBefore, long untilMs) {}

    private final Map<Goal, Map<Integer, Tail>> shared = new HashMap<>();

    /**
     * The fewest logs that lead from a position to at least {@code to}, and then on until a moment is reached, in the order
     * they are applied. At each position the log that goes furthest is taken, which no other choice can better; the last
     * one is the quickest that suffices. What follows a log once {@code to} is reached is the same for every way, and is
     * looked for once.
     *
     * @param notBefore up to when a log still being received must have come for {@code to} to be in the part that is there
     * @param untilMs {@link #NO_MOMENT} where the position is enough
     */
    Optional<Tail> take(PositionLine line, long from, long to, long notBefore, long untilMs) {
        Map<Integer, Tail> known = shared.computeIfAbsent(
                untilMs == NO_MOMENT
                        ? new Goal(line, to, notBefore, untilMs)
                        : new Goal(line, NO_MOMENT, NO_MOMENT, untilMs),
                g -> new HashMap<>());
        List<Integer> walked = new ArrayList<>();
        Tail follows = null;
        boolean share = true;
        long at = from;
        while (at < to || untilMs != NO_MOMENT) {
            if (!walked.isEmpty() && (at >= to || untilMs == NO_MOMENT)) {
                follows = known.get(walked.get(walked.size() - 1));
                if (follows != null) {
                    break;
                }
            }
            int last = lastFrom(line, at, to, notBefore, untilMs);
            int next = last >= 0 ? last : furthestFrom(line, at);
            if (next < 0) {
                extendInTime(line, at, to, untilMs, walked);
                share = false;
                break;
            }
            walked.add(next);
            if (last >= 0) {
                break;
            }
            at = history.logTo(next);
        }
        Tail out = follows;
        for (int k = walked.size() - 1; k >= 0; k--) {
            int log = walked.get(k);
            if (share && out != null && (history.logTo(log) >= to || untilMs == NO_MOMENT)) {
                known.put(log, out);
            }
            out = Tail.before(out, log, reading.timeMs(log));
        }
        return Optional.ofNullable(out);
    }

    /** Where no log goes on, one in which nothing happened, or one that ended there late, still moves time on. */
    private void extendInTime(PositionLine line, long end, long to, long untilMs, List<Integer> out) {
        if (untilMs == NO_MOMENT) {
            return;
        }
        int[] found = {-1, -1};
        line.logsEndingAt(end, l -> {
            if (reading.hasCopy(l)) {
                found[0] = history.logFrom(l) == end ? l : found[0];
                found[1] = history.toTimeMs(l) >= untilMs ? l : found[1];
            }
        });
        for (int l : found) {
            boolean missing = l == found[1] || end == to;
            if (l >= 0 && missing && !endsWith(out, l)) {
                out.add(l);
            }
        }
    }

    /** Only the last one taken, or one added here, can end where they do. */
    private static boolean endsWith(List<Integer> taken, int log) {
        return taken.subList(Math.max(0, taken.size() - 2), taken.size()).contains(log);
    }

    /** A log from a position on that alone does the rest, the quickest; -1 where none does. */
    private int lastFrom(PositionLine line, long at, long to, long notBefore, long untilMs) {
        int[] found = {-1};
        eachFrom(line, at, l -> {
            boolean empty = history.logFrom(l) == history.logTo(l);
            boolean far = untilMs == NO_MOMENT
                    ? history.logTo(l) >= to && !empty
                    : history.logTo(l) > to || empty && at >= to;
            boolean late = reading.receivedUntilMs(l) >= untilMs
                    && (reading.isWhole(l) || reading.receivedUntilMs(l) >= notBefore);
            if (far && late && (found[0] < 0 || quicker(l, found[0]))) {
                found[0] = l;
            }
        });
        return found[0];
    }

    private boolean quicker(int one, int other) {
        int byTime = Long.compare(orderMs(one), orderMs(other));
        return byTime < 0 || byTime == 0 && history.compareIds(one, other) < 0;
    }

    private long orderMs(int log) {
        long own = reading.timeMs(log);
        return own == Reading.UNKNOWN ? Long.MAX_VALUE : own;
    }

    private int furthestFrom(PositionLine line, long at) {
        int[] found = {-1};
        eachFrom(line, at, l -> {
            if (reading.isWhole(l) && history.logTo(l) > at && (found[0] < 0 || better(l, found[0]))) {
                found[0] = l;
            }
        });
        return found[0];
    }

    private boolean better(int one, int other) {
        return history.logTo(one) > history.logTo(other)
                || history.logTo(one) == history.logTo(other) && quicker(one, other);
    }

    private void eachFrom(PositionLine line, long at, IntConsumer action) {
        IntConsumer left = l -> {
            if (reading.hasCopy(l)) {
                action.accept(l);
            }
        };
        line.logsWithin(at, at + 1, left);
        line.emptyLogsWithin(at, at, left);
    }
}
