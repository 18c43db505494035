package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertInstanceOf;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Check.Item;
import firth.core.findings.Check.State;
import firth.core.forecast.Regular;
import firth.core.model.BackupStore;
import firth.core.model.Component;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.Probe;
import firth.core.model.Probe.Destination;
import firth.core.model.Probe.LogDisk;
import firth.core.model.Probe.LogMode;
import firth.core.model.Probe.Rights;
import firth.core.model.Role;
import firth.core.model.Route;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** Each fact of a database's readiness, and when it counts. */
class ReadinessTest {

    private static final Instant NOW = Regular.day(40);
    private static final PolicyVersion LOGS_ASKED = Regular.policy(Objective.NONE, List.of());
    private static final PolicyVersion NO_LOGS = LOGS_ASKED.withSchedules(
            LOGS_ASKED.schedules().stream().filter(s -> s.kind() != Kind.LOG).toList());
    private static final Readiness.Backed BACKED = new Readiness.Backed(
            Optional.of(new Readiness.TakenBackup(Kind.FULL, NOW.minus(Duration.ofDays(3)), true)),
            OptionalDouble.of(100e9));

    /** What a probe may say; everything as it should be unless a test changes it. */
    private static final class Found {
        Instant at = NOW.minusSeconds(600);
        Optional<LogMode> logs = Optional.of(LogMode.ON);
        Optional<Rights> rights = Optional.of(new Rights(Set.of("read"), Set.of("read")));
        Map<String, Boolean> processes = Map.of("archiver", true);
        Optional<Boolean> scheduler = Optional.of(true);
        Optional<String> client = Optional.of("15.4");
        Optional<String> server = Optional.of("15.6");
        Destination near = destination("near", Optional.of(true), 1e12, "store-1");
        Optional<LogDisk> logDisk = Optional.of(new LogDisk(1e11, OptionalDouble.of(1e5)));
        Map<String, String> names = Map.of("engine", "berths", "scheduler", "berths");
        List<Component> components = List.of();

        Probe probe() {
            return new Probe(
                    "one",
                    "d",
                    "runner on h1",
                    at,
                    logs,
                    rights,
                    processes,
                    scheduler,
                    client,
                    server,
                    List.of(near, destination("far", Optional.of(true), 1e12, "store-2")),
                    logDisk,
                    names,
                    components,
                    Map.of());
        }

        Check check(Item item) {
            return of(all(LOGS_ASKED, probe()), item);
        }
    }

    @Test
    void whatItConsistsOfIsLookedAtWhereSomebodySaidIt() {
        assertTrue(all(LOGS_ASKED, new Found().probe()).stream().noneMatch(c -> c.item() == Item.COMPONENTS));
        Found found = new Found();
        Component freight = new Component("freight", Optional.of("schema"), OptionalDouble.of(5e6));
        Component guests = new Component("guests", Optional.empty(), OptionalDouble.empty());
        found.components = List.of(freight, guests);
        Check unstated = found.check(Item.COMPONENTS);
        assertEquals(State.READY, unstated.state());
        assertEquals(new CheckDetail.ConsistsOf(found.components, List.of(), List.of(), false), unstated.detail());

        Component gone = new Component("berths", Optional.empty(), OptionalDouble.empty());
        Check other = of(
                Readiness.of(stating(freight, gone), fleet(LOGS_ASKED, "south"), List.of(found.probe()), BACKED, NOW),
                Item.COMPONENTS);
        assertEquals(State.NOT_READY, other.state());
        assertEquals(
                new CheckDetail.ConsistsOf(found.components, List.of("guests"), List.of("berths"), true),
                other.detail());
        assertEquals(
                State.READY,
                of(
                                Readiness.of(
                                        stating(guests, freight),
                                        fleet(LOGS_ASKED, "south"),
                                        List.of(found.probe()),
                                        BACKED,
                                        NOW),
                                Item.COMPONENTS)
                        .state());
    }

    private static Database stating(Component... components) {
        Database d = database("h1");
        Particulars p = d.particulars();
        return Regular.like(
                d,
                d.id(),
                new Particulars(
                        p.identity(),
                        p.host(),
                        p.system(),
                        p.owner(),
                        p.labels(),
                        p.standbyOf(),
                        p.route(),
                        p.retired(),
                        List.of(components)));
    }

    private static Destination destination(String store, Optional<Boolean> written, double free, String host) {
        return new Destination(
                store, Optional.of(true), written, Optional.empty(), OptionalDouble.of(free), Optional.of(host));
    }

    private static Database database(String host, Database.Stop... stops) {
        Database d = new Regular(0).database;
        return Regular.like(
                d,
                d.id(),
                new Particulars(
                        Optional.empty(),
                        Optional.of(host),
                        Optional.empty(),
                        Optional.empty(),
                        Map.of(),
                        Optional.empty(),
                        Optional.of("r"),
                        Optional.empty(),
                        List.of()),
                stops);
    }

    private static Fleet fleet(PolicyVersion version, String farSite) {
        return new Fleet(
                List.of(store("near", "north"), store("far", farSite)),
                List.of(version),
                List.of(new Route("r", "R", List.of("near"), List.of("near"), List.of("far"))));
    }

    private static BackupStore store(String id, String site) {
        return new BackupStore(
                id,
                id.equals("near") ? "Quay near" : "Harbour far",
                Optional.of(site),
                Optional.empty(),
                Optional.of(Role.NEAR),
                OptionalDouble.empty(),
                OptionalDouble.empty());
    }

    private static List<Check> all(PolicyVersion version, Probe... probes) {
        return Readiness.of(database("h1"), fleet(version, "south"), List.of(probes), BACKED, NOW);
    }

    private static Check of(List<Check> checks, Item item) {
        return checks.stream().filter(c -> c.item() == item).findFirst().orElseThrow();
    }

    private static <D extends CheckDetail> D says(Check check, State state, Class<D> detail) {
        assertEquals(state, check.state(), check.toString());
        return assertInstanceOf(detail, check.detail());
    }

    private static void tried(Check check, State state, CheckDetail.Attempted writing) {
        assertEquals(writing, says(check, state, CheckDetail.StoreTried.class).writing());
    }

    @Test
    void everythingAsItShouldBeIsReadyWithSourceAndAge() {
        List<Check> checks = all(LOGS_ASKED, new Found().probe());
        assertEquals(State.READY, Readiness.worst(checks), checks.toString());
        assertEquals(11, checks.size());
        Check logs = of(checks, Item.LOGS);
        assertEquals(Optional.of("runner on h1"), logs.source());
        assertEquals(Optional.of(NOW.minusSeconds(600)), logs.at());
    }

    @Test
    void whatNobodyLookedAtIsUnknownAndWhatRecordsSayIsNot() {
        List<Check> checks = all(LOGS_ASKED);
        assertEquals(State.UNKNOWN, Readiness.worst(checks));
        assertEquals(State.READY, of(checks, Item.BACKUP).state());
        checks.stream()
                .filter(c -> c.item() != Item.BACKUP)
                .forEach(c -> assertEquals(State.UNKNOWN, c.state(), c.toString()));
    }

    @Test
    void aFactHoldsForADayToTheSecond() {
        Found found = new Found();
        found.scheduler = Optional.of(false);
        found.at = NOW.minus(Duration.ofDays(1));
        assertFalse(says(found.check(Item.SCHEDULER), State.NOT_READY, CheckDetail.HostScheduler.class)
                .on());
        found.at = found.at.minusMillis(1);
        assertEquals(State.UNKNOWN, found.check(Item.SCHEDULER).state());
        assertTrue(found.check(Item.SCHEDULER).outdated());
        assertEquals(Optional.of(found.at), found.check(Item.SCHEDULER).at());
    }

    @Test
    void theNewestProbeThatSpeaksOfAThingCountsForIt() {
        Found old = new Found();
        old.at = NOW.minusSeconds(3_600);
        old.scheduler = Optional.of(false);
        old.logs = Optional.of(LogMode.OFF);
        Found silentOnLogs = new Found();
        silentOnLogs.logs = Optional.empty();
        List<Check> checks = all(LOGS_ASKED, old.probe(), silentOnLogs.probe());
        assertEquals(State.READY, of(checks, Item.SCHEDULER).state());
        assertEquals(State.NOT_READY, of(checks, Item.LOGS).state());
    }

    @Test
    void aClockFarAheadIsNotBelieved() {
        Found found = new Found();
        found.at = NOW.plus(Duration.ofMinutes(5));
        assertEquals(State.READY, found.check(Item.LOGS).state());
        found.at = found.at.plusMillis(1);
        assertEquals(State.UNKNOWN, found.check(Item.LOGS).state());
    }

    @Test
    void logsOffMatterWhereTheyAreAskedFor() {
        Found found = new Found();
        found.logs = Optional.of(LogMode.OFF);
        assertTrue(says(found.check(Item.LOGS), State.NOT_READY, CheckDetail.Archiving.class)
                .asked());
        assertEquals(State.READY, of(all(NO_LOGS, found.probe()), Item.LOGS).state());
        assertEquals(
                State.READY,
                of(all(LOGS_ASKED.with(false), found.probe()), Item.LOGS).state());
    }

    @Test
    void logsThatWaitForARestartAreAStateOfTheirOwn() {
        Found found = new Found();
        found.logs = Optional.of(LogMode.WAITING_FOR_RESTART);
        assertEquals(
                Optional.empty(),
                says(found.check(Item.LOGS), State.WAITING, CheckDetail.Archiving.class)
                        .downtime());
        assertEquals(State.WAITING, Readiness.worst(all(LOGS_ASKED, found.probe())));
        Database.Stop past = new Database.Stop(NOW.minusSeconds(60), Optional.of(NOW));
        Database.Stop later = new Database.Stop(NOW.plus(Duration.ofDays(3)), Optional.empty());
        Database.Stop next = new Database.Stop(NOW.plus(Duration.ofDays(2)), Optional.empty());
        List<Check> checks = Readiness.of(
                database("h1", past, later, next), fleet(LOGS_ASKED, "south"), List.of(found.probe()), BACKED, NOW);
        assertEquals(
                Optional.of(next.from()),
                says(of(checks, Item.LOGS), State.WAITING, CheckDetail.Archiving.class)
                        .downtime());
    }

    @ParameterizedTest
    @CsvSource({
        "read, read, READY, '', ''",
        "read;write, read, NOT_READY, '', write",
        "read, read;log, NOT_READY, log, ''",
        "superuser, read, NOT_READY, read, superuser",
    })
    void rightsAreToBeSufficientAndNoMore(String held, String needed, State state, String lacking, String beyond) {
        Found found = new Found();
        found.rights = Optional.of(new Rights(Set.of(held.split(";")), Set.of(needed.split(";"))));
        CheckDetail.AccountRights rights = says(found.check(Item.RIGHTS), state, CheckDetail.AccountRights.class);
        assertEquals(lacking, String.join(";", rights.lacking()));
        assertEquals(beyond, String.join(";", rights.beyond()));
    }

    @ParameterizedTest
    @CsvSource({
        "15.4, 15.6, READY",
        "16.0, 15.6, READY",
        "14.9, 15.6, NOT_READY",
        "v9, 10, NOT_READY",
        "dev, 10, NOT_READY",
        "99999999999999999999, 10, NOT_READY",
    })
    void aClientOlderThanTheServerDoesNotFit(String client, String server, State state) {
        Found found = new Found();
        found.client = Optional.of(client);
        found.server = Optional.of(server);
        assertEquals(state, found.check(Item.VERSIONS).state());
    }

    @Test
    void aProcessThatIsDownIsNamed() {
        Found found = new Found();
        found.processes = Map.of("archiver", false, "log writer", true);
        CheckDetail.EngineProcesses processes =
                says(found.check(Item.PROCESSES), State.NOT_READY, CheckDetail.EngineProcesses.class);
        assertEquals(List.of("archiver"), processes.down());
        assertEquals(List.of("log writer"), processes.up());
    }

    @Test
    void aDestinationIsReachedWrittenToAndHoldsTheNextFull() {
        Found found = new Found();
        tried(found.check(Item.DESTINATION), State.READY, CheckDetail.Attempted.WRITTEN);
        found.near = destination("near", Optional.of(true), 99e9, "store-1");
        tried(found.check(Item.DESTINATION), State.NOT_READY, CheckDetail.Attempted.TOO_SMALL);
        found.near = destination("near", Optional.of(true), 100e9, "store-1");
        assertEquals(State.READY, found.check(Item.DESTINATION).state());
        found.near = destination("near", Optional.empty(), 1e12, "store-1");
        tried(found.check(Item.DESTINATION), State.UNKNOWN, CheckDetail.Attempted.ONLY_REACHED);
        found.near = new Destination(
                "near",
                Optional.of(true),
                Optional.of(false),
                Optional.of("quota used up"),
                OptionalDouble.empty(),
                Optional.empty());
        tried(found.check(Item.DESTINATION), State.NOT_READY, CheckDetail.Attempted.REFUSED);
        found.near = new Destination(
                "near",
                Optional.of(false),
                Optional.of(false),
                Optional.empty(),
                OptionalDouble.empty(),
                Optional.empty());
        tried(found.check(Item.DESTINATION), State.NOT_READY, CheckDetail.Attempted.NOT_REACHED);
    }

    @Test
    void withoutAFullYetTheSizeOfTheDatabaseMustFit() {
        Found found = new Found();
        found.near = destination("near", Optional.of(true), 150e9, "store-1");
        List<Check> checks = Readiness.of(
                database("h1"), fleet(LOGS_ASKED, "south"), List.of(found.probe()), Readiness.Backed.NEVER, NOW);
        assertEquals(
                200e9,
                says(of(checks, Item.DESTINATION), State.NOT_READY, CheckDetail.StoreTried.class)
                        .needed()
                        .orElseThrow());
        says(of(checks, Item.BACKUP), State.NOT_READY, CheckDetail.NeverSucceeded.class);
    }

    @Test
    void aStoreOnTheOwnHostOrAllAtTheOwnSiteIsNotApart() {
        Found found = new Found();
        assertEquals(State.READY, found.check(Item.APART).state());
        found.near = destination("near", Optional.of(true), 1e12, "h1");
        assertEquals(
                new CheckDetail.SharesHost("Quay near", "h1"),
                found.check(Item.APART).detail());
        List<Check> sameSite =
                Readiness.of(database("h1"), fleet(LOGS_ASKED, "north"), List.of(new Found().probe()), BACKED, NOW);
        says(of(sameSite, Item.APART), State.NOT_READY, CheckDetail.SharesSite.class);
    }

    @Test
    void aLogDiskMustLastADay() {
        Found found = new Found();
        found.logDisk = Optional.of(new LogDisk(86_400e3, OptionalDouble.of(1e3)));
        CheckDetail.LogDiskRoom room = says(found.check(Item.LOG_DISK), State.READY, CheckDetail.LogDiskRoom.class);
        assertEquals(3.6e6, room.perHour().orElseThrow());
        assertEquals(Optional.of(Duration.ofDays(1)), room.left());
        found.logDisk = Optional.of(new LogDisk(86_399e3, OptionalDouble.of(1e3)));
        assertFalse(says(found.check(Item.LOG_DISK), State.NOT_READY, CheckDetail.LogDiskRoom.class)
                .enough());
        found.logDisk = Optional.of(new LogDisk(5e9, OptionalDouble.empty()));
        assertTrue(says(found.check(Item.LOG_DISK), State.READY, CheckDetail.LogDiskRoom.class)
                .perHour()
                .isEmpty());
        found.logDisk = Optional.empty();
        assertTrue(all(NO_LOGS, found.probe()).stream().noneMatch(c -> c.item() == Item.LOG_DISK));
        assertEquals(State.UNKNOWN, found.check(Item.LOG_DISK).state());
    }

    @Test
    void aNameThatHardlyDiffersIsPointedOut() {
        Found found = new Found();
        found.names = Map.of("engine", "berths", "scheduler", "Berths");
        assertEquals(
                List.of(new CheckDetail.OtherName("scheduler", "Berths", true)),
                says(found.check(Item.NAMES), State.NOT_READY, CheckDetail.CalledBy.class)
                        .others());
        found.names = Map.of("engine", "fuel");
        assertEquals(
                List.of(new CheckDetail.OtherName("engine", "fuel", false)),
                says(found.check(Item.NAMES), State.NOT_READY, CheckDetail.CalledBy.class)
                        .others());
    }

    @Test
    void withoutARouteItGoesNowhere() {
        List<Check> checks = Readiness.of(new Regular(0).database, Regular.fleet(), List.of(), BACKED, NOW);
        says(of(checks, Item.DESTINATION), State.NOT_READY, CheckDetail.NoRoute.class);
        assertTrue(checks.stream().noneMatch(c -> c.item() == Item.APART));
    }

    @ParameterizedTest
    @EnumSource(Item.class)
    void everyItemHasAWord(Item item) {
        assertTrue(item.word().matches("[a-z]+(-[a-z]+)*"));
    }

    /** Waiting can only take certainty away: as time passes without a new probe, lines turn unknown and nothing else. */
    @Test
    void timeAloneTurnsProbedLinesUnknownAndNothingElse() {
        Random random = new Random(7);
        for (int round = 0; round < 200; round++) {
            Found found = new Found();
            found.at = NOW.minusSeconds(random.nextInt(100_000));
            found.scheduler = Optional.of(random.nextBoolean());
            found.logs = Optional.of(LogMode.values()[random.nextInt(3)]);
            List<Probe> probes = new ArrayList<>(List.of(found.probe()));
            List<Check> before = Readiness.of(database("h1"), fleet(LOGS_ASKED, "south"), probes, BACKED, NOW);
            Instant later = NOW.plusSeconds(random.nextInt(200_000));
            List<Check> after = Readiness.of(database("h1"), fleet(LOGS_ASKED, "south"), probes, BACKED, later);
            assertEquals(before.size(), after.size());
            for (int i = 0; i < before.size(); i++) {
                boolean same = before.get(i).state() == after.get(i).state();
                assertTrue(
                        same || after.get(i).state() == State.UNKNOWN,
                        after.get(i).toString());
            }
        }
    }

    /** Whatever time changes is changed at the moments that are foretold, and at no other. */
    @ParameterizedTest(name = "seed {0}")
    @CsvSource({"1", "2", "3", "4", "5"})
    void staysAsItIsUntilTheMomentForetold(long seed) {
        Random random = new Random(seed);
        List<Probe> probes = new ArrayList<>();
        for (int i = 0; i < 3; i++) {
            Found found = new Found();
            found.at = NOW.plusSeconds(random.nextInt(200_000) - 150_000);
            found.logs = Optional.of(random.nextBoolean() ? LogMode.ON : LogMode.OFF);
            found.names = Map.of("engine", random.nextBoolean() ? "berths" : "other");
            probes.add(found.probe());
        }
        Database d = database("h1", new Database.Stop(NOW.plusSeconds(90_000), Optional.of(NOW.plusSeconds(99_000))));
        Fleet fleet = fleet(LOGS_ASKED, "south");
        int changes = 0;
        for (Instant at = NOW; at.isBefore(NOW.plus(Duration.ofDays(4))); ) {
            List<Check> now = Readiness.of(d, fleet, probes, BACKED, at);
            Instant until = Readiness.standsUntil(d, fleet, probes, at);
            Instant end = until.equals(Instant.MAX) ? NOW.plus(Duration.ofDays(5)) : until;
            for (int i = 0; i < 20; i++) {
                Instant between = at.plusMillis(
                        (long) (random.nextDouble() * Duration.between(at, end).toMillis()));
                assertEquals(now, Readiness.of(d, fleet, probes, BACKED, between), at + " and " + between);
            }
            assertEquals(now, Readiness.of(d, fleet, probes, BACKED, end.minusMillis(1)));
            changes++;
            at = end;
        }
        assertTrue(changes > 2, changes + " stretches");
    }
}
