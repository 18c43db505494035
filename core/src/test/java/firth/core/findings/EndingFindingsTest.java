package firth.core.findings;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Regular;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Role;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A lock or a hold that ends is told of while something can still be done. */
class EndingFindingsTest {

    private static final Regular REGULAR = new Regular(0);
    private static final double NOW = 25.5;
    private static final Fleet FLEET = Regular.fleet(Regular.policy(
            new Objective(Map.of(Hazard.SABOTAGE, Duration.ofDays(60)), Optional.empty()),
            List.of(Regular.keeping(Role.NEAR, 3, 1), Regular.keeping(Role.FAR, 3, 1))));

    private static List<Finding> found(DatabaseFacts facts, String code) {
        Evaluation e = Evaluation.of(facts, FLEET, day(NOW), new Span(day(NOW - 20), day(NOW)));
        return Findings.of(e, facts, FLEET).stream()
                .filter(f -> f.code().equals(code))
                .toList();
    }

    /** One full, its copy at the far store locked up to a day. */
    private static DatabaseFacts locked(double... until) {
        HistoryBuilder out = History.of(REGULAR.database);
        for (int n = 0; n < until.length; n++) {
            long start = day(20 + n).toEpochMilli();
            long end = start + 60_000;
            out.add(BackupRow.data("full-" + n, Kind.FULL, start, end).alone().between(0, 0));
            out.addCopy("far", CopyRow.landed(end, 1e9).locked(day(until[n]).toEpochMilli()));
        }
        return new DatabaseFacts(REGULAR.database, out.build(), List.of(), List.of());
    }

    @Test
    void theLastLockOverADataBackupIsToldOfTwoWeeksAhead() {
        Finding f = found(locked(30, 33), "last-lock-ends").get(0);
        assertEquals(Optional.of(day(33)), f.breaks());
        assertEquals(Finding.Severity.WILL_BREAK, f.severity());
        assertEquals("full-1", ((Detail.LastLockEnds) f.detail()).backup());
        assertTrue(found(locked(30, NOW + 14.1), "last-lock-ends").isEmpty(), "later than two weeks ahead");
        assertEquals(1, found(locked(NOW + 13.9), "last-lock-ends").size());
    }

    @ParameterizedTest
    @CsvSource({"data-2026-02-03, 30, 1", "data-2026-02-03, 60, 0", "data-2026-02-26, 30, 0"})
    void aHoldThatAloneKeepsSomethingIsToldOf(String backup, double until, int times) {
        DatabaseFacts facts = REGULAR.facts(NOW);
        Hold hold = new Hold(
                "h",
                Optional.of(backup),
                Optional.empty(),
                Optional.empty(),
                "before the move",
                "ines",
                Optional.empty(),
                Optional.of(day(until)));
        List<Finding> found =
                found(new DatabaseFacts(facts.database(), facts.history(), List.of(hold), List.of()), "hold-ends");
        assertEquals(times, found.size(), found::toString);
        found.forEach(f -> {
            assertEquals(Optional.of(day(until)), f.breaks());
            assertEquals("before the move", ((Detail.HoldEnds) f.detail()).reason());
        });
    }

    @Test
    void whatAnotherHoldGoesOnToKeepIsNotToldOf() {
        DatabaseFacts facts = REGULAR.facts(NOW);
        Hold ends = held("ends", Optional.of(day(30)));
        Hold lasts = held("lasts", Optional.empty());
        assertEquals(
                1,
                found(new DatabaseFacts(facts.database(), facts.history(), List.of(ends), List.of()), "hold-ends")
                        .size());
        assertEquals(
                List.of(),
                found(
                        new DatabaseFacts(facts.database(), facts.history(), List.of(ends, lasts), List.of()),
                        "hold-ends"));
    }

    private static Hold held(String id, Optional<Instant> until) {
        return new Hold(
                id,
                Optional.of("data-2026-02-03"),
                Optional.empty(),
                Optional.empty(),
                "why",
                "ines",
                Optional.empty(),
                until);
    }

    @Test
    void manyThatNeverHadABackupAreOneThing() {
        DatabaseFacts nothing =
                new DatabaseFacts(REGULAR.database, History.of(REGULAR.database).build(), List.of(), List.of());
        Evaluation e = Evaluation.of(nothing, FLEET, day(NOW), new Span(day(NOW - 20), day(NOW)));
        List<Finding> own = Findings.of(e, nothing, FLEET);
        assertTrue(own.stream()
                .noneMatch(f -> f.code().equals("slots-missed") || f.code().equals("unserved")));
        Finding never = own.get(0);
        assertEquals("never-backed-up", never.code());
        List<Finding> ninety = java.util.stream.IntStream.range(0, 90)
                .mapToObj(n -> new Finding(
                        never.code(),
                        never.severity(),
                        never.about(),
                        List.of("d" + n),
                        Optional.of(Instant.EPOCH.plus(Duration.ofDays(n))),
                        never.detail(),
                        never.waysOut(),
                        never.facts()))
                .toList();
        List<Finding> together = new Together().of(Map.of(), ninety, Map.of());
        assertEquals(1, together.size());
        assertEquals(90, together.get(0).databases().size());
        assertEquals(89, together.get(0).befallsToo().size());
    }
}
