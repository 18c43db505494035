package firth.exchange;

import firth.core.model.BackupStore;
import firth.core.model.Closure;
import firth.core.model.Drill;
import firth.core.model.FleetRecord;
import firth.core.model.GivesWay;
import firth.core.model.Hold;
import firth.core.model.Restore;
import firth.core.model.Role;
import firth.core.model.Route;
import firth.core.model.Site;
import firth.core.time.Span;
import java.time.Instant;
import java.util.Arrays;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Reads records that are not history: what each type may hold and what it must. */
final class FleetRecords {

    private static final Map<String, GivesWay> GIVES_WAY =
            Arrays.stream(GivesWay.values()).collect(Collectors.toMap(GivesWay::word, Function.identity()));

    private static final Map<String, Role> ROLES = Map.of("near", Role.NEAR, "far", Role.FAR, "deep", Role.DEEP);

    private static final Map<String, Function<Fields, FleetRecord>> READERS = Map.ofEntries(
            Map.entry("site", FleetRecords::site),
            Map.entry("store", FleetRecords::store),
            Map.entry("route", FleetRecords::route),
            Map.entry("policy", PolicyRecords::policy),
            Map.entry("database", DatabaseRecords::database),
            Map.entry("assignment", StandingRecords::assigned),
            Map.entry("standing", StandingRecords::rule),
            Map.entry("sighting", StandingRecords::sighting),
            Map.entry("probe", ProbeRecords::probe),
            Map.entry("accept", StandingRecords::accept),
            Map.entry("order", StandingRecords::order),
            Map.entry("note", StandingRecords::note),
            Map.entry("mapping", Mappings::mapping),
            Map.entry("hold", FleetRecords::hold),
            Map.entry("closure", FleetRecords::closure),
            Map.entry("drill", FleetRecords::drill),
            Map.entry("restore", FleetRecords::restore));

    private FleetRecords() {}

    static boolean reads(String type) {
        return READERS.containsKey(type);
    }

    static FleetRecord read(String type, Fields fields) {
        return Objects.requireNonNull(READERS.get(type)).apply(fields);
    }

    static Role role(Fields f) {
        return f.word("role", ROLES).orElseThrow(() -> f.bad("role", "is missing: near, far or deep"));
    }

    private static Site site(Fields f) {
        f.warnUnknown(Set.of("type", "id", "name", "retired"));
        String id = f.requiredId("id");
        return new Site(id, f.text("name").orElse(id), f.instant("retired"));
    }

    private static BackupStore store(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "name",
                "site",
                "medium",
                "role",
                "capacityBytes",
                "readBytesPerSecond",
                "lockable",
                "givesWay",
                "minimumStay",
                "retired"));
        String id = f.requiredId("id");
        return new BackupStore(
                id,
                f.text("name").orElse(id),
                f.id("site"),
                f.text("medium"),
                f.word("role", ROLES),
                f.amount("capacityBytes"),
                f.rate("readBytesPerSecond"),
                f.flag("lockable", false),
                f.word("givesWay", GIVES_WAY).orElse(GivesWay.REFUSE_NEW),
                f.duration("minimumStay"),
                f.instant("retired"));
    }

    private static Route route(Fields f) {
        f.warnUnknown(Set.of("type", "id", "name", "data", "log", "copies", "retired"));
        String id = f.requiredId("id");
        return new Route(
                id,
                f.text("name").orElse(id),
                f.texts("data"),
                f.texts("log"),
                f.texts("copies"),
                f.instant("retired"));
    }

    private static Hold hold(Fields f) {
        f.warnUnknown(Set.of("type", "id", "backup", "database", "moment", "reason", "by", "from", "until"));
        Hold hold = new Hold(
                f.requiredId("id"),
                f.id("backup"),
                f.id("database"),
                f.instant("moment"),
                f.text("reason").orElse(""),
                f.text("by").orElse(""),
                f.instant("from"),
                f.instant("until"));
        boolean onMoment = hold.database().isPresent() && hold.moment().isPresent();
        if (hold.backup().isEmpty() && !onMoment) {
            throw f.bad("backup", "is missing: a hold is on a backup, or on a moment of a database");
        }
        return hold;
    }

    private static Closure closure(Fields f) {
        f.warnUnknown(Set.of("type", "id", "policy", "database", "from", "to", "reason"));
        Instant from = f.requiredInstant("from");
        Instant to = f.requiredInstant("to");
        if (to.isBefore(from)) {
            throw f.bad("to", "lies before from");
        }
        if (!f.has("policy") && !f.has("database")) {
            throw f.bad("policy", "is missing: a closure is of a policy or of a database");
        }
        return new Closure(
                f.requiredId("id"),
                f.id("policy"),
                f.id("database"),
                new Span(from, to),
                f.text("reason").orElse(""));
    }

    private static Drill drill(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "database",
                "moment",
                "reached",
                "backup",
                "started",
                "ended",
                "outcome",
                "checks",
                "message"));
        Drill drill = new Drill(
                f.requiredId("id"),
                f.requiredId("database"),
                f.instant("started"),
                f.instant("ended"),
                f.instant("moment"),
                f.instant("reached"),
                f.id("backup"),
                f.word("outcome", Map.of("ok", true, "failed", false)),
                f.texts("checks"),
                f.text("message").orElse(""));
        checkOrder(f, drill.started(), drill.ended());
        return drill;
    }

    private static Restore restore(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "database",
                "moment",
                "reached",
                "backup",
                "started",
                "ended",
                "outcome",
                "into",
                "by",
                "message"));
        Restore restore = new Restore(
                f.requiredId("id"),
                f.requiredId("database"),
                f.instant("moment"),
                f.instant("reached"),
                f.id("backup"),
                f.instant("started"),
                f.instant("ended"),
                f.word("outcome", Map.of("ok", true, "failed", false))
                        .orElseThrow(() -> f.bad("outcome", "is missing: ok or failed")),
                f.id("into"),
                f.text("by").orElse(""),
                f.text("message").orElse(""));
        checkOrder(f, restore.started(), restore.ended());
        return restore;
    }

    private static void checkOrder(Fields f, Optional<Instant> started, Optional<Instant> ended) {
        if (ended.isPresent() && started.filter(ended.get()::isBefore).isPresent()) {
            throw f.bad("ended", "lies before started");
        }
    }
}
