package firth.wording;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Gap;
import firth.core.evaluation.Contradiction;
import firth.core.findings.Check;
import firth.core.findings.CheckDetail;
import firth.core.findings.Detail;
import firth.core.findings.FactFindings;
import firth.core.findings.Failing;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.findings.Findings;
import firth.core.findings.FlawDetail;
import firth.core.findings.PolicyFlaw;
import firth.core.findings.WayOut;
import firth.core.forecast.Comparison;
import firth.core.model.Demands.Demand;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.stocktake.Difference;
import firth.core.time.Span;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Every finding is said in whole sentences, and what it says is what it knows. */
class FindingWordsTest {

    private static final ZoneId ZONE = ZoneId.of("Europe/Lisbon");
    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");
    private static final Instant LATER = NOON.plus(Duration.ofHours(9));
    private static final Failing FAILING = new Failing(2, NOON, Optional.of("berths: no room"), List.of("r2", "r1"));

    private static Finding of(Detail detail, WayOut... tried) {
        return new Finding(
                "c", Severity.BEHIND, "d", List.of("d"), Optional.of(NOON), detail, List.of(tried), List.of());
    }

    private static Detail.MissingLogs logs(Gap.Cause cause, boolean several) {
        Gap gap = new Gap(
                "1",
                "main",
                100,
                200,
                Optional.of(NOON),
                Optional.of(LATER),
                Optional.empty(),
                cause,
                List.of(),
                List.of());
        return new Detail.MissingLogs(gap, several);
    }

    private static WayOut way(
            WayOut.Action action, Optional<Kind> kind, Optional<Span> stays, Optional<Instant> leaves) {
        return new WayOut(action, kind, "near", Duration.ofMinutes(20), 5e9, LATER, true, stays, leaves, "Quay near");
    }

    private static Check check(Check.Item item, CheckDetail detail) {
        return new Check(item, Check.State.NOT_READY, detail, Optional.of("runner on north-1"), Optional.of(NOON));
    }

    private static Comparison figures(double own, double median, double spread) {
        return new Comparison(own, median, spread, 12, Optional.of(DayOfWeek.MONDAY));
    }

    static Stream<Arguments> said() {
        List<String> one = List.of("full-1");
        List<String> two = List.of("full-1", "incr-1");
        return Stream.of(
                Arguments.of(
                        new Detail.NothingRestorable(Optional.of(FAILING), ZONE),
                        "nothing can be restored",
                        "Nothing is left to restore. 2 runs failed since 23 Nov 12:00: “berths: no room”."),
                Arguments.of(
                        new Detail.NothingRestorable(Optional.empty(), ZONE),
                        "nothing can be restored",
                        "Nothing is left to restore. No backup of it restores anything."),
                Arguments.of(
                        new Detail.NeverBackedUp(Optional.of("Sailings")),
                        "no backup was ever taken",
                        "Nothing can be restored, and no run was ever told of, though Sailings asks for backups."),
                Arguments.of(
                        new Detail.TooOld(
                                Duration.ofMinutes(610),
                                NOON,
                                Duration.ofHours(1),
                                Optional.of(logs(Gap.Cause.PURGED, false)),
                                Optional.empty(),
                                ZONE),
                        "10 h 10 min would be lost",
                        "The newest moment that can be restored is 23 Nov 12:00; a loss of 1 h is promised. Logs 100 to 200"
                                + " were purged: every log after them is useless until the next data backup."),
                Arguments.of(
                        new Detail.TooOld(
                                Duration.ofMinutes(610),
                                NOON,
                                Duration.ofHours(1),
                                Optional.empty(),
                                Optional.empty(),
                                ZONE),
                        "10 h 10 min would be lost",
                        "The newest moment that can be restored is 23 Nov 12:00; a loss of 1 h is promised. Nothing has"
                                + " landed since, and nothing was tried."),
                Arguments.of(
                        new Detail.NewestLogsUseless(logs(Gap.Cause.FAILED, true), ZONE),
                        "the newest logs are useless",
                        "Logs 100 to 200 of stream main are missing, their run failed: every log after them is useless"
                                + " until the next data backup."),
                Arguments.of(
                        new Detail.ReachShort(
                                Duration.ofDays(9), Optional.of(Duration.ofDays(14)), Optional.of(NOON), ZONE),
                        "reach is 9 d",
                        "To go back 14 days is promised; the oldest moment from which everything can be restored is 23 Nov"
                                + " 12:00."),
                Arguments.of(
                        new Detail.HoleInReach(
                                NOON,
                                LATER,
                                Optional.of(logs(Gap.Cause.NEVER_BACKED_UP, false)),
                                Optional.of(LATER),
                                ZONE),
                        "9 h inside reach cannot be restored",
                        "Between 23 Nov 12:00 and 23 Nov 21:00 no stretch of time can be restored. Logs 100 to 200 were"
                                + " never backed up."),
                Arguments.of(
                        new Detail.HazardMissed(
                                Hazard.SITE_LOSS,
                                Duration.ofHours(30),
                                Optional.of(NOON),
                                Optional.of(Duration.ofHours(26)),
                                ZONE),
                        "30 h would be lost with the site",
                        "What lies at another site restores 23 Nov 12:00 and nothing later; 26 h are promised."),
                Arguments.of(
                        new Detail.HazardMissed(
                                Hazard.SABOTAGE,
                                Duration.ofHours(30),
                                Optional.empty(),
                                Optional.of(Duration.ofHours(26)),
                                ZONE),
                        "30 h would be lost to sabotage",
                        "Nothing under a lock restores anything; 26 h are promised."),
                Arguments.of(
                        new Detail.NoPolicy(),
                        "no policy asks anything of it",
                        "Nothing is promised, nothing is due, and nothing of it may be purged."),
                Arguments.of(
                        new Detail.NoRule(3, 5e9, List.of("far", "vault")),
                        "no rule speaks of 5.0 GB",
                        "3 copies in far, vault fall under no retain rule, so they are kept for ever."),
                Arguments.of(
                        new Detail.CopiesLacking(2, NOON, ZONE),
                        "2 backups lack copies",
                        "The policy asks for more copies than they have had a day after they ended; the oldest is of 23 Nov"
                                + " 12:00."),
                Arguments.of(
                        new Detail.OffRoute(true, Kind.INCR, List.of("spare")),
                        "its newest incremental lies on an alternate",
                        "It lies in spare."),
                Arguments.of(
                        new Detail.Overwritten(Kind.FULL, "full-2", one, "/a/full", "near", Optional.of("run-2")),
                        "full full-2 was written over what lay there",
                        "full-1 and it claim the same place /a/full in near; run run-2 wrote it last. Only the last one can"
                                + " be there; what is said to be restorable from the others is not. None of them is"
                                + " purged."),
                Arguments.of(
                        new Detail.LastLockEnds("full-1", LATER, Optional.of(Duration.ofDays(8)), ZONE),
                        "the last lock over a data backup ends",
                        "full-1 is the last data backup that is locked. Once its lock ends on 23 Nov 21:00 nothing would be"
                                + " left after sabotage; a loss of 8 days is promised."),
                Arguments.of(
                        new Detail.HoldEnds("before the move", LATER, two, Optional.empty(), ZONE),
                        "a hold ends, and nothing else keeps 2 backups",
                        "The hold “before the move” ends on 23 Nov 21:00. From then on 2 backups may be purged, and what it"
                                + " restores is gone with them."),
                Arguments.of(
                        new Detail.SlotNotKept(Kind.INCR, true, NOON, LATER, 3, Optional.of(FAILING), ZONE),
                        "its incremental failed",
                        "It was tried in the window from 23 Nov 12:00 to 23 Nov 21:00, 3 times in a row now: “berths: no"
                                + " room”."),
                Arguments.of(
                        new Detail.SlotCost(
                                Kind.FULL,
                                Detail.Cost.SPILLED,
                                Duration.ofMinutes(70),
                                NOON,
                                LATER,
                                Duration.ofHours(3),
                                ZONE),
                        "its full ran 1 h 10 min outside open hours",
                        "It was due from 23 Nov 12:00 to 23 Nov 21:00 and took 3 h."),
                Arguments.of(
                        new Detail.LogsNotTaken(NOON, 4, ZONE),
                        "nobody takes its logs",
                        "Since 23 Nov 12:00 4 log backups were due and none was tried."),
                Arguments.of(
                        new Detail.BroughtNothing(Kind.FULL, NOON, ZONE),
                        "a run of its full says it went well and brought nothing",
                        "It ended on 23 Nov 12:00, and no backup of it is known, as there is of those before it. What it"
                                + " should have brought restores nothing."),
                Arguments.of(
                        new Detail.Unusual(true, Kind.INCR, figures(45e9, 5e9, 1e9)),
                        "its incremental is 45 GB",
                        "The 12 before it on a Monday were mostly 5.0 GB, give or take 1.0 GB."),
                Arguments.of(
                        new Detail.NotAsDemanded(Demand.ENCRYPTED, List.of(Kind.FULL, Kind.INCR), two, "Sailings"),
                        "its newest full and incremental are not encrypted",
                        "Sailings demands that every backup is encrypted; nobody said so of full-1 and incr-1."),
                Arguments.of(
                        new Detail.Unverified(Duration.ofDays(7), List.of(Kind.FULL), one),
                        "its newest full was not verified",
                        "Within 7 days of its end each data backup is to be verified; full-1 was not."),
                Arguments.of(
                        new Detail.ConfigBehind(LATER, Optional.of(NOON), Duration.ofHours(1), ZONE),
                        "its configuration is older than its newest data backup",
                        "The newest config backup is of 23 Nov 12:00, but one was to follow the data backup of 23 Nov 21:00"
                                + " within 1 h: a restore would not find the configuration that goes with it."),
                Arguments.of(
                        new Detail.ComponentsNowhere(List.of("tickets")),
                        "a component of it is in no usable backup",
                        "tickets is a component of it, and no backup that restores anything holds it: nothing would bring"
                                + " it back."),
                Arguments.of(
                        new Detail.DrillFailed(Optional.of("full-1"), "it would not start"),
                        "its last drill failed",
                        "The restore begun to prove that it works did not, from full-1: it would not start. What it read"
                                + " may not be what it is taken for."),
                Arguments.of(
                        new Detail.DrillDue(Optional.empty(), Duration.ofDays(90), true, ZONE),
                        "a drill is due",
                        "It was never proved that it can be restored; every 90 days are promised. A later one went well,"
                                + " but nothing was checked after it."),
                Arguments.of(
                        new Detail.Contradicts(new Contradiction.GoneBeforeLanded("full-1", "near", NOON)),
                        "records contradict one another",
                        "The copy of full-1 in near is gone since before it landed: it never counts."),
                Arguments.of(
                        new Detail.PolicyContradicts(
                                "Sailings", new PolicyFlaw("no-full", "schedules", new FlawDetail.NoFull(), List.of())),
                        "Sailings contradicts itself",
                        "No full is scheduled: sooner or later nothing can be restored."),
                Arguments.of(
                        new Detail.NotReady(
                                check(
                                        Check.Item.LOG_DISK,
                                        new CheckDetail.LogDiskRoom(
                                                32.4e6,
                                                OptionalDouble.of(3.6e6),
                                                Optional.of(Duration.ofHours(9)),
                                                false)),
                                Optional.of(LATER),
                                ZONE),
                        "its log disk is filling",
                        "Its logs are no longer taken away and pile up: the log disk is full on 23 Nov 21:00, and then the"
                                + " database stands still. (runner on north-1)"),
                Arguments.of(
                        new Detail.RunnerSilent(
                                "north-1", NOON, Optional.of(new FactFindings.Breaks("berths", LATER)), ZONE),
                        "the runner on north-1 is silent",
                        "It last asked what is due on 23 Nov 12:00. Until it does again nothing of these databases is"
                                + " started, and nobody knows what became of them since. berths is the first to break its"
                                + " promise, on 23 Nov 21:00."),
                Arguments.of(
                        new Detail.VersionNotReached("north-1", "Sailings", 3),
                        "version 3 of Sailings has not reached north-1",
                        "The runner there asks what is due, but has not said that it works by this version."),
                Arguments.of(
                        new Detail.FactsStale("ledger", Duration.ofHours(30)),
                        "the facts of ledger are 30 h old",
                        "Whatever happened since is not known here: what is said of these databases is what was true"
                                + " then."),
                Arguments.of(
                        new Detail.DeletedUnasked("Tide box", Optional.empty(), NOON, one),
                        "a file is gone from Tide box on no approved list",
                        "Somebody or something deleted full-1 between the day each landed and 2026-11-23T12:00:00Z. No list"
                                + " that was approved has it; cover is judged without."),
                Arguments.of(
                        new Detail.StockDiffers("Tide box", Difference.Manner.LOCK, two, "the lock is shorter"),
                        "2 copies are not locked as long as believed in Tide box",
                        "The stocktake found full-1 and 1 other: the lock is shorter."),
                Arguments.of(
                        new Detail.AgentBelied("Tide box", "tide-agent", NOON, LATER, one),
                        "Tide box still has what tide-agent said was gone",
                        "tide-agent told since 2026-11-23T12:00:00Z that full-1 was deleted or missing. The listing of"
                                + " 2026-11-23T21:00:00Z has the file."),
                Arguments.of(
                        new Detail.StoreFills("Tide box", 1e12, 9e11, 2e11, false),
                        "Tide box runs full",
                        "Tide box holds 900 GB of 1.0 TB. At the pace backups come, and if nothing is purged, there is no"
                                + " room for the next one from then on, and what is promised of those that are kept there"
                                + " breaks."),
                Arguments.of(
                        new Detail.RecordTurned("ledger", false, "backup full-1", "database", "berths", "fuel", 3),
                        "ledger tried to turn 3 records",
                        "ledger said that backup full-1, known with the database berths, has the database fuel, and the"
                                + " like of 2 more. What was known stands."),
                Arguments.of(
                        new Detail.OwnFactsNotCopied(
                                Optional.of(Duration.ofHours(30)), Duration.ofDays(1), "No room left", "/copies"),
                        "Firth's own facts were not copied",
                        "The newest copy is 30 h old; one is promised every 24 h. No room left."),
                Arguments.of(
                        new Detail.NotDelivered("night", 2, "Firth: behind", "connection refused"),
                        "2 messages to night did not arrive",
                        "The last: Firth: behind; connection refused."),
                Arguments.of(
                        new Detail.SheetsStale(Duration.ofMinutes(90), "", "/sheets"),
                        "the recovery sheets are stale",
                        "Facts changed 1 h 30 min ago, and no sheet was written since."));
    }

    @ParameterizedTest(name = "{1}")
    @MethodSource
    void said(Detail detail, String title, String text) {
        Said said = FindingWords.of(of(detail));
        assertEquals(title, said.title());
        assertEquals(text, said.text());
        assertTrue(said.action().matches("(?s)[A-Z].*\\."), said.action());
        assertFalse(said.title().endsWith("."), said.title());
    }

    @Test
    void thereAreWordsForEveryKindOfDetailAndAnExampleOfEach() {
        assertEquals(permitted(Detail.class), FindingWords.known());
        assertEquals(permitted(CheckDetail.class), ReadinessWords.known());
        assertEquals(permitted(FlawDetail.class), PolicyWords.known());
        assertEquals(
                permitted(Detail.class), said().map(a -> a.get()[0].getClass()).collect(Collectors.toSet()));
    }

    private static Set<Class<?>> permitted(Class<?> sealed) {
        return Set.of(sealed.getPermittedSubclasses());
    }

    @Test
    void whatFailsIsPutRightBeforeTheWayOutIsTaken() {
        Detail behind = new Detail.TooOld(
                Duration.ofHours(10), NOON, Duration.ofHours(1), Optional.empty(), Optional.of(FAILING), ZONE);
        WayOut catchUp = way(WayOut.Action.CATCH_UP, Optional.empty(), Optional.empty(), Optional.empty());
        assertEquals(
                "Put right what fails, then let the archiver write its backlog to Quay near: 20 min, 5.0 GB. No moment is"
                        + " lost then.",
                FindingWords.of(of(behind, catchUp)).action());
        assertEquals(
                "Nothing that was tried brings it back at once.",
                FindingWords.of(of(behind)).action());
    }

    @Test
    void aWayOutThatLeavesAHoleSaysUntilWhen() {
        Detail useless = new Detail.NewestLogsUseless(logs(Gap.Cause.SPOILED, false), ZONE);
        WayOut take = way(
                WayOut.Action.TAKE,
                Optional.of(Kind.INCR),
                Optional.of(new Span(NOON, LATER)),
                Optional.of(LATER.plus(Duration.ofDays(14))));
        assertEquals(
                "Take an incremental now to Quay near: 20 min, 5.0 GB. The hole 23 Nov 12:00 to 23 Nov 21:00 stays until it"
                        + " leaves reach on 7 Dec 21:00.",
                FindingWords.of(of(useless, take)).action());
        Detail nothing = new Detail.NothingRestorable(Optional.empty(), ZONE);
        WayOut full = way(WayOut.Action.TAKE, Optional.of(Kind.FULL), Optional.empty(), Optional.empty());
        assertTrue(
                FindingWords.of(of(nothing, full)).action().endsWith(". Nothing from before comes back."),
                FindingWords.of(of(nothing, full)).action());
    }

    @Test
    void ofManyThatShareACauseSomeAreNamed() {
        List<Finding> each = new ArrayList<>();
        for (int n = 0; n < 90; n++) {
            Finding one = of(new Detail.NoPolicy());
            each.add(new Finding(
                    one.code(),
                    one.severity(),
                    one.about(),
                    List.of("d" + n),
                    one.since(),
                    one.detail(),
                    List.of(),
                    List.of()));
        }
        Finding together = Findings.together(each, Map.of("d1", "harbour")).get(0);
        String text = FindingWords.of(together).text();
        assertTrue(text.contains(" The same befalls harbour, d2, d3, d4, d5, d6 and 83 more."), text);
    }
}
