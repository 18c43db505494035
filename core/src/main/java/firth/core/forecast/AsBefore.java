package firth.core.forecast;

import firth.core.adherence.Attempt;
import firth.core.adherence.Attempts;
import firth.core.adherence.Slot;
import firth.core.adherence.Slots;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.stream.IntStream;

/**
 * Backups to come go as those of the last weeks went, the bad along with the good: what became of the slots of a kind comes over again in
 * its order, and when logs were late or lost they are again, as long after now as it was after those weeks began (docs/foresight.md, "As
 * it has been").
 */
final class AsBefore {

    /** So far back one looks. */
    static final Duration BACK = Duration.ofDays(30);

    /** What is shorter says nothing of what is usual. */
    static final Duration LEAST = Duration.ofDays(7);

    private static final long NEXT_TO = 1_000;
    private static final Late NOT_LATE = new Late(new long[0], new long[0], new long[0]);

    private final Database database;
    private final History history;
    private final LogHabit logs;
    private final long now;
    private final long back;
    /** By kind, how late the run of each slot was that is over, in their order; empty where none came to anything. */
    private final Map<Kind, List<Optional<Duration>>> slots = new EnumMap<>(Kind.class);

    private final List<Optional<Duration>> data = new ArrayList<>();
    private final Map<String, Late> late = new HashMap<>();

    /** @param fleet with the policies as they have been */
    AsBefore(DatabaseFacts facts, Fleet fleet, Habits habits, Instant asOf) {
        this.database = facts.database();
        this.history = facts.history();
        this.logs = habits.logs();
        this.now = asOf.toEpochMilli();
        this.back = Math.min(BACK.toMillis(), now - begin());
        if (isKnown()) {
            slots(facts, fleet, asOf);
            habits.landings(Kind.LOG).forEach(l -> late.put(l.store(), late(l)));
        }
    }

    /** When its first data backup was there. */
    private long begin() {
        return history.others().stream()
                .filter(i -> history.kind(i).isData())
                .mapToLong(history::consistentAtMs)
                .filter(t -> t <= now)
                .min()
                .orElse(now);
    }

    /** Whether it has been backed up for long enough that there is anything to go by. */
    boolean isKnown() {
        return back >= LEAST.toMillis();
    }

    private void slots(DatabaseFacts facts, Fleet fleet, Instant asOf) {
        Span span = new Span(Instant.ofEpochMilli(now - back), asOf);
        List<Attempt> runs = Attempts.known(history, asOf, Slots.kinds(fleet, database));
        for (Slot slot : Slots.of(database, fleet, asOf, span, database.clock().stopped(), facts.closures(), runs)) {
            if (Fare.OVER.contains(slot.verdict())) {
                Optional<Duration> start = slot.runs().stream()
                        .filter(Attempt::ok)
                        .map(r -> Duration.between(slot.open(), r.started()))
                        .map(d -> d.isNegative() ? Duration.ZERO : d)
                        .findFirst();
                slots.computeIfAbsent(slot.kind(), k -> new ArrayList<>()).add(start);
                if (slot.kind().isData()) {
                    data.add(start);
                }
            }
        }
    }

    /** Stretches whose logs came later than is usual to a store, or not at all: where each ends, and when its log came. */
    @SuppressWarnings("ArrayRecordComponent")
    private record Late(long[] from, long[] to, long[] came) {

        OptionalLong at(long moment) {
            int i = Arrays.binarySearch(to, moment);
            int k = i >= 0 ? i : -i - 1;
            return k < to.length && moment > from[k] ? OptionalLong.of(came[k]) : OptionalLong.empty();
        }
    }

    private Late late(Landing place) {
        long usual = place.after().toMillis() + 2 * usualLength();
        int[] rows = IntStream.range(0, history.size())
                .filter(i -> history.kind(i) == Kind.LOG
                        && history.lineage(i) == logs.lineage()
                        && history.stream(i) == 0
                        && history.toTimeMs(i) > now - back
                        && history.toTimeMs(i) <= now)
                .boxed()
                .sorted(Comparator.<Integer>comparingLong(history::toTimeMs).thenComparing(history::compareIds))
                .mapToInt(Integer::intValue)
                .toArray();
        List<long[]> out = new ArrayList<>();
        for (int r = 0; r < rows.length; r++) {
            long from = history.fromTimeMs(rows[r]);
            boolean lost = r > 0 && history.logFrom(rows[r]) > history.logTo(rows[r - 1]);
            if (lost) {
                add(out, history.toTimeMs(rows[r - 1]), from, History.NEVER);
            }
            long came = came(rows[r], place.store());
            boolean waits = came == History.NEVER && history.toTimeMs(rows[r]) > now - usual;
            if (!waits) {
                add(out, from, Math.min(history.toTimeMs(rows[r]), came - usual), came);
            }
        }
        long last = rows.length == 0 ? now : history.toTimeMs(rows[rows.length - 1]);
        add(out, last, now - usual, now);
        return new Late(column(out, 0), column(out, 1), column(out, 2));
    }

    private static void add(List<long[]> out, long from, long to, long came) {
        long behind = out.isEmpty() ? from : Math.max(from, out.get(out.size() - 1)[1]);
        if (to > behind) {
            out.add(new long[] {behind, to, came});
        }
    }

    private static long[] column(List<long[]> rows, int column) {
        return rows.stream().mapToLong(r -> r[column]).toArray();
    }

    private long came(int log, String store) {
        for (int c = history.firstCopy(log); c < history.firstCopy(log + 1); c++) {
            if (history.store(c).equals(store) && history.landedMs(c) <= now) {
                return history.landedMs(c);
            }
        }
        return History.NEVER;
    }

    private long usualLength() {
        return Math.round(Trend.median(Arrays.stream(logs.newest())
                .mapToDouble(i -> history.toTimeMs(i) - history.fromTimeMs(i))
                .toArray()));
    }

    /** The same again under other rules. */
    Luck under(PolicyVersion version, long shortest) {
        return new Under(version, shortest);
    }

    private final class Under implements Luck {

        private final PolicyVersion version;
        private final long shortest;
        private final Map<Kind, Integer> next = new EnumMap<>(Kind.class);

        Under(PolicyVersion version, long shortest) {
            this.version = version;
            this.shortest = shortest;
        }

        @Override
        public Optional<Duration> start(Slot slot) {
            // A kind that was never asked for meets what others met.
            List<Optional<Duration>> before =
                    slots.getOrDefault(slot.kind(), slot.kind().isData() ? data : List.of());
            int n = next.merge(slot.kind(), 1, Integer::sum) - 1;
            return before.isEmpty() ? Optional.of(Duration.ZERO) : before.get(n % before.size());
        }

        @Override
        public SortedSet<Long> logEnds(long from, long until, SortedSet<Long> cuts) {
            SortedSet<Long> out = new TreeSet<>();
            for (Schedule s : version.live()) {
                if (s.kind() == Kind.LOG) {
                    s.openings(version, database.zone(), Instant.ofEpochMilli(from), Instant.ofEpochMilli(until))
                            .forEach(o -> out.add(o.toEpochMilli()));
                    s.every().ifPresent(e -> {
                        long length = Math.max(shortest, logs.streamed() ? usualLength() : e.toMillis());
                        for (long to = from + length; to <= until; to += length) {
                            out.add(to);
                        }
                    });
                }
            }
            return out;
        }

        @Override
        public OptionalLong lands(Kind kind, Landing place, long ready) {
            if (kind != Kind.LOG) {
                return OptionalLong.of(ready + place.after().toMillis());
            }
            long then = now - back + (ready - now) % back;
            OptionalLong came = late.getOrDefault(place.store(), NOT_LATE).at(then);
            long usual = Math.max(ready, now) + behind(place);
            if (came.isEmpty()) {
                return OptionalLong.of(usual);
            }
            long after = came.getAsLong();
            return after == History.NEVER
                    ? OptionalLong.empty()
                    : OptionalLong.of(Math.max(usual, ready + after - then));
        }

        /** What is received as it is written is at once in the store it is received into. */
        private long behind(Landing place) {
            long usual = place.after().toMillis();
            return logs.streamed() && usual <= logs.lag() + NEXT_TO ? logs.lag() : usual;
        }

        @Override
        public OptionalLong streamed() {
            return logs.streamed() ? OptionalLong.of(logs.lag()) : OptionalLong.empty();
        }
    }
}
