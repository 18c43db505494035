package firth.engines.postgres;

import firth.core.model.Backup.LogTimes;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * The times each segment covers. A segment is complete until just before the first transaction that ends after it, where the log goes on
 * without a hole until then; where it does not, until its last commit, or the beginning of a checkpoint whose record it holds.
 */
final class LogTimesFound {

    /**
     * @param covered from when to when nothing was committed that it lacks
     * @param lastCommit in it, or before it where it has none
     */
    record Times(LogTimes covered, Optional<Instant> lastCommit) {}

    /** The engine writes moments to the microsecond. */
    private static final long A_MICROSECOND = 1_000;

    private final Map<SegmentName, Times> times = new HashMap<>();
    private final Map<Integer, TreeMap<Long, Segment>> byTimeline = new TreeMap<>();
    private final Map<SegmentName, Instant> nextEnd = new HashMap<>();

    LogTimesFound(Collection<Segment> segments, Timelines timelines) {
        Map<Integer, List<Segment>> all = new TreeMap<>();
        for (Segment s : segments) {
            all.computeIfAbsent(s.name().timeline(), t -> new ArrayList<>()).add(s);
        }
        all.forEach((timeline, some) -> {
            some.sort(Comparator.comparingLong((Segment s) -> s.facts().start())
                    .thenComparing(s -> s.name().partial()));
            TreeMap<Long, Segment> starts = byTimeline.computeIfAbsent(timeline, t -> new TreeMap<>());
            some.forEach(s -> starts.putIfAbsent(s.facts().start(), s));
            int from = 0;
            for (int i = 1; i <= some.size(); i++) {
                if (i == some.size()
                        || some.get(i).facts().start()
                                != some.get(i - 1).facts().end()
                        || !some.get(i - 1).facts().whole()) {
                    run(some.subList(from, i), timelines.opened(timeline));
                    from = i;
                }
            }
        });
    }

    /** The times of a segment; of one the engine does not take, when it was written. */
    Times of(Segment s) {
        Times t = times.get(s.name());
        return t == null ? new Times(new LogTimes(s.written(), s.written()), Optional.empty()) : t;
    }

    /**
     * The moment a base backup restores by itself: as late as nothing can have been committed after its end.
     *
     * @param stopped when it ended by the word of its label, to the second
     * @param ended when its last file was written
     */
    Instant consistentAt(int timeline, long end, Instant stopped, Instant ended) {
        TreeMap<Long, Segment> starts = byTimeline.get(timeline);
        Map.Entry<Long, Segment> holding = starts == null ? null : starts.floorEntry(end - 1);
        if (holding == null || holding.getValue().facts().end() < end) {
            return nextMillisecond(stopped);
        }
        Segment s = holding.getValue();
        Instant next = nextEnd.get(s.name());
        Instant until = (next == null ? stopped : earlier(ended, next.minusNanos(A_MICROSECOND)))
                .truncatedTo(ChronoUnit.MILLIS);
        return of(s).lastCommit()
                .map(LogTimesFound::nextMillisecond)
                .filter(until::isBefore)
                .orElse(until);
    }

    /** Firth computes in milliseconds; a moment before the backup's own could not be reached from it. */
    private static Instant nextMillisecond(Instant at) {
        Instant cut = at.truncatedTo(ChronoUnit.MILLIS);
        return cut.equals(at) ? at : cut.plusMillis(1);
    }

    /** Segments that follow one another without a hole. */
    private void run(List<Segment> run, Optional<Instant> opened) {
        @Nullable Instant next = null;
        Instant[] until = new Instant[run.size()];
        for (int i = run.size() - 1; i >= 0; i--) {
            SegmentFacts f = run.get(i).facts();
            if (next != null) {
                nextEnd.put(run.get(i).name(), next);
                until[i] = next.minusNanos(A_MICROSECOND);
            } else {
                until[i] = later(f.lastCommit().orElse(null), f.checkpoint().orElse(null));
            }
            next = f.earliestEnd().orElse(next);
        }
        @Nullable Instant floor = opened.orElse(null);
        @Nullable Instant reached = null;
        @Nullable Instant lastCommit = null;
        for (int i = 0; i < run.size(); i++) {
            Segment s = run.get(i);
            SegmentFacts f = s.facts();
            lastCommit = later(lastCommit, f.lastCommit().orElse(null));
            Instant to = later(later(later(until[i], f.lastCommit().orElse(null)), reached), floor);
            if (to == null) {
                to = s.written();
            }
            Instant first = f.earliestEnd().orElse(to);
            Instant from = reached != null ? reached : floor != null && floor.isAfter(first) ? floor : first;
            if (from.isAfter(to)) {
                from = to;
            }
            Instant covered = to;
            times.put(
                    s.name(),
                    new Times(
                            new LogTimes(from, to),
                            Optional.ofNullable(lastCommit).filter(c -> !c.isAfter(covered))));
            reached = to;
        }
    }

    private static Instant earlier(Instant a, Instant b) {
        return a.isBefore(b) ? a : b;
    }

    private static @Nullable Instant later(@Nullable Instant a, @Nullable Instant b) {
        if (a == null || b == null) {
            return a == null ? b : a;
        }
        return a.isAfter(b) ? a : b;
    }
}
