package firth.bench;

import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Positions;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Random;
import java.util.function.Consumer;

/**
 * Made-up databases that behave: logs at an interval to a near store, copied on to a far one with a lock, near copies
 * deleted after 18 days, a full a week and an incremental a day. Now and then a log is lost or comes late, and each takes some
 * seconds more or less.
 */
final class BenchFleet {

    static final Instant BEGIN = Instant.parse("2026-01-01T00:00:00Z");
    private static final Duration NEAR_FOR = Duration.ofDays(18);
    private static final Duration LOST_EVERY = Duration.ofDays(12);

    /** Most say to the second when something landed; some to the millisecond, and then hardly two ages are the same. */
    static final Duration USUAL_GRAIN = Duration.ofSeconds(1);

    private BenchFleet() {}

    static Fleet fleet() {
        return new Fleet(
                List.of(store("near", "north", Role.NEAR), store("far", "south", Role.FAR)), List.of(policy()));
    }

    static BackupStore store(String id, String site, Role role) {
        return new BackupStore(
                id,
                id,
                Optional.of(site),
                Optional.of("disk"),
                Optional.of(role),
                OptionalDouble.empty(),
                OptionalDouble.of(2e8));
    }

    private static PolicyVersion policy() {
        return new PolicyVersion(
                "sailings",
                1,
                BEGIN,
                "Sailings",
                true,
                new Objective(
                        Map.of(
                                Hazard.MISHAP, Duration.ofMinutes(20),
                                Hazard.SITE_LOSS, Duration.ofHours(1),
                                Hazard.SABOTAGE, Duration.ofHours(2)),
                        Optional.of(Duration.ofDays(18))),
                List.of(new Schedule(
                        "logs",
                        Kind.LOG,
                        Optional.empty(),
                        Optional.of(Duration.ofMinutes(15)),
                        Optional.empty(),
                        false,
                        Duration.ofMinutes(5),
                        true,
                        Optional.empty())),
                List.of(),
                List.of(retain(Role.NEAR, 18, OptionalInt.of(2)), retain(Role.FAR, 30, OptionalInt.empty())),
                new CopiesRule(2, 1, 1, 0));
    }

    private static RetainRule retain(Role role, int days, OptionalInt fulls) {
        return new RetainRule(
                role, Optional.of(Duration.ofDays(days)), fulls, true, Map.of(), OptionalInt.empty(), Optional.empty());
    }

    static Database database(String id) {
        return new Database(
                id,
                id,
                Optional.empty(),
                Optional.of("north"),
                ZoneId.of("Europe/Lisbon"),
                Optional.of("sailings"),
                List.of(),
                BEGIN,
                List.of("main"),
                OptionalDouble.empty(),
                OptionalDouble.of(5e7),
                List.of(),
                List.of(Lineage.FIRST));
    }

    /** The whole history of a database: that many logs, the interval apart. */
    static History history(Database database, int logs, Duration interval, long seed, Duration grain) {
        HistoryBuilder out = History.of(database);
        backups(database.id(), logs, interval, seed, grain, out::add);
        return out.build();
    }

    static DatabaseFacts facts(String id, int logs, Duration interval, long seed) {
        return facts(id, logs, interval, seed, USUAL_GRAIN);
    }

    static DatabaseFacts facts(String id, int logs, Duration interval, long seed, Duration grain) {
        Database database = database(id);
        return new DatabaseFacts(database, history(database, logs, interval, seed, grain), List.of(), List.of());
    }

    /** The moment after the last log of such a history. */
    static Instant end(int logs, Duration interval) {
        return BEGIN.plus(interval.multipliedBy(logs)).plus(Duration.ofMinutes(7));
    }

    /** The 30 days before the end. */
    static Span period(int logs, Duration interval) {
        Instant end = end(logs, interval);
        return new Span(end.minus(Duration.ofDays(30)), end);
    }

    /** Makes the backups of a database in the order they were taken. */
    static void backups(String id, int logs, Duration interval, long seed, Duration grain, Consumer<Backup> taker) {
        Random random = new Random(seed);
        Instant last = end(logs, interval);
        Instant nextData = BEGIN;
        String parent = null;
        int day = 0;
        long position = 1_000;
        double lost = (double) interval.toMillis() / LOST_EVERY.toMillis();
        for (int n = 0; n < logs; n++) {
            Instant at = BEGIN.plus(interval.multipliedBy(n));
            if (!at.isBefore(nextData)) {
                boolean full = day % 7 == 0;
                String data = id + "-data-" + day;
                taker.accept(data(id, data, full, parent, at, position, last));
                parent = data;
                day++;
                nextData = nextData.plus(Duration.ofDays(1));
            }
            long to = position + (n % 40 == 39 ? 0 : 1 + random.nextInt(5_000));
            if (random.nextDouble() > lost) {
                taker.accept(
                        log(id, n, at, interval, position, to, last, random.nextDouble() < 4 * lost, grain.toMillis()));
            }
            position = to;
        }
    }

    private static Backup data(
            String database, String id, boolean full, String parent, Instant at, long position, Instant last) {
        Instant ended = at.plus(Duration.ofSeconds(1));
        return backup(
                        database,
                        id,
                        full ? Kind.FULL : Kind.INCR,
                        full ? null : parent,
                        at,
                        ended,
                        position,
                        position,
                        last)
                .build(Optional.empty(), ended, Duration.ofMinutes(30));
    }

    private static Backup log(
            String database,
            int n,
            Instant at,
            Duration interval,
            long from,
            long to,
            Instant last,
            boolean late,
            long grain) {
        Instant ended = at.plus(interval);
        return backup(database, database + "-log-" + n, Kind.LOG, null, ended, ended, from, to, last)
                .build(
                        Optional.of(new Backup.LogTimes(at, ended)),
                        ended.plusSeconds(late ? 3 * interval.toSeconds() : 20)
                                .plusMillis(from * 7919 % 9_000 / grain * grain),
                        Duration.ofMinutes(10));
    }

    private record Draft(
            String database,
            String id,
            Kind kind,
            String parent,
            Instant started,
            Instant ended,
            Positions positions,
            Instant last) {

        Backup build(Optional<Backup.LogTimes> times, Instant landed, Duration copied) {
            Instant gone = landed.plus(NEAR_FOR);
            Copy near =
                    copy("near", landed, Optional.empty(), gone.isAfter(last) ? Optional.empty() : Optional.of(gone));
            Copy far =
                    copy("far", landed.plus(copied), Optional.of(landed.plus(Duration.ofDays(40))), Optional.empty());
            return new Backup(
                    id,
                    database,
                    kind,
                    Optional.ofNullable(parent),
                    Optional.empty(),
                    started,
                    ended,
                    OptionalDouble.of(1e6),
                    Optional.empty(),
                    Map.of("main", positions),
                    times,
                    ended,
                    true,
                    false,
                    Duration.ZERO,
                    Optional.empty(),
                    List.of(near, far),
                    "");
        }
    }

    private static Draft backup(
            String database,
            String id,
            Kind kind,
            String parent,
            Instant started,
            Instant ended,
            long from,
            long to,
            Instant last) {
        return new Draft(database, id, kind, parent, started, ended, new Positions(from, to), last);
    }

    private static Copy copy(String store, Instant landed, Optional<Instant> locked, Optional<Instant> gone) {
        return new Copy(store, landed, true, locked, gone, Optional.empty(), OptionalDouble.empty(), "");
    }
}
