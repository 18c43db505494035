package firth.core.findings;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.findings.Needs.Need;
import firth.core.findings.Needs.Why;
import firth.core.forecast.Regular;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Component;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What still needs a backup, of which kind, by when. */
class NeedsTest {

    private static final Regular REGULAR = new Regular(0);
    private static final Fleet FLEET = Regular.fleet(Regular.policy(
            new Objective(Map.of(Hazard.MISHAP, Duration.ofHours(2)), Optional.of(Duration.ofDays(14))),
            List.of(Regular.keeping(Role.NEAR, 14, 2))));

    private static List<Need> at(double days, DatabaseFacts facts) {
        Evaluation e = Evaluation.of(facts, FLEET, day(days), new Span(day(days - 20), day(days)));
        return Needs.of(e, FLEET, Findings.of(e, facts, FLEET), List.of());
    }

    @Test
    void whatIsKeptNeedsItsNextLogBeforeThePromiseBreaks() {
        double now = 25.5;
        List<Need> needs = at(now, REGULAR.facts(now));
        assertEquals(1, needs.size(), needs::toString);
        assertEquals(Kind.LOG, needs.get(0).kind());
        assertEquals(Why.PROMISE, needs.get(0).why());
        Evaluation e = REGULAR.evaluate(now, FLEET);
        assertEquals(
                e.mishap().recoveryPoint().orElseThrow().plus(Duration.ofHours(2)),
                needs.get(0).by());
    }

    @Test
    void anOpenSlotNeedsItsKindByItsClose() {
        // 22:10: the nightly slot has opened, and nothing has begun.
        double now = 25 + 22.2 / 24;
        List<Need> needs = at(now, REGULAR.facts(25 + 21.9 / 24));
        Need slot =
                needs.stream().filter(n -> n.why() == Why.SLOT_OPEN).findFirst().orElseThrow();
        assertEquals(Kind.INCR, slot.kind());
        assertEquals(day(26).plus(Duration.ofHours(2)), slot.by());
    }

    @Test
    void aMissedSlotIsNeededUntilSomethingAsStrongIsTaken() {
        double morning = 26.3;
        DatabaseFacts without = REGULAR.facts(25 + 21.9 / 24);
        assertTrue(at(morning, without).stream()
                .anyMatch(n -> n.why() == Why.SLOT_LOST && n.kind() == Kind.INCR && n.by().isBefore(day(morning))));
        HistoryBuilder more = History.of(REGULAR.database);
        more.addAll(without.history(), i -> {});
        long start = day(26.2).toEpochMilli();
        more.add(BackupRow.data("by-hand", Kind.FULL, start, start + 60_000)
                .alone()
                .between(0, 0));
        more.addCopy("near", CopyRow.landed(start + 60_000, 1e9));
        DatabaseFacts with = new DatabaseFacts(REGULAR.database, more.build(), List.of(), List.of());
        assertTrue(at(morning, with).stream().noneMatch(n -> n.why() == Why.SLOT_LOST));
    }

    @Test
    void withoutAnythingAFullIsNeededAndAComponentInNoBackupNeedsOneToo() {
        DatabaseFacts nothing =
                new DatabaseFacts(REGULAR.database, History.of(REGULAR.database).build(), List.of(), List.of());
        Need need = at(20, nothing).get(0);
        assertEquals(new Need(Optional.empty(), Kind.FULL, day(20), Why.NOTHING), need);
        DatabaseFacts facts = REGULAR.facts(25.5);
        Evaluation e = REGULAR.evaluate(25.5, FLEET);
        List<HeldComponents.Holding> held = List.of(
                new HeldComponents.Holding(
                        new Component("ledger", Optional.empty(), OptionalDouble.empty()), List.of()),
                new HeldComponents.Holding(
                        new Component("archive", Optional.empty(), OptionalDouble.empty()), List.of("data")));
        List<Need> needs = Needs.of(e, FLEET, Findings.of(e, facts, FLEET), held);
        assertEquals(new Need(Optional.of("ledger"), Kind.FULL, day(25.5), Why.COMPONENT), needs.get(0));
        assertTrue(needs.stream().noneMatch(n -> n.component().equals(Optional.of("archive"))));
    }

    static LongStream seeds() {
        return LongStream.range(0, 60);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void itAgreesWithTheGradeAndComesInOrder(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Evaluation e = world.evaluate(world.backups, now);
        List<Need> needs = Needs.of(e, world.fleet, Findings.of(e, world.facts(), world.fleet), List.of());
        if (e.version().filter(PolicyVersion::enabled).isEmpty()
                || !e.database().isServedAt(now)) {
            assertEquals(List.of(), needs);
            return;
        }
        List<Need> sorted = new ArrayList<>(needs);
        sorted.sort(Comparator.comparing(Need::by));
        assertEquals(
                sorted.stream().map(Need::by).toList(),
                needs.stream().map(Need::by).toList());
        assertEquals(needs.size(), needs.stream().map(Need::kind).distinct().count(), "of each kind one");
        boolean overdue = needs.stream().anyMatch(n -> !n.by().isAfter(now));
        if (e.grade() == Grade.STRANDED || e.grade() != Grade.NEW && e.mishap().isMissed()) {
            assertTrue(overdue, "what is broken is needed now: " + needs);
        }
        needs.stream().filter(n -> n.why() == Why.PROMISE).forEach(n -> {
            assertTrue(n.by().isAfter(now.minusMillis(1)));
            Evaluation later = world.evaluate(world.knownBy(now), n.by().plusMillis(1));
            assertTrue(
                    !later.missed().isEmpty() || !later.version().equals(e.version()),
                    "if nothing comes the promise breaks then");
        });
    }
}
