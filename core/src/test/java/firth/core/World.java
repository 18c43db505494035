package firth.core;

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
import firth.core.model.Hazard;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Objective;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.Run;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;

/** One database and its history in hours since it went into service, for tests small enough to follow by hand. */
final class World {

    static final Instant START = Instant.parse("2026-02-01T00:00:00Z");

    private final List<Database.Stop> stopped = new ArrayList<>();
    private final List<Hold> holds = new ArrayList<>();
    private final List<RetainRule> retain = new ArrayList<>();
    private final List<Runnable> facts = new ArrayList<>();
    private final List<PolicyVersion> versions = new ArrayList<>();
    private HistoryBuilder history;
    private Optional<Duration> reach = Optional.empty();

    static Instant hour(double h) {
        return START.plus(Duration.ofMinutes((long) (h * 60)));
    }

    private static long ms(double h) {
        return hour(h).toEpochMilli();
    }

    World stopped(double from, double to) {
        stopped.add(new Database.Stop(hour(from), Optional.of(hour(to))));
        return this;
    }

    World promising(double from, Duration mishap) {
        versions.add(new PolicyVersion(
                "p",
                versions.size() + 1,
                hour(from),
                "p",
                true,
                new Objective(Map.of(Hazard.MISHAP, mishap), reach),
                List.of(),
                List.of(),
                retain,
                CopiesRule.NONE));
        return this;
    }

    World reaching(Duration target) {
        reach = Optional.of(target);
        return this;
    }

    World retaining(Role role, Duration far, int fulls) {
        retain.add(new RetainRule(
                role,
                Optional.of(far),
                fulls > 0 ? OptionalInt.of(fulls) : OptionalInt.empty(),
                true,
                Map.of(),
                OptionalInt.empty(),
                Optional.empty()));
        return this;
    }

    World held(String backup) {
        holds.add(new Hold(
                "h",
                Optional.of(backup),
                Optional.empty(),
                Optional.empty(),
                "audit",
                "",
                Optional.empty(),
                Optional.empty()));
        return this;
    }

    /** A self-contained full at an hour and position, landing at once near and an hour later far. */
    World full(String id, double at, long position) {
        facts.add(() -> history.add(
                        BackupRow.data(id, Kind.FULL, ms(at), ms(at)).alone().between(position, position))
                .addCopy("near", CopyRow.landed(ms(at), 10))
                .addCopy("far", CopyRow.landed(ms(at + 1), 10).locked(ms(at + 30))));
        return this;
    }

    World incr(String id, String parent, double at, long from, long to) {
        facts.add(() -> history.add(
                        BackupRow.data(id, Kind.INCR, ms(at), ms(at)).on(parent).between(from, to))
                .addCopy("near", CopyRow.landed(ms(at), 5)));
        return this;
    }

    /** A log of the hours and positions given, landing near when it ends; deleted at {@code gone} where that is later. */
    World log(String id, double from, double to, long fromPosition, long toPosition, double gone) {
        facts.add(() -> history.add(
                        BackupRow.log(id, 0, new BackupRow.Extent(fromPosition, toPosition, ms(from), ms(to))))
                .addCopy("near", CopyRow.landed(ms(to), 1).gone(gone > to ? ms(gone) : History.NEVER)));
        return this;
    }

    World log(String id, double from, double to, long fromPosition, long toPosition) {
        return log(id, from, to, fromPosition, toPosition, 0);
    }

    World failed(String id, Kind kind, double at) {
        facts.add(() -> history.add(
                new Run(id, "d", kind, hour(at), Optional.of(hour(at)), Outcome.FAILED, Optional.of("no room"), "")));
        return this;
    }

    /** Looks at it as of an hour, over all the time before. */
    Evaluation at(double now) {
        if (versions.isEmpty()) {
            promising(0, Duration.ofHours(4));
        }
        Database database = new Database(
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
                stopped,
                List.of(Lineage.FIRST));
        history = History.of(database);
        facts.forEach(Runnable::run);
        Fleet fleet = new Fleet(List.of(store("near", "north", Role.NEAR), store("far", "south", Role.FAR)), versions);
        return Evaluation.of(
                new DatabaseFacts(database, history.build(), holds, List.of()),
                fleet,
                hour(now),
                new Span(START.minus(Duration.ofDays(10)), hour(now)));
    }

    private static BackupStore store(String id, String site, Role role) {
        return new BackupStore(
                id,
                id,
                Optional.of(site),
                Optional.of("disk"),
                Optional.of(role),
                OptionalDouble.empty(),
                OptionalDouble.empty());
    }

    /** Verdict and reasons of a copy, for instance {@code needed floor, locked}. */
    static String verdict(Evaluation e, String backup, String store) {
        for (int r = 0; r < e.retention().size(); r++) {
            if (e.history().id(e.retention().backup(r)).equals(backup)
                    && e.retention().store(r).equals(store)) {
                return e.retention().verdict(r).word() + " "
                        + String.join(
                                ", ", e.retention().reasons(r).stream().sorted().toList());
            }
        }
        return "not available";
    }
}
