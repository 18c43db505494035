package firth.core.adherence;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.forecast.Regular;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.CopiesRule;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.model.Schedule;
import firth.core.model.Trigger;
import firth.core.time.Recurrence;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** However a runner answers, no more runs start than slots opened, and what failed is tried again. */
class RunsStartedTest {

    private static final Regular REGULAR = new Regular(0);
    private static final Instant BEGIN = Regular.START.plus(Duration.ofHours(9));
    private static final Duration LASTS = Duration.ofHours(8);

    /** An occurrence every so many minutes from the beginning on. */
    private static Recurrence every(int minutes) {
        return (start, zone, from, to) -> {
            List<Instant> out = new ArrayList<>();
            for (Instant at = BEGIN; at.isBefore(to); at = at.plus(Duration.ofMinutes(minutes))) {
                if (!at.isBefore(from)) {
                    out.add(at);
                }
            }
            return out;
        };
    }

    private static Schedule schedule(String id, Kind kind, int minutes, int within, int grace) {
        return new Schedule(
                id,
                kind,
                Optional.of(every(minutes)),
                Optional.empty(),
                Optional.of(Duration.ofMinutes(within)),
                false,
                Duration.ofMinutes(grace),
                true,
                Optional.empty());
    }

    private static Fleet fleet(List<Schedule> schedules) {
        return Regular.fleet(new PolicyVersion(
                "p", 1, Regular.START, "P", true, Objective.NONE, schedules, List.of(), List.of(), CopiesRule.NONE));
    }

    /** A runner, and what it has told so far. */
    private static final class Runner {
        private final Random random;
        private final Fleet fleet;
        private final Map<String, Due> started = new TreeMap<>();
        private final Map<Kind, Integer> failed = new EnumMap<>(Kind.class);
        private final List<Told> toTell = new ArrayList<>();

        private record Told(Instant at, Run run) {}

        Runner(Random random, Fleet fleet) {
            this.random = random;
            this.fleet = fleet;
        }

        DatabaseFacts facts(Instant now) {
            Map<String, Run> known = new TreeMap<>();
            toTell.stream()
                    .filter(t -> !t.at.isAfter(now))
                    .sorted((one, other) -> one.at.compareTo(other.at))
                    .forEach(t -> known.put(t.run.id(), t.run));
            HistoryBuilder out = History.of(REGULAR.database);
            known.values().forEach(out::add);
            return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
        }

        /** Asks, and starts what it has not started yet. */
        void poll(Instant now) {
            DatabaseFacts facts = facts(now);
            List<Due> due = Due.of(facts, fleet, now);
            assertEquals(
                    due.size(), due.stream().map(Due::kind).distinct().count(), "of each kind one at a time: " + due);
            Set<String> known = facts.history().runs().stream().map(Run::id).collect(Collectors.toSet());
            for (Due d : due) {
                assertFalse(known.contains(d.id()), d.id() + " is known and handed out again");
                if (started.putIfAbsent(d.id(), d) == null) {
                    start(d, now);
                }
            }
        }

        private void start(Due d, Instant now) {
            Instant begun = now.plusSeconds(random.nextInt(90));
            Instant ended = begun.plusSeconds(30 + random.nextInt(1_500));
            boolean fails = random.nextInt(4) == 0;
            if (fails) {
                failed.merge(d.kind(), 1, Integer::sum);
            }
            boolean names = random.nextInt(3) > 0;
            Duration late = Duration.ofMinutes(random.nextInt(3) == 0 ? random.nextInt(120) : 0);
            Run over = run(d, begun, Optional.of(ended), fails ? Outcome.FAILED : Outcome.OK, names);
            switch (random.nextInt(5)) {
                case 0 -> {} // It never tells.
                case 1 -> toTell.add(new Told(ended.plus(late), over));
                case 2 -> {
                    toTell.add(new Told(ended, over));
                    toTell.add(new Told(ended.plus(late).plusSeconds(5), over));
                }
                default -> {
                    toTell.add(new Told(begun.plus(late), run(d, begun, Optional.empty(), Outcome.RUNNING, names)));
                    toTell.add(new Told(ended.plus(late).plusSeconds(1), over));
                }
            }
        }

        private static Run run(Due d, Instant begun, Optional<Instant> ended, Outcome outcome, boolean names) {
            return new Run(
                    d.id(),
                    "d",
                    d.kind(),
                    names ? Optional.of(Trigger.SCHEDULE) : Optional.empty(),
                    names && d.until().isPresent()
                            ? d.schedule().map(s -> new NamedSlot(s, d.since()))
                            : Optional.empty(),
                    begun,
                    ended,
                    outcome,
                    Optional.empty(),
                    "");
        }
    }

    static LongStream seeds() {
        return LongStream.range(0, 120);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void noMoreRunsStartThanSlotsOpenedAndRetries(long seed) {
        Random random = new Random(seed);
        List<Schedule> schedules = new ArrayList<>();
        for (int n = 0; n <= random.nextInt(3); n++) {
            int minutes = List.of(10, 20, 30, 45, 60, 120).get(random.nextInt(6));
            schedules.add(schedule(
                    "s" + n,
                    List.of(Kind.FULL, Kind.FULL, Kind.INCR, Kind.CONFIG).get(random.nextInt(4)),
                    minutes,
                    1 + random.nextInt(2 * minutes),
                    random.nextInt(30)));
        }
        Fleet fleet = fleet(schedules);
        Runner runner = new Runner(random, fleet);
        Instant end = BEGIN.plus(LASTS);
        for (Instant now = BEGIN; now.isBefore(end); now = now.plusSeconds(10 + random.nextInt(240))) {
            runner.poll(now);
        }
        List<Slot> slots = Slots.of(
                REGULAR.database,
                fleet,
                end,
                new Span(BEGIN, end),
                REGULAR.database.clock().stopped(),
                List.of(),
                List.of());
        for (Kind kind : Kind.values()) {
            long opened = slots.stream().filter(s -> s.kind() == kind).count();
            long started = runner.started.values().stream()
                    .filter(d -> d.kind() == kind)
                    .count();
            int retries = runner.failed.getOrDefault(kind, 0);
            assertTrue(
                    started <= opened + retries,
                    started + " runs of kind " + kind + " for " + opened + " slots and " + retries + " failures");
        }
    }

    /** Six fulls were once started within a minute of each other: a run counted for the slot after its own. */
    @Test
    void aFullEveryTenMinutesIsStartedOnceInTenMinutes() {
        Fleet fleet = fleet(List.of(schedule("f", Kind.FULL, 10, 10, 15)));
        Runner quick = new Runner(new Random(1), fleet);
        for (int s = 0; s < 3600; s += 10) {
            Instant now = BEGIN.plusSeconds(s);
            for (Due d : Due.of(quick.facts(now), fleet, now)) {
                if (quick.started.putIfAbsent(d.id(), d) == null) {
                    quick.toTell.add(new Runner.Told(
                            now.plusSeconds(2), Runner.run(d, now, Optional.of(now.plusSeconds(2)), Outcome.OK, true)));
                }
            }
        }
        assertEquals(6, quick.started.size(), quick.started::toString);
    }

    @Test
    void oneRunServesTwoSchedulesThatAreDueAtOnce() {
        Fleet fleet =
                fleet(List.of(schedule("weekly", Kind.FULL, 600, 60, 15), schedule("monthly", Kind.FULL, 600, 90, 15)));
        Runner runner = new Runner(new Random(1), fleet);
        List<Due> due = Due.of(runner.facts(BEGIN), fleet, BEGIN);
        assertEquals(
                List.of("weekly"),
                due.stream().flatMap(d -> d.schedule().stream()).toList(),
                "the one that closes first");
        Instant ended = BEGIN.plusSeconds(300);
        runner.toTell.add(new Runner.Told(
                ended, Runner.run(due.get(0), BEGIN.plusSeconds(5), Optional.of(ended), Outcome.OK, true)));
        assertEquals(List.of(), Due.of(runner.facts(ended), fleet, ended));
        Map<String, SlotVerdict> verdicts = Slots.of(
                        REGULAR.database,
                        fleet,
                        ended.plus(Duration.ofHours(3)),
                        new Span(BEGIN, ended),
                        REGULAR.database.clock().stopped(),
                        List.of(),
                        Attempts.known(
                                runner.facts(ended).history(), ended.plus(Duration.ofHours(3)), Set.of(Kind.FULL)))
                .stream()
                .collect(Collectors.toMap(Slot::schedule, Slot::verdict));
        assertEquals(Map.of("weekly", SlotVerdict.ON_TIME, "monthly", SlotVerdict.SUPERSEDED), verdicts);
    }

    @Test
    void whatWasStartedByHandIsNeitherLateNorCountedInAnotherSlot() {
        Fleet fleet = fleet(List.of(schedule("f", Kind.FULL, 600, 60, 15)));
        Instant late = BEGIN.plus(Duration.ofMinutes(80));
        Run hand = new Run(
                "hand:1",
                "d",
                Kind.FULL,
                Optional.of(Trigger.HAND),
                Optional.empty(),
                late,
                Optional.of(late.plusSeconds(60)),
                Outcome.OK,
                Optional.empty(),
                "");
        Slot slot = Slots.of(
                        REGULAR.database,
                        fleet,
                        late.plus(Duration.ofHours(1)),
                        new Span(BEGIN, late),
                        REGULAR.database.clock().stopped(),
                        List.of(),
                        Attempts.known(
                                History.of(REGULAR.database).add(hand).build(),
                                late.plus(Duration.ofHours(1)),
                                Set.of(Kind.FULL)))
                .get(0);
        assertEquals(SlotVerdict.MISSED, slot.verdict());
        assertEquals(List.of(), slot.runs());
        assertEquals(Duration.ZERO, slot.spill());
    }
}
