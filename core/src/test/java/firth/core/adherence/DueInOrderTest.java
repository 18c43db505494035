package firth.core.adherence;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.findings.Findings;
import firth.core.forecast.Regular;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.CopiesRule;
import firth.core.model.Demands;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.model.Schedule;
import firth.core.model.Taking;
import firth.core.model.Then;
import firth.core.model.Trigger;
import firth.core.time.Span;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Kinds that wait for one another, and those that follow one another. */
class DueInOrderTest {

    private static final Regular REGULAR = new Regular(0);
    /** Of a Saturday, when fulls are due at 22:00. */
    private static final Instant OPENS =
            Regular.BEGIN.plusDays(5).atTime(22, 0).atZone(Regular.LISBON).toInstant();

    /** When config backups are, too; an incremental would not be, for a full stands for it. */
    private static final Instant BOTH = OPENS.plusSeconds(3600);

    private static final Then INCR = new Then(Set.of(Kind.FULL), Kind.INCR, Duration.ofHours(1));

    private final Map<String, Run> runs = new TreeMap<>();

    private static Fleet fleet(List<Kind> order, Then... then) {
        List<Schedule> schedules = List.of(
                Regular.schedule("weekly", Kind.FULL, Regular.at(22, DayOfWeek.SATURDAY), 5, true),
                Regular.schedule("settings", Kind.CONFIG, Regular.at(23), 4, false));
        return Regular.fleet(new PolicyVersion(
                "p",
                1,
                Regular.START,
                "P",
                true,
                Objective.NONE,
                schedules,
                List.of(),
                List.of(),
                CopiesRule.NONE,
                Demands.NONE,
                new Taking(List.of(), Optional.empty(), order, List.of(then))));
    }

    private void ran(Due due, Instant started, Optional<Instant> ended, boolean ok) {
        runs.put(
                due.id(),
                new Run(
                        due.id(),
                        "d",
                        due.kind(),
                        Optional.of(Trigger.SCHEDULE),
                        due.schedule().map(s -> new NamedSlot(s, due.since())),
                        started,
                        ended,
                        ended.isEmpty() ? Outcome.RUNNING : ok ? Outcome.OK : Outcome.FAILED,
                        Optional.empty(),
                        ""));
    }

    private DatabaseFacts facts() {
        HistoryBuilder out = History.of(REGULAR.database);
        for (Run r : runs.values()) {
            out.add(r);
            if (r.outcome() == Outcome.OK) {
                long ended = r.ended().orElseThrow().toEpochMilli();
                BackupRow row =
                        BackupRow.data("b:" + r.id(), r.kind(), r.started().toEpochMilli(), ended);
                out.add(new BackupRow(
                        row.id(), row.kind(), 0, -1, "", r.id(), row.during(), row.selfContained(), row.extent()));
                out.addCopy("near", CopyRow.landed(ended, 1e9));
            }
        }
        return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
    }

    private List<Due> due(Fleet fleet, Instant now) {
        return Due.of(facts(), fleet, now);
    }

    private static List<Kind> kinds(List<Due> due) {
        return due.stream().map(Due::kind).toList();
    }

    @Test
    void whatIsNotOrderedStartsAtOnce() {
        assertEquals(Set.of(Kind.FULL, Kind.CONFIG), Set.copyOf(kinds(due(fleet(List.of()), BOTH))));
    }

    @Test
    void theLaterWaitsUntilTheEarlierIsThere() {
        Fleet fleet = fleet(List.of(Kind.FULL, Kind.CONFIG));
        List<Due> first = due(fleet, BOTH);
        assertEquals(List.of(Kind.FULL), kinds(first));
        Instant half = BOTH.plusSeconds(1800);
        ran(first.get(0), BOTH, Optional.empty(), true);
        assertEquals(List.of(), kinds(due(fleet, half)), "while it runs");
        ran(first.get(0), BOTH, Optional.of(half), false);
        assertEquals(List.of(), kinds(due(fleet, half.plusSeconds(60))), "while it is left alone after a failure");
        Instant again = half.plus(Due.PAUSE);
        assertEquals(List.of(Kind.FULL), kinds(due(fleet, again)), "it is tried again first");
        ran(due(fleet, again).get(0), again, Optional.of(again.plusSeconds(60)), true);
        assertEquals(List.of(Kind.CONFIG), kinds(due(fleet, again.plusSeconds(61))));
    }

    @Test
    void whatFollowsIsDueFromTheEndOfTheFirstForADay() {
        Fleet fleet = fleet(List.of(Kind.FULL, Kind.CONFIG), INCR);
        Instant ended = OPENS.plusSeconds(600);
        ran(due(fleet, OPENS).get(0), OPENS, Optional.of(ended), true);
        List<Due> incr =
                due(fleet, ended).stream().filter(d -> d.kind() == Kind.INCR).toList();
        assertEquals(
                List.of(new Due(
                        "d:incr:after:" + ended + ":0",
                        Kind.INCR,
                        Optional.empty(),
                        ended,
                        Optional.of(ended.plus(INCR.within())))),
                incr);
        ran(incr.get(0), ended, Optional.of(ended.plusSeconds(5)), false);
        assertTrue(due(fleet, ended.plusSeconds(6)).stream().noneMatch(d -> d.kind() == Kind.INCR), "it failed");
        Instant again = ended.plusSeconds(5).plus(Due.PAUSE);
        Due second = due(fleet, again).stream()
                .filter(d -> d.kind() == Kind.INCR)
                .findFirst()
                .orElseThrow();
        assertEquals("d:incr:after:" + ended + ":1", second.id());
        ran(second, again, Optional.of(again.plusSeconds(5)), false);
        Instant third = again.plusSeconds(5).plus(Due.PAUSE.multipliedBy(2));
        assertTrue(due(fleet, third.minusMillis(1)).stream().noneMatch(d -> d.kind() == Kind.INCR), "it failed twice");
        assertTrue(due(fleet, third).stream().anyMatch(d -> d.kind() == Kind.INCR));
        Instant last = ended.plus(Following.CAUGHT_UP);
        assertTrue(due(fleet, last.minusMillis(1)).stream().anyMatch(d -> d.kind() == Kind.INCR));
        assertTrue(due(fleet, last).stream().noneMatch(d -> d.kind() == Kind.INCR), "given up");
        ran(second, again, Optional.of(again.plusSeconds(5)), true);
        assertTrue(due(fleet, again.plusSeconds(6)).stream().noneMatch(d -> d.kind() == Kind.INCR), "it is there");
    }

    static LongStream seeds() {
        return LongStream.range(0, 60);
    }

    /** Whoever starts what is due, and at once, breaks neither rule but by failing. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whoeverStartsWhatIsDueKeepsTheRules(long seed) {
        Random random = new Random(seed);
        Fleet fleet = fleet(List.of(Kind.FULL, Kind.CONFIG), INCR);
        List<Due> running = new ArrayList<>();
        Map<String, Instant> ends = new TreeMap<>();
        int followed = 0;
        Instant end = OPENS.plus(Duration.ofDays(3));
        for (Instant now = OPENS; now.isBefore(end); now = now.plusSeconds(60 + random.nextInt(600))) {
            Instant at = now;
            for (Due d : running) {
                if (!ends.get(d.id()).isAfter(at)) {
                    ran(d, runs.get(d.id()).started(), Optional.of(ends.get(d.id())), random.nextInt(4) > 0);
                }
            }
            running.removeIf(d -> !ends.get(d.id()).isAfter(at));
            for (Due d : due(fleet, now)) {
                ran(d, now, Optional.empty(), true);
                ends.put(d.id(), now.plusSeconds(30 + random.nextInt(3_000)));
                running.add(d);
                followed += d.kind() == Kind.INCR ? 1 : 0;
            }
            Evaluation e = Evaluation.of(facts(), fleet, now, new Span(Regular.START, now));
            List<Finding> found = Findings.of(e, facts(), fleet);
            assertTrue(found.stream().noneMatch(f -> f.code().equals("out-of-order")), () -> found.toString());
        }
        assertTrue(followed >= 1, followed + " incrementals followed");
    }

    @Test
    void whatBeganBeforeItsTurnIsFoundAndWhatSomebodyStartedIsNot() {
        Fleet fleet = fleet(List.of(Kind.FULL, Kind.CONFIG));
        Due early = new Due("early", Kind.CONFIG, Optional.of("settings"), BOTH, Optional.empty());
        ran(early, BOTH.plusSeconds(60), Optional.of(BOTH.plusSeconds(120)), true);
        Instant now = BOTH.plusSeconds(300);
        assertEquals(List.of("early"), outOfOrder(fleet, now));
        Run run = runs.get("early");
        runs.put(
                "early",
                new Run(
                        "early",
                        "d",
                        Kind.CONFIG,
                        Optional.of(Trigger.HAND),
                        Optional.empty(),
                        run.started(),
                        run.ended(),
                        run.outcome(),
                        run.message(),
                        ""));
        assertEquals(List.of(), outOfOrder(fleet, now));
    }

    private List<String> outOfOrder(Fleet fleet, Instant now) {
        Evaluation e = Evaluation.of(facts(), fleet, now, new Span(Regular.START, now));
        return Findings.of(e, facts(), fleet).stream()
                .filter(f -> f.code().equals("out-of-order"))
                .flatMap(f -> f.facts().stream())
                .toList();
    }
}
