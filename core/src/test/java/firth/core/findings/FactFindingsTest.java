package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Finding.Severity;
import firth.core.findings.Finding.Urgency;
import firth.core.forecast.Regular;
import firth.core.model.Database;
import firth.core.model.Lineage;
import firth.core.model.Particulars;
import firth.core.model.Sighting;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;

/** What breaks a promise if nothing happens stands by the moment it does. */
class FactFindingsTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:00Z");
    private static final ZoneId ZONE = ZoneId.of("UTC");
    private static final Database DATABASE = new Database(
            "d",
            "d",
            Optional.empty(),
            Optional.empty(),
            ZONE,
            Optional.empty(),
            List.of(),
            NOW.minus(Duration.ofDays(9)),
            List.of("main"),
            OptionalDouble.empty(),
            OptionalDouble.empty(),
            List.of(),
            List.of(Lineage.FIRST));

    private static Finding told(String code, Severity severity) {
        return Finding.of(code, severity, "d", "d", Optional.of(NOW), new Detail.NoPolicy(), List.of());
    }

    private static Finding disk(List<Finding> told) {
        Check check = new Check(
                Check.Item.LOG_DISK,
                Check.State.NOT_READY,
                false,
                new CheckDetail.LogDiskRoom(9e9, OptionalDouble.of(1e9), Optional.of(Duration.ofHours(9)), false),
                Optional.of("north-1"),
                Optional.of(NOW),
                Optional.of(NOW.plus(Duration.ofHours(9))));
        return FactFindings.ofReadiness(DATABASE, List.of(check), told).get(0);
    }

    private static Finding silent(String host, Optional<Instant> breaks) {
        return FactFindings.silent(
                host,
                NOW.minusSeconds(600),
                NOW.minusSeconds(420),
                List.of("d"),
                breaks.map(at -> new FactFindings.Breaks("d", at)),
                ZONE);
    }

    @Test
    void aLogDiskThatFillsWhileLogsPileUpSaysWhenItIsFull() {
        Finding found = disk(List.of(told("unserved", Severity.SLOT_NOT_KEPT)));
        assertEquals(Severity.WILL_BREAK, found.severity());
        assertEquals(Optional.of(NOW.plus(Duration.ofHours(9))), found.breaks());
        assertEquals(found.breaks(), ((Detail.NotReady) found.detail()).full());
    }

    @Test
    void oneThatWouldFillWereLogsToStopBreaksNothingYet() {
        Finding found = disk(List.of());
        assertEquals(Severity.RULE_BROKEN, found.severity());
        assertEquals(Optional.empty(), found.breaks());
        assertEquals(Optional.empty(), ((Detail.NotReady) found.detail()).full());
    }

    @Test
    void aSilentRunnerIsAsUrgentAsThePromiseThatBreaksNext() {
        assertEquals(Severity.SLOT_NOT_KEPT, silent("a", Optional.empty()).severity(), "all are broken already");
        Finding later = silent("a", Optional.of(NOW.plusSeconds(3_600)));
        Finding sooner = silent("b", Optional.of(NOW.plusSeconds(600)));
        assertEquals(
                later.breaks(), ((Detail.RunnerSilent) later.detail()).next().map(FactFindings.Breaks::at));
        List<Finding> all = new ArrayList<>(List.of(
                told("unusual-size", Severity.UNUSUAL),
                later,
                told("slot-missed", Severity.SLOT_NOT_KEPT),
                sooner,
                told("site-loss-missed", Severity.HAZARD_MISSED)));
        all.sort(Findings.ORDER);
        assertEquals(
                List.of("site-loss-missed", "runner-silent", "runner-silent", "slot-missed", "unusual-size"),
                all.stream().map(Finding::code).toList());
        assertEquals("runner:b", all.get(1).about());
        assertEquals(
                List.of(Urgency.BROKEN, Urgency.WILL_BREAK, Urgency.WILL_BREAK, Urgency.BESIDES, Urgency.HOUSEKEEPING),
                all.stream().map(f -> f.severity().urgency()).toList());
    }

    @Test
    void whatManyShareBreaksWhenTheFirstOfThemDoes() {
        Finding one = silent("a", Optional.of(NOW.plusSeconds(3_600)));
        Finding other = silent("a", Optional.of(NOW.plusSeconds(600)));
        Finding both =
                new Together().of(Map.of(), List.of(one, other), Map.of()).get(0);
        assertEquals(Optional.of(NOW.plusSeconds(600)), both.breaks());
    }

    private static Optional<Finding> seen(String enrolled, String host, String identity) {
        return FactFindings.anotherServer(enrolled(enrolled), sighting(host, identity, ""));
    }

    private static Sighting sighting(String host, String identity, String lineage) {
        return new Sighting(
                host + ":d",
                enrolled("").id(),
                Optional.of(identity).filter(i -> !i.isEmpty()),
                Optional.of(lineage).filter(l -> !l.isEmpty()),
                Optional.of(host).filter(h -> !h.isEmpty()),
                Optional.of("PostgreSQL 16"),
                NOW);
    }

    private static Database enrolled(String enrolled) {
        Database d = new Regular(0).database;
        return Regular.like(
                d,
                d.id(),
                new Particulars(
                        Optional.of(enrolled).filter(i -> !i.isEmpty()),
                        Optional.of("h1"),
                        Optional.empty(),
                        Optional.empty(),
                        Map.of(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        List.of()));
    }

    @Test
    void anotherServerOnTheHostOfADatabaseIsFoundAndACloneElsewhereIsNot() {
        Finding found = seen("1", "h1", "2").orElseThrow();
        assertEquals(new Detail.AnotherServer("h1", "2", "1"), found.detail());
        assertEquals(Severity.CONTRADICTION, found.severity());
        assertEquals(List.of("h1:d"), found.facts());
        assertEquals(Optional.empty(), seen("1", "h1", "1"));
        assertEquals(Optional.empty(), seen("1", "h2", "2"), "a clone");
        assertEquals(Optional.empty(), seen("", "h1", "2"), "nobody said which it is");
        assertEquals(Optional.empty(), seen("1", "h1", ""), "it does not say");
        assertEquals(Optional.empty(), seen("1", "", "2"), "nobody knows where");
    }

    @Test
    void aLineageNobodyStatedIsFoundWhereTheServerIsTheOneThatWasEnrolled() {
        Finding found = FactFindings.anotherLineage(enrolled("1"), sighting("h1", "1", "2"))
                .orElseThrow();
        assertEquals(new Detail.AnotherLineage("h1", "2", List.of("1")), found.detail());
        assertEquals(Severity.CONTRADICTION, found.severity());
        assertEquals(Optional.empty(), FactFindings.anotherLineage(enrolled("1"), sighting("h1", "1", "1")));
        assertEquals(Optional.empty(), FactFindings.anotherLineage(enrolled("1"), sighting("h1", "1", "")));
        assertEquals(Optional.empty(), FactFindings.anotherLineage(enrolled("1"), sighting("h2", "1", "2")), "a clone");
        assertEquals(
                Optional.empty(),
                FactFindings.anotherLineage(enrolled("1"), sighting("h1", "9", "2")),
                "it is another server, which is said already");
        assertTrue(
                FactFindings.anotherLineage(enrolled(""), sighting("h1", "9", "2"))
                        .isPresent(),
                "nobody said which it is");
    }
}
