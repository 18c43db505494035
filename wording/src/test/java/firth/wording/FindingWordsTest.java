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
import firth.core.findings.FlawDetail;
import firth.core.findings.PolicyFlaw;
import firth.core.findings.Together;
import firth.core.findings.WayOut;
import firth.core.forecast.Comparison;
import firth.core.model.Demands.Demand;
import firth.core.model.Evidence;
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
        return new Detail.MissingLogs(gap, several, Optional.empty());
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
                        "There is nothing left to restore from. 2 runs failed since 23 Nov 12:00: “berths: no room”."),
                Arguments.of(
                        new Detail.NothingRestorable(Optional.empty(), ZONE),
                        "nothing can be restored",
                        "There is nothing left to restore from. None of its backups is usable."),
                Arguments.of(
                        new Detail.NeverBackedUp(Optional.of("Sailings")),
                        "no backup was ever taken",
                        "Nothing can be restored, and no run has ever been reported, though Sailings asks for backups."),
                Arguments.of(
                        new Detail.TooOld(
                                Duration.ofMinutes(610),
                                NOON,
                                Duration.ofHours(1),
                                Optional.of(logs(Gap.Cause.PURGED, false)),
                                Optional.empty(),
                                ZONE),
                        "10 h 10 min would be lost",
                        "The newest moment that can be restored is 23 Nov 12:00; the promise is to lose at most 1 h. "
                                + "Logs 100 to 200 were purged: no log after them can be used until the next data backup."),
                Arguments.of(
                        new Detail.TooOld(
                                Duration.ofMinutes(610),
                                NOON,
                                Duration.ofHours(1),
                                Optional.empty(),
                                Optional.empty(),
                                ZONE),
                        "10 h 10 min would be lost",
                        "The newest moment that can be restored is 23 Nov 12:00; the promise is to lose at most 1 h. "
                                + "Nothing has landed since, and no run was started."),
                Arguments.of(
                        new Detail.NewestLogsUseless(logs(Gap.Cause.FAILED, true), ZONE),
                        "the newest logs cannot be used",
                        "Logs 100 to 200 of stream main are missing, their run failed: no log after them can be used "
                                + "until the next data backup."),
                Arguments.of(
                        new Detail.ReachShort(
                                Duration.ofDays(9), Optional.of(Duration.ofDays(14)), Optional.of(NOON), ZONE),
                        "reach is 9 d",
                        "The promise is to go back 14 days; every moment can be restored only from 23 Nov 12:00 on."),
                Arguments.of(
                        new Detail.HoleInReach(
                                NOON,
                                LATER,
                                Optional.of(logs(Gap.Cause.NEVER_BACKED_UP, false)),
                                Optional.of(LATER),
                                ZONE),
                        "9 h inside reach cannot be restored",
                        "Between 23 Nov 12:00 and 23 Nov 21:00 no continuous stretch of time can be restored. Logs 100 "
                                + "to 200 were never backed up."),
                Arguments.of(
                        new Detail.HazardMissed(
                                Hazard.SITE_LOSS,
                                Duration.ofHours(30),
                                Optional.of(NOON),
                                Optional.of(Duration.ofHours(26)),
                                ZONE),
                        "30 h would be lost with the site",
                        "The copies at another site restore up to 23 Nov 12:00 and nothing later; the promise is to lose "
                                + "at most 26 h."),
                Arguments.of(
                        new Detail.HazardMissed(
                                Hazard.SABOTAGE,
                                Duration.ofHours(30),
                                Optional.empty(),
                                Optional.of(Duration.ofHours(26)),
                                ZONE),
                        "30 h would be lost to sabotage",
                        "No copy under a lock restores anything; the promise is to lose at most 26 h."),
                Arguments.of(
                        new Detail.NoPolicy(),
                        "it follows no policy",
                        "Nothing is promised, nothing is due, and none of its backups may be purged."),
                Arguments.of(
                        new Detail.NoRule(3, 5e9, List.of("far", "vault")),
                        "no retain rule covers 5.0 GB",
                        "3 copies in far, vault fall under no retain rule, so they are kept forever."),
                Arguments.of(
                        new Detail.CopiesLacking(2, NOON, ZONE),
                        "2 backups lack copies",
                        "A day after they ended they still have fewer copies than the policy asks for; the oldest is "
                                + "from 23 Nov 12:00."),
                Arguments.of(
                        new Detail.OffRoute(true, Kind.INCR, List.of("spare")),
                        "its newest incremental lies in an alternate store",
                        "It lies in spare."),
                Arguments.of(
                        new Detail.Overwritten(Kind.FULL, "full-2", one, "/a/full", "near", Optional.of("run-2")),
                        "full full-2 overwrote another backup",
                        "full-1 and full-2 claim the same path /a/full in near; run run-2 wrote it last. Only the last "
                                + "can be there: what seems restorable from the others is not. None of them is purged."),
                Arguments.of(
                        new Detail.LastLockEnds("full-1", LATER, Optional.of(Duration.ofDays(8)), ZONE),
                        "the last lock over a data backup ends",
                        "full-1 is the last data backup that is locked. Once its lock ends on 23 Nov 21:00 nothing would "
                                + "be left after sabotage; the promise is to lose at most 8 days."),
                Arguments.of(
                        new Detail.HoldEnds("before the move", LATER, two, Optional.empty(), ZONE),
                        "a hold ends, and nothing else keeps 2 backups",
                        "The hold “before the move” ends on 23 Nov 21:00. From then on 2 backups may be purged, and what "
                                + "it restores is gone with them."),
                Arguments.of(
                        new Detail.SlotNotKept(Kind.INCR, true, NOON, LATER, 3, Optional.of(FAILING), ZONE),
                        "its incremental failed",
                        "Every attempt failed in the window from 23 Nov 12:00 to 23 Nov 21:00, 3 times in a row: "
                                + "“berths: no room”."),
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
                        "its logs are not being backed up",
                        "4 log backups have been due since 23 Nov 12:00, and none was started."),
                Arguments.of(
                        new Detail.BroughtNothing(Kind.FULL, NOON, ZONE),
                        "a run of its full reported success but left no backup",
                        "It ended on 23 Nov 12:00, and no backup from it is known, although earlier runs left theirs. "
                                + "Nothing can be restored from it."),
                Arguments.of(
                        new Detail.Unusual(true, Kind.INCR, figures(45e9, 5e9, 1e9)),
                        "its incremental is 45 GB",
                        "The 12 before it on a Monday were mostly 5.0 GB, give or take 1.0 GB."),
                Arguments.of(
                        new Detail.NotAsDemanded(Demand.ENCRYPTED, List.of(Kind.FULL, Kind.INCR), two, "Sailings"),
                        "its newest full and incremental are not encrypted",
                        "Sailings demands that every backup be encrypted; nothing says that full-1 and incr-1 are."),
                Arguments.of(
                        new Detail.Unverified(Duration.ofDays(7), List.of(Kind.FULL), one),
                        "its newest full was not verified",
                        "Each data backup is to be verified within 7 days of its end; full-1 was not."),
                Arguments.of(
                        new Detail.NotFollowed(
                                Kind.FULL, LATER, Kind.CONFIG, Optional.of(NOON), Duration.ofHours(1), ZONE),
                        "its configuration is older than its newest full",
                        "The newest config backup is from 23 Nov 12:00, but one should have followed the full of "
                                + "23 Nov 21:00 within 1 h: a restore would lack the configuration that goes with it."),
                Arguments.of(
                        new Detail.NotFollowed(
                                Kind.FULL, LATER, Kind.LOG, Optional.of(NOON), Duration.ofHours(1), ZONE),
                        "no log backup followed its newest full",
                        "The newest log backup reaches up to 23 Nov 12:00, but one should have followed the full of "
                                + "23 Nov 21:00 within 1 h."),
                Arguments.of(
                        new Detail.OutOfOrder(Kind.DIFF, LATER, Kind.FULL, NOON, ZONE),
                        "its differential did not wait for its full",
                        "The differential of 23 Nov 21:00 began before the full due from 23 Nov 12:00 was there, which "
                                + "goes first by its policy."),
                Arguments.of(
                        new Detail.TooFast(Kind.FULL, NOON, LATER, 8e7, 5e7, Optional.of("n1"), ZONE),
                        "its newest full ran faster than it may",
                        "From 23 Nov 12:00 to 23 Nov 21:00 it wrote 80 MB a second to n1, and at most 50 MB a second "
                                + "are allowed."),
                Arguments.of(
                        new Detail.SourceLogsGone(2, false, Optional.of(NOON), LATER, ZONE),
                        "logs were deleted at their source before they had enough copies",
                        "On 23 Nov 21:00 the source had deleted logs that are in fewer than 2 stores, from those of "
                                + "23 Nov 12:00 on."),
                Arguments.of(
                        new Detail.SourceLogsGone(1, true, Optional.empty(), LATER, ZONE),
                        "logs were deleted at their source before they were taken",
                        "On 23 Nov 21:00 the source had deleted logs of which no backup is known: a gap that only the "
                                + "next data backup ends."),
                Arguments.of(
                        new Detail.ComponentsNowhere(List.of("tickets")),
                        "one of its components is in no usable backup",
                        "No usable backup contains its component tickets: nothing would bring it back."),
                Arguments.of(
                        new Detail.DrillFailed(Optional.of("full-1"), "it would not start"),
                        "its last drill failed",
                        "The test restore from full-1 failed: it would not start. What it read may be damaged."),
                Arguments.of(
                        new Detail.DrillDue(Optional.empty(), Duration.ofDays(90), true, ZONE),
                        "a drill is due",
                        "No restore of it was ever proved to work; a proof every 90 days is promised. A later drill went "
                                + "well, but nothing was checked after it."),
                Arguments.of(
                        new Detail.Contradicts(
                                new Contradiction.GoneBeforeLanded("full-1", "near", NOON), Optional.empty()),
                        "records contradict one another",
                        "The copy of full-1 in near was deleted before it landed: it never counts."),
                Arguments.of(
                        new Detail.Contradicts(
                                new Contradiction.ForkBeyondParent("2", "1", "main", 0x1_3000060L, 0x1_2000000L, NOON),
                                Optional.of("postgresql")),
                        "records contradict one another",
                        "Lineage 2 leaves lineage 1 at 0/13000060 in stream main, but nothing known of that goes beyond "
                                + "0/12000000: no backup can carry over into it."),
                Arguments.of(
                        new Detail.Contradicts(
                                new Contradiction.LogsOfTheSamePositions(
                                        "log-1", "log-2", 3L << 32 | 4, 4L << 32 | 4, NOON),
                                Optional.of("mariadb")),
                        "records contradict one another",
                        "The logs log-1 and log-2 hold the same positions .000003:4 to .000004:4 of one lineage, but of "
                                + "different times: they are of different histories."),
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
                        "Its logs are no longer archived and pile up: the log disk is full on 23 Nov 21:00, and then the "
                                + "database stops. (runner on north-1)"),
                Arguments.of(
                        new Detail.RunnerSilent(
                                "north-1", NOON, Optional.of(new FactFindings.Breaks("berths", LATER)), ZONE),
                        "the runner on north-1 is silent",
                        "It last asked for work on 23 Nov 12:00. Until it asks again nothing is started for these "
                                + "databases, and what has happened to them since is not known. berths is the first to break its "
                                + "promise, on 23 Nov 21:00."),
                Arguments.of(
                        new Detail.VersionNotReached("north-1", "Sailings", 3),
                        "version 3 of Sailings has not reached north-1",
                        "The runner there asks for work but has not confirmed that it works by this version."),
                Arguments.of(
                        new Detail.AnotherServer("north-1", "746600", "743311"),
                        "the server on north-1 is another than was enrolled",
                        "It calls itself 746600; enrolled was 743311. What is backed up there now does not go on from the "
                                + "backups there are: logs of the one cannot be applied to backups of the other."),
                Arguments.of(
                        new Detail.AnotherLineage("north-1", "2", List.of("1")),
                        "the server on north-1 writes to lineage 2, which nobody stated",
                        "Known here is lineage 1 alone. Somebody restored it in its place, or a standby took over. Logs and "
                                + "backups of the new lineage restore nothing here until it is known where it left the old one."),
                Arguments.of(
                        new Detail.FactsStale("ledger", Duration.ofHours(30)),
                        "the facts of ledger are 30 h old",
                        "What has happened since is not known here: everything shown of these databases is as of then."),
                Arguments.of(
                        new Detail.DeletedUnasked("Tide box", Optional.empty(), NOON, one),
                        "a file was deleted from Tide box without an approved list",
                        "Someone or something deleted full-1 between the day it landed and 23 Nov 12:00 UTC. No approved "
                                + "list has it; cover is computed without it."),
                Arguments.of(
                        new Detail.StockDiffers("Tide box", Difference.Manner.LOCK, two, "the lock is shorter"),
                        "2 copies are locked for less time than recorded in Tide box",
                        "The stocktake found full-1 and 1 other: the lock is shorter."),
                Arguments.of(
                        new Detail.AgentBelied("Tide box", "tide-agent", NOON, LATER, one),
                        "Tide box still has what tide-agent said was gone",
                        "tide-agent has reported since 23 Nov 12:00 UTC that full-1 was deleted or missing. The listing "
                                + "of 23 Nov 21:00 UTC has the file."),
                Arguments.of(
                        new Detail.StoreFills("Tide box", 1e12, 9e11, 2e11, false),
                        "Tide box runs full",
                        "Tide box contains 900 GB of 1.0 TB. At the present pace, and if nothing is purged, there will then "
                                + "be no room for the next backup, and promises that rest on this store will break."),
                Arguments.of(
                        new Detail.LittleKnown(Evidence.CHECKED, Evidence.TOLD, List.of(Kind.FULL), one, "Sailings"),
                        "its newest full is only known by word alone",
                        "Sailings demands that every backup be checked by checksum or better. Nothing has shown that of full-1."),
                Arguments.of(
                        new Detail.StoreRefuses("Tide box", "Read-only file system"),
                        "Tide box cannot be written to",
                        "Its agent tried and failed: Read-only file system. The next backups that should land there will "
                                + "not, and ages will grow."),
                Arguments.of(
                        new Detail.RecordTurned("ledger", false, "backup full-1", "database", "berths", "fuel", 3),
                        "ledger tried to turn 3 records",
                        "ledger said that backup full-1, whose database is berths, has the database fuel, and much the "
                                + "same of 2 more. What was known stands."),
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
                "Fix what fails, then let the archiver clear its backlog to Quay near: 20 min, 5.0 GB. No moment is"
                        + " lost then.",
                FindingWords.of(of(behind, catchUp)).action());
        assertEquals(
                "Nothing that was tried brings cover back at once.",
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
                "Take an incremental now to Quay near: 20 min, 5.0 GB. The hole from 23 Nov 12:00 to 23 Nov 21:00 stays until it"
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
        Finding together =
                new Together().of(Map.of(), each, Map.of("d1", "harbour")).get(0);
        String text = FindingWords.of(together).text();
        assertTrue(text.contains(" The same goes for harbour, d2, d3, d4, d5, d6 and 83 more."), text);
    }
}
