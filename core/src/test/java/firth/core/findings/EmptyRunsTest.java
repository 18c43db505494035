package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;

/** A run that says it went well is believed of what it brought, and found out where it brought nothing. */
class EmptyRunsTest {

    private static final Instant MONDAY = Instant.parse("2026-11-02T02:00:00Z");
    private static final Database DATABASE = new Database(
            "d",
            "d",
            Optional.empty(),
            Optional.empty(),
            ZoneId.of("UTC"),
            Optional.empty(),
            List.of(),
            MONDAY.minus(Duration.ofDays(1)),
            List.of("main"),
            OptionalDouble.empty(),
            OptionalDouble.empty(),
            List.of(),
            List.of(Lineage.FIRST));
    private static final Instant TUESDAY = MONDAY.plus(Duration.ofDays(1));
    private static final Fleet FLEET = new Fleet(List.of(), List.of());

    private static Run run(String id, Instant started, Outcome outcome) {
        return new Run(
                id,
                DATABASE.id(),
                Kind.FULL,
                started,
                outcome == Outcome.RUNNING ? Optional.empty() : Optional.of(started.plus(Duration.ofHours(1))),
                outcome,
                Optional.empty(),
                "");
    }

    private static Backup full(String id, String run, Instant started) {
        Instant ended = started.plus(Duration.ofHours(1));
        return new Backup(
                id,
                DATABASE.id(),
                Kind.FULL,
                Optional.empty(),
                Optional.ofNullable(run),
                started,
                ended,
                OptionalDouble.empty(),
                Optional.empty(),
                Map.of(),
                Optional.empty(),
                ended,
                true,
                false,
                Duration.ZERO,
                Optional.empty(),
                List.of(),
                "");
    }

    private static DatabaseFacts facts(List<Backup> backups, Run... runs) {
        HistoryBuilder history = History.of(DATABASE);
        backups.forEach(history::add);
        for (Run run : runs) {
            history.add(run);
        }
        return new DatabaseFacts(DATABASE, history.build(), List.of(), List.of());
    }

    private static Evaluation evaluate(DatabaseFacts facts, Instant now) {
        return Evaluation.of(facts, FLEET, now, new Span(MONDAY, now));
    }

    private static List<Finding> found(DatabaseFacts facts, Instant now) {
        return Findings.of(evaluate(facts, now), facts, FLEET).stream()
                .filter(f -> f.code().equals("brought-nothing"))
                .toList();
    }

    @Test
    void oneIsFoundAnHourAfterItsEndAndThatMomentIsForeseen() {
        DatabaseFacts facts =
                facts(List.of(full("f1", "r1", MONDAY)), run("r1", MONDAY, Outcome.OK), run("r2", TUESDAY, Outcome.OK));
        Instant told = TUESDAY.plus(Duration.ofHours(2));
        assertEquals(List.of(), found(facts, told.minusMillis(1)), "it may still be told of");
        Finding f = found(facts, told).get(0);
        assertEquals(List.of("r2"), f.facts());
        assertEquals(Kind.FULL, ((Detail.BroughtNothing) f.detail()).kind());
        Evaluation before = evaluate(facts, told.minusSeconds(60));
        assertEquals(told, Moments.next(before, facts, FLEET, List.of(), Duration.ofDays(1)));
    }

    @Test
    void whatABackupIsToldToBeOfBroughtSomething() {
        DatabaseFacts facts = facts(
                List.of(full("f1", "r1", MONDAY), full("f2", "r2", TUESDAY)),
                run("r1", MONDAY, Outcome.OK),
                run("r2", TUESDAY, Outcome.OK));
        assertEquals(List.of(), found(facts, TUESDAY.plus(Duration.ofDays(1))));
    }

    @Test
    void oneThatFailedOrStillRunsSaysNothingElse() {
        Backup known = full("f1", "r1", MONDAY);
        for (Outcome outcome : List.of(Outcome.FAILED, Outcome.RUNNING)) {
            DatabaseFacts facts = facts(List.of(known), run("r1", MONDAY, Outcome.OK), run("r2", TUESDAY, outcome));
            assertEquals(List.of(), found(facts, TUESDAY.plus(Duration.ofDays(1))), outcome.toString());
        }
    }

    @Test
    void whereNobodySaysWhoseABackupIsNoneIsMissed() {
        DatabaseFacts facts = facts(
                List.of(full("f1", null, MONDAY), full("f2", null, TUESDAY)),
                run("r1", MONDAY, Outcome.OK),
                run("r2", TUESDAY, Outcome.OK));
        assertEquals(List.of(), found(facts, TUESDAY.plus(Duration.ofDays(1))));
    }
}
