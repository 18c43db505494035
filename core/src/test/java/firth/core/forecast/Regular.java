package firth.core.forecast;

import firth.core.evaluation.Evaluation;
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
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.Schedule;
import firth.core.time.Recurrence;
import firth.core.time.Span;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;

/** A database that is backed up like clockwork: a full each Saturday at 22:00, incrementals otherwise, logs each hour. */
public final class Regular {

    public static final ZoneId LISBON = ZoneId.of("Europe/Lisbon");
    public static final LocalDate BEGIN = LocalDate.of(2026, 2, 2);
    public static final Instant START = BEGIN.atStartOfDay(LISBON).toInstant();

    private final double growthPerDay;
    public final Database database;

    /** @param growthPerDay share of the first full by which fulls grow each day */
    public Regular(double growthPerDay) {
        this.growthPerDay = growthPerDay;
        this.database = new Database(
                "d",
                "berths",
                Optional.empty(),
                Optional.of("north"),
                LISBON,
                Optional.of("p"),
                List.of(),
                START,
                List.of("main"),
                OptionalDouble.of(200e9),
                OptionalDouble.of(5e7),
                List.of(),
                List.of(Lineage.FIRST));
    }

    /** A database like another in all but its id and what its backups are not judged by. */
    public static Database like(Database d, String id, Particulars known, Database.Stop... stops) {
        return new Database(
                id,
                d.name(),
                d.engine(),
                d.site(),
                d.zone(),
                d.policy(),
                d.assigned(),
                d.inServiceFrom(),
                d.streams(),
                d.sizeBytes(),
                d.replayBytesPerSecond(),
                stops.length > 0 ? List.of(stops) : d.stopped(),
                d.lineages(),
                known);
    }

    public static Instant day(double days) {
        return START.plus(Duration.ofMinutes((long) (days * 24 * 60)));
    }

    public static Recurrence at(int hour, DayOfWeek... days) {
        List<DayOfWeek> wanted = List.of(days);
        return (start, zone, from, to) -> {
            List<Instant> out = new ArrayList<>();
            for (LocalDate d = from.atZone(zone).toLocalDate().minusDays(1);
                    !d.isAfter(to.atZone(zone).toLocalDate());
                    d = d.plusDays(1)) {
                Instant t = d.atTime(LocalTime.of(hour, 0)).atZone(zone).toInstant();
                if ((wanted.isEmpty() || wanted.contains(d.getDayOfWeek())) && !t.isBefore(from) && t.isBefore(to)) {
                    out.add(t);
                }
            }
            return out;
        };
    }

    public static Schedule schedule(String id, Kind kind, Recurrence recurrence, int withinHours, boolean mustFinish) {
        return new Schedule(
                id,
                kind,
                Optional.of(recurrence),
                Optional.empty(),
                Optional.of(Duration.ofHours(withinHours)),
                mustFinish,
                Schedule.DEFAULT_GRACE,
                true,
                Optional.empty());
    }

    public static RetainRule keeping(Role role, int days, int fulls) {
        return new RetainRule(
                role,
                Optional.of(Duration.ofDays(days)),
                OptionalInt.of(fulls),
                true,
                Map.of(),
                OptionalInt.empty(),
                Optional.empty());
    }

    public static PolicyVersion policy(Objective objective, List<RetainRule> retain) {
        return new PolicyVersion(
                "p",
                1,
                START.minus(Duration.ofDays(30)),
                "Sailings",
                true,
                objective,
                List.of(
                        schedule("weekly", Kind.FULL, at(22, DayOfWeek.SATURDAY), 5, true),
                        schedule(
                                "nightly",
                                Kind.INCR,
                                at(
                                        22,
                                        DayOfWeek.SUNDAY,
                                        DayOfWeek.MONDAY,
                                        DayOfWeek.TUESDAY,
                                        DayOfWeek.WEDNESDAY,
                                        DayOfWeek.THURSDAY,
                                        DayOfWeek.FRIDAY),
                                4,
                                false),
                        Schedule.logs("logs", Duration.ofHours(1))),
                List.of(),
                retain,
                CopiesRule.NONE);
    }

    public static Fleet fleet(PolicyVersion... versions) {
        return new Fleet(
                List.of(store("near", "north", Role.NEAR, false), store("far", "south", Role.FAR, true)),
                List.of(versions));
    }

    private static BackupStore store(String id, String site, Role role, boolean lockable) {
        return new BackupStore(
                id,
                id,
                Optional.of(site),
                Optional.of(id.equals("near") ? "disk" : "tape"),
                Optional.of(role),
                OptionalDouble.of(1e13),
                OptionalDouble.of(2e8),
                lockable);
    }

    /** What is known of it after so many days. */
    public DatabaseFacts facts(double days) {
        HistoryBuilder out = History.of(database);
        long until = day(days).toEpochMilli();
        String newest = null;
        for (LocalDate d = BEGIN; ; d = d.plusDays(1)) {
            long start = d.atTime(22, 0).atZone(LISBON).toInstant().toEpochMilli();
            if (start >= until) {
                break;
            }
            boolean full = newest == null || d.getDayOfWeek() == DayOfWeek.SATURDAY;
            long age = d.toEpochDay() - BEGIN.toEpochDay();
            double bytes = full ? 100e9 * (1 + growthPerDay * age) : 5e9;
            long end = start + (long) (bytes / 1e4);
            String id = "data-" + d;
            if (end <= until) {
                add(out, id, full ? Kind.FULL : Kind.INCR, full ? "" : newest, start, end, bytes);
                newest = id;
            }
        }
        for (long to = day(0).toEpochMilli() + 3_600_000; to < until; to += 3_600_000) {
            long from = to - 3_600_000;
            out.add(BackupRow.log("log-" + to, 0, new BackupRow.Extent(at(from), at(to), from, to))
                    .taken(to, to + 60_000));
            copy(out, "near", to + 60_000, 1e8, until);
            copy(out, "far", to + 1_800_000, 1e8, until);
        }
        return new DatabaseFacts(database, out.build(), List.of(), List.of());
    }

    private static void add(
            HistoryBuilder out, String id, Kind kind, String parent, long start, long end, double bytes) {
        out.add(BackupRow.data(id, kind, start, end).on(parent).between(at(start), at(end)));
        copy(out, "near", end, bytes, Long.MAX_VALUE);
        copy(out, "far", end + 1_800_000, bytes, Long.MAX_VALUE);
    }

    private static long at(long moment) {
        return (moment - START.toEpochMilli()) / 1000 * 7;
    }

    private static void copy(HistoryBuilder out, String store, long landed, double bytes, long until) {
        if (landed <= until) {
            out.addCopy(store, CopyRow.landed(landed, bytes));
        }
    }

    public Evaluation evaluate(double days, Fleet fleet) {
        return Evaluation.of(facts(days), fleet, day(days), new Span(day(days - 30), day(days)));
    }
}
