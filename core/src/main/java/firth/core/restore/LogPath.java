package firth.core.restore;

import firth.core.cover.PositionLine;
import firth.core.history.History;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** Chooses the fewest logs of a lineage and stream that lead on from a position, and of as many the quickest. */
@SuppressWarnings("ReferenceEquality") // NONE is a mark, not a value
final class LogPath {

    /** No moment is asked for. */
    static final long NO_MOMENT = Long.MIN_VALUE;

    /** Stands for a log after which there is no way on. */
    private static final Tail NONE = new Tail(-1, null, 0, 0, false);

    private final History history;
    private final Reading reading;
    private final Map<Goal, Search> shared = new HashMap<>();

    LogPath(History history, Reading reading) {
        this.history = history;
        this.reading = reading;
    }

    /**
     * What the logs of a line lead to: at least a position, and then on until a moment is reached.
     *
     * @param notBefore up to when a log still being received must have come for {@code to} to be in the part that is there
     * @param untilMs {@link #NO_MOMENT} where the position is enough
     * @param onward how it goes on from a fork into the lineage that opens there; null where the way ends
     */
    record Goal(
            PositionLine line,
            long to,
            long notBefore,
            long untilMs,
            @Nullable Onward onward) {

        /** Whether logs are needed from a position on. */
        boolean needsLogs(long from) {
            return needsOwn(from) || onward != null && onward.goal.needsLogs(onward.from);
        }

        private boolean needsOwn(long from) {
            return from < to || untilMs != NO_MOMENT;
        }
    }

    /** The next stage of a way over forks: from the position of a fork to a goal in the lineage that opens there. */
    record Onward(long from, Goal goal) {}

    /**
     * The fewest logs that lead from a position to a goal, in the order they are applied; of as many those read in the least
     * time. A log that leads over a fork is applied once, though it stands in both lineages. What follows a log is the same
     * for every way that takes it, and is looked for once.
     *
     * @return empty where none are needed, or none lead there
     */
    Optional<Tail> take(long from, Goal goal) {
        return goal.needsLogs(from) ? Optional.ofNullable(search(goal).from(from)) : Optional.empty();
    }

    private Search search(Goal goal) {
        Search known = shared.get(goal);
        if (known == null) {
            known = new Search(goal);
            shared.put(goal, known);
        }
        return known;
    }

    /** One way that is looked for. */
    private final class Search {
        private final Goal goal;
        private final PositionLine line;
        private final long to;
        private final long untilMs;
        private final Map<Integer, Tail> beforeTo = new HashMap<>();
        private final Map<Integer, Tail> afterTo;

        Search(Goal goal) {
            this.goal = goal;
            this.line = goal.line();
            this.to = goal.to();
            this.untilMs = goal.untilMs();
            // Beyond the position every way to a moment is alike.
            boolean own = untilMs == NO_MOMENT || to == NO_MOMENT;
            afterTo = own ? beforeTo : search(new Goal(line, NO_MOMENT, NO_MOMENT, untilMs, null)).beforeTo;
        }

        /** Null where no logs lead there. */
        @Nullable
        Tail from(long position) {
            if (goal.needsOwn(position)) {
                return best(next(position, position));
            }
            Onward onward = Objects.requireNonNull(goal.onward);
            return search(onward.goal).from(onward.from);
        }

        /** The way that ends this stage with a log, and goes on into the next; {@link #NONE} where none does. */
        private Tail ending(int log) {
            Onward onward = goal.onward;
            if (onward == null || !onward.goal.needsLogs(onward.from)) {
                return Tail.before(null, log, reading.timeMs(log));
            }
            return search(onward.goal).goingOn(log, onward.from);
        }

        /** The best way through this stage from a position, after a log that may lead on here too. */
        private Tail goingOn(int applied, long position) {
            if (!goal.needsOwn(position)) {
                return ending(applied);
            }
            Tail best = NONE;
            for (int log : next(position, position)) {
                Tail way = way(log);
                if (way != NONE) {
                    Tail whole = log == applied ? way : Tail.before(way, applied, reading.timeMs(applied));
                    best = best == NONE || better(whole, best) ? whole : best;
                }
            }
            return best;
        }

        /** The best of the ways that begin with one of some logs; null where none leads there. */
        private @Nullable Tail best(List<Integer> firsts) {
            Tail best = null;
            for (int log : firsts) {
                Tail way = way(log);
                best = way != NONE && (best == null || better(way, best)) ? way : best;
            }
            return best;
        }

        private Map<Integer, Tail> known(int log) {
            return history.logFrom(log) >= to ? afterTo : beforeTo;
        }

        /** The way that begins with a log; what follows is worked out first, without a call for each of thousands. */
        private Tail way(int log) {
            Deque<Integer> open = new ArrayDeque<>(List.of(log));
            while (!open.isEmpty()) {
                int at = open.peek();
                if (known(at).containsKey(at)) {
                    open.pop();
                } else if (ends(at)) {
                    known(at).put(at, ending(at));
                } else {
                    List<Integer> next = goesOn(at) ? next(history.logFrom(at), line.to(at)) : List.of();
                    List<Integer> unknown =
                            next.stream().filter(n -> !known(n).containsKey(n)).toList();
                    if (unknown.isEmpty()) {
                        Tail follows = best(next);
                        known(at).put(at, follows == null ? NONE : Tail.before(follows, at, reading.timeMs(at)));
                    } else {
                        unknown.forEach(open::push);
                    }
                }
            }
            return Objects.requireNonNull(known(log).get(log));
        }

        /** Whether a log takes the position on. */
        private boolean goesOn(int log) {
            return history.logFrom(log) < line.to(log) && (reading.isWhole(log) || line.isLent(log));
        }

        /**
         * What may be applied when logs have led from one position to another: what holds a position of this, and what was
         * passed over and reaches the moment.
         */
        private List<Integer> next(long begin, long position) {
            List<Integer> out = new ArrayList<>();
            IntConsumer left = l -> {
                if (reading.hasCopy(l) && (line.to(l) > position || ends(l))) {
                    out.add(l);
                }
            };
            line.logsWithin(Math.min(begin, position), position + 1, left);
            if (untilMs != NO_MOMENT && position >= to) {
                line.emptyLogsWithin(Math.max(begin, to), position, left);
            }
            return out;
        }

        /** Whether the goal is reached once a log has been applied. */
        private boolean ends(int log) {
            boolean empty = history.logFrom(log) == history.logTo(log);
            long received = reading.receivedUntilMs(log);
            if (untilMs == NO_MOMENT) {
                boolean whole = reading.isWhole(log) || line.isLent(log);
                return line.to(log) >= to && !empty && (whole || received >= goal.notBefore());
            }
            boolean beyond = line.to(log) > to || empty && history.logFrom(log) >= to;
            return beyond && !line.isLent(log) && received >= untilMs;
        }

        private boolean better(Tail one, Tail other) {
            if (one.count() != other.count()) {
                return one.count() < other.count();
            }
            if (one.timeKnown() != other.timeKnown()) {
                return one.timeKnown();
            }
            return one.timeMs() < other.timeMs()
                    || one.timeMs() == other.timeMs() && history.compareIds(one.log(), other.log()) < 0;
        }
    }
}
