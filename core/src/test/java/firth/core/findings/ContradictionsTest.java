package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;

/** Records that cannot all be true are named, and everything else is evaluated as ever. */
class ContradictionsTest {

    private static final Instant START = Instant.parse("2026-02-01T00:00:00Z");
    private static final Instant NOW = START.plus(Duration.ofHours(20));

    private final HistoryBuilder history = History.of(database());

    private static Instant hour(int h) {
        return START.plus(Duration.ofHours(h));
    }

    private static Database database() {
        return new Database(
                "d",
                "d",
                Optional.empty(),
                Optional.of("north"),
                ZoneId.of("UTC"),
                Optional.of("p"),
                List.of(),
                START,
                List.of("main"),
                OptionalDouble.empty(),
                OptionalDouble.empty(),
                List.of(),
                List.of(
                        Lineage.FIRST,
                        new Lineage("2", Optional.of("1"), Map.of("main", 900L), Optional.of(hour(15)))));
    }

    private static PolicyVersion version(int number) {
        return new PolicyVersion(
                "p",
                number,
                START,
                "p",
                true,
                new Objective(Map.of(), Optional.empty()),
                List.of(),
                List.of(),
                List.of(),
                CopiesRule.NONE);
    }

    private void backup(String id, Kind kind, String parent, int hour, long from, long to, int gone) {
        long at = hour(hour).toEpochMilli();
        boolean log = kind == Kind.LOG;
        history.add((log
                                ? BackupRow.log(id, 0, new BackupRow.Extent(from, to, at - 3_600_000, at))
                                : BackupRow.data(id, kind, at, at)
                                        .between(from, to)
                                        .on(parent))
                        .alone())
                .addCopy(
                        "near",
                        CopyRow.landed(at, 1)
                                .gone(gone < 0 ? History.NEVER : hour(gone).toEpochMilli()));
    }

    private Evaluation evaluate(PolicyVersion... versions) {
        BackupStore near = new BackupStore(
                "near",
                "near",
                Optional.of("north"),
                Optional.empty(),
                Optional.of(Role.NEAR),
                OptionalDouble.empty(),
                OptionalDouble.empty());
        return Evaluation.of(
                new DatabaseFacts(database(), history.build(), List.of(), List.of()),
                new Fleet(List.of(near), List.of(versions)),
                NOW,
                new Span(START, NOW));
    }

    private static List<String> facts(Evaluation e, String code) {
        return ContradictionFindings.of(e).stream()
                .filter(f -> f.code().equals(code))
                .flatMap(f -> f.facts().stream())
                .toList();
    }

    @Test
    void namesWhatCannotBeTrueAndAnswersAllTheSame() {
        backup("f", Kind.FULL, "", 1, 100, 100, -1);
        backup("l", Kind.LOG, "", 2, 100, 200, -1);
        backup("other-l", Kind.LOG, "", 9, 100, 200, -1);
        backup("circle-a", Kind.DIFF, "circle-b", 3, 150, 150, -1);
        backup("circle-b", Kind.DIFF, "circle-a", 4, 160, 160, -1);
        backup("gone", Kind.FULL, "", 12, 190, 190, 11);
        Evaluation e = evaluate(version(1), version(2));
        assertEquals(Grade.COVERED, e.grade());
        assertEquals(List.of("d"), facts(e, "fork-beyond-parent"));
        assertEquals(List.of("circle-a", "circle-b"), facts(e, "parents-in-a-circle"));
        assertEquals(List.of("l", "other-l"), facts(e, "logs-of-the-same-positions"));
        assertEquals(List.of("gone"), facts(e, "gone-before-landed"));
        assertEquals(List.of("p"), facts(e, "version-begins-twice"));
        assertEquals(
                Optional.of(2), e.version().map(PolicyVersion::version), "of two that begin at once the later counts");
    }

    @Test
    void saysNothingWhereNothingContradicts() {
        backup("f", Kind.FULL, "", 1, 100, 100, -1);
        backup("l", Kind.LOG, "", 2, 100, 1000, 5);
        backup("again", Kind.LOG, "", 2, 100, 1000, -1);
        assertEquals(List.of(), ContradictionFindings.of(evaluate(version(1))));
    }

    private void untilTheNextOpens() {
        backup("f", Kind.FULL, "", 1, 100, 100, -1);
        backup("l", Kind.LOG, "", 14, 100, 900, -1);
        backup("last", Kind.LOG, "", 15, 900, 1000, -1);
        backup("idle", Kind.LOG, "", 17, 1000, 1000, -1);
    }

    @Test
    void aLineageThatEndsAsTheNextOpensIsNothingToSpeakOf() {
        untilTheNextOpens();
        assertEquals(List.of(), facts(evaluate(version(1)), "lineage-goes-on"));
    }

    @Test
    void aLineageThatIsWrittenToBesideTheOneInForceIsNamed() {
        untilTheNextOpens();
        backup("beside", Kind.LOG, "", 18, 1000, 1100, -1);
        Evaluation e = evaluate(version(1));
        assertEquals(List.of("beside"), facts(e, "lineage-goes-on"));
        assertEquals(
                List.of(Optional.of(hour(15))),
                ContradictionFindings.of(e).stream().map(Finding::since).toList());
    }

    @Test
    void aBackupThatIsItsOwnParentRestoresNothing() {
        backup("own", Kind.INCR, "own", 3, 150, 150, -1);
        Evaluation e = evaluate(version(1));
        assertEquals(List.of(), e.mishap().restorable());
        assertEquals(List.of("own"), facts(e, "parents-in-a-circle"));
    }

    @Test
    void manyOfAKindAreNotAllNamed() {
        for (int n = 0; n < 50; n++) {
            backup("gone-" + n, Kind.FULL, "", 12, 190, 190, 11);
        }
        assertEquals(20, facts(evaluate(version(1)), "gone-before-landed").size());
    }
}
