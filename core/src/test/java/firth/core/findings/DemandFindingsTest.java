package firth.core.findings;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.forecast.Regular;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.CopiesRule;
import firth.core.model.Copy;
import firth.core.model.Demands;
import firth.core.model.Demands.Demand;
import firth.core.model.Evidence;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Spoilage;
import firth.core.model.Traits;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Set;
import org.junit.jupiter.api.Test;

class DemandFindingsTest {

    private static final Regular REGULAR = new Regular(0);
    private static final Demands ALL = new Demands(
            true,
            true,
            true,
            Optional.of(Duration.ofDays(7)),
            Optional.of(Duration.ofHours(1)),
            Evidence.TOLD,
            Demands.EVIDENCE_WITHIN);

    private static Evaluation at(Instant asOf, Demands demands, boolean enabled, Backup... more) {
        PolicyVersion version = new PolicyVersion(
                "p",
                1,
                Regular.START,
                "Sailings",
                enabled,
                new Objective(Map.of(), Optional.empty()),
                List.of(),
                List.of(),
                List.of(),
                CopiesRule.NONE,
                demands);
        HistoryBuilder history = History.of(REGULAR.database);
        for (Backup b : more) {
            history.add(b);
        }
        return Evaluation.of(
                new DatabaseFacts(REGULAR.database, history.build(), List.of(), List.of()),
                new Fleet(List.of(), List.of(version)),
                asOf,
                new Span(Regular.START, asOf));
    }

    private static Backup backup(String id, Kind kind, Instant started, Optional<Instant> verified) {
        return new Backup(
                id,
                "d",
                kind,
                Optional.empty(),
                Optional.empty(),
                started,
                started.plusSeconds(600),
                OptionalDouble.of(1e9),
                Optional.empty(),
                Map.of(),
                Optional.empty(),
                started.plusSeconds(600),
                true,
                false,
                Duration.ZERO,
                verified,
                List.of(),
                "");
    }

    private static Traits traits(boolean compressed, boolean encrypted, boolean checksummed) {
        return new Traits(
                OptionalDouble.empty(),
                OptionalInt.empty(),
                Optional.of(compressed),
                Optional.of(encrypted),
                Optional.of(checksummed),
                Set.of(),
                Optional.empty());
    }

    private static DemandFindings.Described told(Backup backup, Traits traits) {
        return new DemandFindings.Described(backup, traits);
    }

    @Test
    void saysWhichOfTheNewestAreNotWhatIsDemanded() {
        Backup full = backup("full-1", Kind.FULL, day(10), Optional.of(day(11)));
        Backup incr = backup("incr-1", Kind.INCR, day(12), Optional.empty());
        List<Finding> found = DemandFindings.of(
                at(day(13), ALL, true),
                List.of(told(full, traits(true, false, true)), told(incr, traits(true, false, false))));
        assertEquals(
                List.of("not-encrypted", "not-checksummed"),
                found.stream().map(Finding::code).toList());
        Finding encrypted = found.get(0);
        assertEquals(
                new Detail.NotAsDemanded(
                        Demand.ENCRYPTED, List.of(Kind.FULL, Kind.INCR), List.of("full-1", "incr-1"), "Sailings"),
                encrypted.detail());
        assertEquals(Severity.RULE_BROKEN, encrypted.severity());
        assertEquals(Optional.of(full.ended()), encrypted.since());
        assertEquals(List.of("full-1", "incr-1"), encrypted.facts());
        assertEquals(List.of("incr-1"), found.get(1).facts());
    }

    @Test
    void whatIsKnownTooLittleIsToldOnceThereWasTimeToFindOut() {
        Demands read = new Demands(
                false, false, false, Optional.empty(), Optional.empty(), Evidence.READ, Duration.ofHours(6));
        Backup told = backup("full-1", Kind.FULL, day(10), Optional.empty());
        Copy copy = new Copy(
                "near",
                told.ended(),
                true,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                OptionalDouble.empty(),
                "");
        Backup listed = told.withCopies(List.of(known(copy, Evidence.LISTED)));
        List<Finding> found = DemandFindings.of(
                at(told.ended().plus(Duration.ofHours(7)), read, true), List.of(told(listed, Traits.NONE)));
        assertEquals(
                List.of(new Detail.LittleKnown(
                        Evidence.READ, Evidence.LISTED, List.of(Kind.FULL), List.of("full-1"), "Sailings")),
                found.stream().map(Finding::detail).toList());
        assertEquals(
                Optional.of(told.ended().plus(Duration.ofHours(6))),
                found.get(0).since());
        assertEquals(
                List.of(),
                DemandFindings.of(
                        at(told.ended().plus(Duration.ofHours(6)), read, true), List.of(told(listed, Traits.NONE))),
                "there is time left");
        Backup checked = told.withCopies(List.of(known(copy, Evidence.CHECKED)));
        assertEquals(List.of(), DemandFindings.of(at(day(12), read, true), List.of(told(checked, Traits.NONE))));
        Backup gone =
                told.withCopies(List.of(known(copy, Evidence.CHECKED).spoilt(new Spoilage(day(11), Optional.empty()))));
        assertEquals(
                1,
                DemandFindings.of(at(day(12), read, true), List.of(told(gone, Traits.NONE)))
                        .size(),
                "a copy that is not there proves nothing");
    }

    private static Copy known(Copy copy, Evidence evidence) {
        return new Copy(
                copy.store(),
                copy.landed(),
                true,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                copy.bytes(),
                evidence,
                "");
    }

    @Test
    void whatNobodySaidIsNotKeptAndWhatIsNotDemandedIsNotAsked() {
        Backup full = backup("full-1", Kind.FULL, day(10), Optional.empty());
        Demands compressed = new Demands(
                true, false, false, Optional.empty(), Optional.empty(), Evidence.TOLD, Demands.EVIDENCE_WITHIN);
        assertEquals(
                List.of("not-compressed"),
                DemandFindings.of(at(day(11), compressed, true), List.of(told(full, Traits.NONE))).stream()
                        .map(Finding::code)
                        .toList());
        assertEquals(List.of(), DemandFindings.of(at(day(11), Demands.NONE, true), List.of(told(full, Traits.NONE))));
        assertEquals(
                List.of(),
                DemandFindings.of(at(day(11), ALL, false), List.of(told(full, Traits.NONE))),
                "a policy that is switched off demands nothing");
    }

    @Test
    void verifyingHasItsTimeToTheSecond() {
        Backup full = backup("full-1", Kind.FULL, day(10), Optional.of(day(18)));
        List<DemandFindings.Described> newest = List.of(told(full, traits(true, true, true)));
        Instant until = full.ended().plus(Duration.ofDays(7));
        assertEquals(List.of(), DemandFindings.of(at(until, ALL, true), newest));
        List<Finding> late = DemandFindings.of(at(until.plusSeconds(1), ALL, true), newest);
        assertEquals(List.of("unverified"), late.stream().map(Finding::code).toList());
        assertEquals(Severity.UNPROVEN, late.get(0).severity());
        assertEquals(Optional.of(until), late.get(0).since());
        assertEquals(List.of(), DemandFindings.of(at(day(18), ALL, true), newest), "once verified it is over");
    }

    private static Optional<Finding> behind(Evaluation e) {
        return TakingFindings.of(e).stream().findFirst();
    }

    @Test
    void aConfigBackupIsToFollowEachDataBackup() {
        Backup config = backup("config-1", Kind.CONFIG, day(9), Optional.empty());
        Backup full = backup("full-1", Kind.FULL, day(10), Optional.empty());
        Instant due = full.ended().plus(Duration.ofHours(1));
        assertEquals(Optional.empty(), behind(at(due, ALL, true, config, full)));
        Finding late = behind(at(due.plusSeconds(1), ALL, true, config, full)).orElseThrow();
        assertEquals(
                new Detail.NotFollowed(
                        Kind.FULL,
                        full.ended(),
                        Kind.CONFIG,
                        Optional.of(config.started()),
                        Duration.ofHours(1),
                        Regular.LISBON),
                late.detail());
        assertEquals(Optional.of(due), late.since());
        assertEquals(List.of("full-1", "config-1"), late.facts());
        Backup after = backup("config-2", Kind.CONFIG, full.ended(), Optional.empty());
        assertEquals(Optional.empty(), behind(at(day(11), ALL, true, config, full, after)));
        Finding none = behind(at(day(11), ALL, true, full)).orElseThrow();
        assertEquals(Optional.empty(), ((Detail.NotFollowed) none.detail()).newest());
        assertEquals(Optional.empty(), behind(at(day(11), ALL, true)), "no data, nothing due");
    }
}
