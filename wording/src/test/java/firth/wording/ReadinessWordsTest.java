package firth.wording;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.findings.Check;
import firth.core.findings.Check.Item;
import firth.core.findings.CheckDetail;
import firth.core.findings.FlawDetail;
import firth.core.findings.Followers;
import firth.core.findings.PolicyFlaw;
import firth.core.model.Component;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Probe.LogMode;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.purge.Flaw;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Readiness, flaws of policies and of purges in words. */
class ReadinessWordsTest {

    private static final Component FREIGHT = new Component("freight", Optional.of("schema"), OptionalDouble.of(5e6));
    private static final Component GUESTS = new Component("guests", Optional.empty(), OptionalDouble.empty());

    private static final ZoneId ZONE = ZoneId.of("Europe/Lisbon");

    private static CheckDetail tried(CheckDetail.Attempted writing, String message, double free, double needed) {
        return new CheckDetail.StoreTried(
                "Quay near",
                writing,
                Optional.of(message).filter(m -> !m.isEmpty()),
                free > 0 ? OptionalDouble.of(free) : OptionalDouble.empty(),
                needed > 0 ? OptionalDouble.of(needed) : OptionalDouble.empty());
    }

    static Stream<Arguments> lines() {
        Instant downtime = Instant.parse("2026-03-16T00:00:00Z");
        return Stream.of(
                Arguments.of(Item.LOGS, new CheckDetail.Unsaid(), "It is not known whether logs are archived."),
                Arguments.of(
                        Item.NAMES, new CheckDetail.Unsaid(), "It is not known what it is called on the other sides."),
                Arguments.of(
                        Item.DESTINATION,
                        new CheckDetail.Untried("Quay near"),
                        "Nobody has tried to write to Quay near."),
                Arguments.of(
                        Item.LOGS,
                        new CheckDetail.Archiving(LogMode.ON, true, Optional.empty(), ZONE),
                        "Logs are archived."),
                Arguments.of(
                        Item.LOGS,
                        new CheckDetail.Archiving(LogMode.OFF, true, Optional.empty(), ZONE),
                        "Logs are not archived, and its policy asks for them: nothing between two data backups can be "
                                + "restored."),
                Arguments.of(
                        Item.LOGS,
                        new CheckDetail.Archiving(LogMode.OFF, false, Optional.empty(), ZONE),
                        "Logs are not archived, and no policy asks for them."),
                Arguments.of(
                        Item.LOGS,
                        new CheckDetail.Archiving(LogMode.WAITING_FOR_RESTART, true, Optional.of(downtime), ZONE),
                        "Archiving logs is switched on and waits for a restart: backups can begin now, logs after the "
                                + "downtime of 16 Mar 00:00 Europe/Lisbon."),
                Arguments.of(
                        Item.RIGHTS,
                        new CheckDetail.AccountRights(List.of("read"), List.of("superuser")),
                        "The backup account lacks read and has more rights than backups need: superuser."),
                Arguments.of(
                        Item.RIGHTS,
                        new CheckDetail.AccountRights(List.of(), List.of()),
                        "The backup account has the rights that backups need and no more."),
                Arguments.of(
                        Item.PROCESSES,
                        new CheckDetail.EngineProcesses(List.of("log writer"), List.of("archiver")),
                        "Not running: archiver."),
                Arguments.of(
                        Item.SCHEDULER,
                        new CheckDetail.HostScheduler(false),
                        "The scheduler is switched off: nothing starts, and nothing complains."),
                Arguments.of(
                        Item.VERSIONS,
                        new CheckDetail.ClientVersion("14.9", "15.6", false),
                        "Client 14.9 is older than server 15.6."),
                Arguments.of(Item.DESTINATION, new CheckDetail.NoRoute(), "No route says where its backups go."),
                Arguments.of(
                        Item.DESTINATION,
                        tried(CheckDetail.Attempted.REFUSED, "quota used up", 0, 0),
                        "Quay near refuses writes: quota used up."),
                Arguments.of(
                        Item.DESTINATION,
                        tried(CheckDetail.Attempted.NOT_REACHED, "", 0, 0),
                        "Quay near cannot be reached."),
                Arguments.of(
                        Item.DESTINATION,
                        tried(CheckDetail.Attempted.TOO_SMALL, "", 99e9, 100e9),
                        "Quay near has 99 GB free; the next full needs about 100 GB."),
                Arguments.of(
                        Item.DESTINATION,
                        tried(CheckDetail.Attempted.ONLY_REACHED, "", 1e12, 0),
                        "Quay near was reached; nobody has tried to write there."),
                Arguments.of(
                        Item.DESTINATION,
                        tried(CheckDetail.Attempted.WRITTEN, "", 1e12, 0),
                        "Quay near was written to; 1.0 TB free."),
                Arguments.of(
                        Item.APART,
                        new CheckDetail.SharesHost("Quay near", "h1"),
                        "Quay near runs on h1, the database's own host: both are lost together."),
                Arguments.of(
                        Item.APART,
                        new CheckDetail.SharesSite(),
                        "All of its route lies at its own site: both are lost together."),
                Arguments.of(
                        Item.LOG_DISK,
                        new CheckDetail.LogDiskRoom(
                                86.4e6, OptionalDouble.of(3.6e6), Optional.of(Duration.ofDays(1)), true),
                        "The log disk has 86 MB free and fills by 3.6 MB an hour: with nothing archived, it lasts 24 h."),
                Arguments.of(
                        Item.LOG_DISK,
                        new CheckDetail.LogDiskRoom(5e9, OptionalDouble.empty(), Optional.empty(), true),
                        "The log disk has 5.0 GB free and does not fill."),
                Arguments.of(Item.BACKUP, new CheckDetail.Succeeded(Kind.INCR, false), "An incremental succeeded."),
                Arguments.of(
                        Item.BACKUP, new CheckDetail.Succeeded(Kind.FULL, true), "A full succeeded, taken by hand."),
                Arguments.of(
                        Item.BACKUP,
                        new CheckDetail.NeverSucceeded(),
                        "No backup has ever succeeded: take one by hand before trusting a schedule."),
                Arguments.of(
                        Item.COMPONENTS,
                        new CheckDetail.ConsistsOf(List.of(FREIGHT, GUESTS), List.of(), List.of(), false),
                        "It consists of freight (5.0 MB), guests. None of that is stated, so a backup that went well is taken to hold it all."),
                Arguments.of(
                        Item.COMPONENTS,
                        new CheckDetail.ConsistsOf(List.of(FREIGHT), List.of(), List.of(), true),
                        "It consists of freight (5.0 MB), as stated."),
                Arguments.of(
                        Item.COMPONENTS,
                        new CheckDetail.ConsistsOf(
                                List.of(FREIGHT, GUESTS), List.of("guests"), List.of("berths"), true),
                        "It has guests, which nobody stated: no backup is looked at for it. It has no berths, though that was stated."),
                Arguments.of(
                        Item.NAMES,
                        new CheckDetail.CalledBy(
                                "berths",
                                List.of("engine", "scheduler"),
                                List.of(new CheckDetail.OtherName("scheduler", "Berths", true))),
                        "Enrolled as berths, but the scheduler calls it Berths, which hardly differs."),
                Arguments.of(
                        Item.NAMES,
                        new CheckDetail.CalledBy("berths", List.of("engine", "scheduler"), List.of()),
                        "Called berths by engine and scheduler."));
    }

    @ParameterizedTest(name = "{2}")
    @MethodSource
    void lines(Item item, CheckDetail detail, String words) {
        Check check = new Check(item, Check.State.UNKNOWN, detail, Optional.empty(), Optional.empty());
        assertEquals(words, ReadinessWords.of(check));
        Check old = new Check(
                item, Check.State.UNKNOWN, true, detail, Optional.empty(), Optional.empty(), Optional.empty());
        assertEquals("Too long ago to count: " + words, ReadinessWords.of(old));
    }

    static Stream<Arguments> flaws() {
        Duration day = Duration.ofDays(2);
        Duration hours = Duration.ofHours(4);
        return Stream.of(
                Arguments.of(
                        new FlawDetail.ObjectiveTooShort(
                                Hazard.SITE_LOSS,
                                hours,
                                Duration.ofHours(1),
                                Optional.of(new Followers.Of<>(hours, "d"))),
                        "The promise to lose at most 4 h with the site cannot be kept: logs come every 1 h, and those of "
                                + "d usually reach another site 4 h after that."),
                Arguments.of(
                        new FlawDetail.HazardUnserved(Hazard.SABOTAGE, hours, "d"),
                        "The promise to lose at most 4 h to sabotage cannot be kept: the backups of d go to no store "
                                + "that locks copies."),
                Arguments.of(
                        new FlawDetail.ObjectiveWithoutLogs(hours, day),
                        "The promise to lose at most 4 h to a mishap cannot be kept without logs: data backups lie up to "
                                + "2 days apart."),
                Arguments.of(
                        new FlawDetail.HangsFromNothing(Kind.DIFF, "nightly"),
                        "The differential nightly has no full to build on."),
                Arguments.of(
                        new FlawDetail.RetainsNothing(Role.NEAR, true),
                        "The rule for near stores asks for a reach of zero: it keeps nothing."),
                Arguments.of(
                        new FlawDetail.RungWithoutFull(RungUnit.MONTH, LocalDate.parse("2026-02-01")),
                        "No full falls in the month of 2026-02-01: it will have no rung."),
                Arguments.of(
                        new FlawDetail.AtMostTooShort(hours, day),
                        "Copies are to be gone after 4 h, but 2 days of them are needed."),
                Arguments.of(
                        new FlawDetail.LockTooLong(day, hours),
                        "Copies are locked for 2 days but retained for 4 h: the lock keeps what no rule needs."),
                Arguments.of(
                        new FlawDetail.CopiesImpossible(Followers.Provision.OFFSITE, 2, "d", 1),
                        "Copies in 2 stores at another site are asked for; those of d go to 1."),
                Arguments.of(
                        new FlawDetail.WindowShorterThanGrace("nightly", hours, day),
                        "The start window of nightly is 4 h, its grace 2 days: a run is on time only before the window "
                                + "opens."),
                Arguments.of(
                        new FlawDetail.LongerThanOpenHours(Kind.FULL, "d", day, hours),
                        "A full of d usually takes 2 days, the open hours last 4 h."),
                Arguments.of(new FlawDetail.NeverOccurs("leap"), "No slot of leap ever opens."),
                Arguments.of(
                        new FlawDetail.WindowLongerThanSpacing("nightly", day, hours),
                        "The start window of nightly is 2 days, and its slots open as close as 4 h apart: a run that is"
                                + " late for one is early for the next."),
                Arguments.of(
                        new FlawDetail.OpensWithAnother(Kind.FULL, "monthly", "nightly"),
                        "Whenever monthly opens, nightly does, too: one full serves both, so it changes nothing."),
                Arguments.of(
                        new FlawDetail.NothingRetained(),
                        "No rule says what is retained: nothing ever becomes obsolete, and the stores fill up."),
                Arguments.of(
                        new FlawDetail.RoleUnserved(Role.DEEP, List.of(Role.NEAR, Role.FAR)),
                        "A rule speaks of deep stores, and backups under this policy go to near and far stores alone."),
                Arguments.of(
                        new FlawDetail.ReachNotRetained(day, hours),
                        "The promise to go back 2 days cannot be kept: what is retained longest is retained for 4 h."),
                Arguments.of(
                        new FlawDetail.SabotageWithoutLock(hours, Optional.of("d")),
                        "The promise to lose at most 4 h to sabotage cannot be kept: no rule locks copies, and no store"
                                + " locks those of d by itself."),
                Arguments.of(
                        new FlawDetail.StoreTooSmall("Quay near", Role.NEAR, 2e12, 1e12),
                        "Quay near holds 1.0 TB, and what the rule for near stores retains of these databases takes 2.0"
                                + " TB there."));
    }

    @ParameterizedTest(name = "{1}")
    @MethodSource
    void flaws(FlawDetail detail, String words) {
        assertEquals(words, PolicyWords.of(new PolicyFlaw("code", "path", detail, List.of())));
    }

    @Test
    void aPurgeThatHarmsSaysWhat() {
        Instant from = Instant.parse("2026-03-16T00:00:00Z");
        Instant to = from.plus(Duration.ofHours(1));
        assertEquals(
                "full-1 in near is needed: reach, held",
                ProofWords.of(new Flaw.CopyNeeded("full-1", "near", List.of("reach", "held"))));
        assertEquals(
                "the newest moment that can be restored would be none instead of 2026-03-16T00:00:00Z",
                ProofWords.of(new Flaw.NewestMoves(Optional.of(from), Optional.empty())));
        assertEquals(
                "from 2026-03-16T00:00:00Z to 2026-03-16T01:00:00Z not every moment could be restored any more after the"
                        + " loss of the site, though so long a reach is promised",
                ProofWords.of(new Flaw.PromisedReachTorn(from, to, Hazard.SITE_LOSS)));
        assertEquals(
                "from 2026-03-16T00:00:00Z to 2026-03-16T01:00:00Z, which copies in role far restore, not every moment"
                        + " could be restored any more",
                ProofWords.of(new Flaw.RoleReachTorn(from, to, Role.FAR)));
        assertEquals(
                "full-1, which is needed, would restore nothing any more",
                ProofWords.of(new Flaw.BackupUseless("full-1")));
        assertEquals(ProofWords.NOTHING_TO_RESTORE, ProofWords.of(new Flaw.NothingToRestore()));
    }
}
