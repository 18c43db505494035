package firth.exchange;

import firth.core.model.CopiesRule;
import firth.core.model.Demands;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Reads policies. */
final class PolicyRecords {

    static final Map<String, Kind> KINDS =
            Map.of("full", Kind.FULL, "diff", Kind.DIFF, "incr", Kind.INCR, "log", Kind.LOG, "config", Kind.CONFIG);

    private static final Map<String, DayOfWeek> DAYS = Map.of(
            "MO", DayOfWeek.MONDAY,
            "TU", DayOfWeek.TUESDAY,
            "WE", DayOfWeek.WEDNESDAY,
            "TH", DayOfWeek.THURSDAY,
            "FR", DayOfWeek.FRIDAY,
            "SA", DayOfWeek.SATURDAY,
            "SU", DayOfWeek.SUNDAY);

    static final Set<DayOfWeek> EVERY_DAY = Set.copyOf(DAYS.values());

    private static final int MOST_RUNGS = 100_000;

    private PolicyRecords() {}

    static PolicyVersion policy(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "version",
                "effectiveFrom",
                "name",
                "enabled",
                "objective",
                "schedules",
                "openHours",
                "retain",
                "copies",
                "demands",
                "rateLimits",
                "sourceLogs",
                "order",
                "then",
                "purgeApprovals",
                "putInForce",
                "withdrawn"));
        f.count("purgeApprovals").ifPresent(n -> {
            if (n > 2) {
                throw f.bad("purgeApprovals", "is 0, 1 or 2: how many others approve a purge");
            }
        });
        if (!f.has("objective")) {
            f.warn("objective", "is missing: the policy promises nothing, so no age will ever be too old");
        }
        String id = f.requiredId("id");
        int version = f.count("version").orElse(1);
        if (version < 1) {
            throw f.bad("version", "must be 1 or more");
        }
        List<Schedule> schedules = f.objects("schedules", PolicyRecords::schedule);
        Set<String> ids = new HashSet<>();
        for (Schedule s : schedules) {
            if (!ids.add(s.id())) {
                throw f.bad("schedules.id", "names the schedule " + s.id() + " twice");
            }
        }
        Instant from = f.requiredInstant("effectiveFrom");
        Optional<Instant> withdrawn = f.object("withdrawn").map(w -> w.requiredInstant("at"));
        if (withdrawn.filter(from::isBefore).isPresent()) {
            throw f.bad("withdrawn", "lies after effectiveFrom: what has been in force stays in the history");
        }
        return new PolicyVersion(
                id,
                version,
                from,
                f.text("name").orElse(id),
                f.flag("enabled", true),
                f.object("objective").map(PolicyRecords::objective).orElse(Objective.NONE),
                schedules,
                f.objects("openHours", PolicyRecords::openHours),
                f.objects("retain", PolicyRecords::retain),
                f.object("copies").map(PolicyRecords::copies).orElse(CopiesRule.NONE),
                f.object("demands").map(PolicyRecords::demands).orElse(Demands.NONE),
                TakingRecords.taking(f),
                withdrawn);
    }

    private static Demands demands(Fields f) {
        f.warnUnknown(Set.of(
                "compressed",
                "encrypted",
                "checksummed",
                "verifiedWithin",
                "configAfterData",
                "evidence",
                "evidenceWithin"));
        return new Demands(
                f.flag("compressed", false),
                f.flag("encrypted", false),
                f.flag("checksummed", false),
                f.duration("verifiedWithin"),
                f.duration("configAfterData"),
                f.word("evidence", HistoryRecords.EVIDENCE).orElse(Evidence.TOLD),
                f.duration("evidenceWithin").orElse(Demands.EVIDENCE_WITHIN));
    }

    private static Objective objective(Fields f) {
        f.warnUnknown(Set.of("mishap", "siteLoss", "sabotage", "reach", "restoreTime", "drillEvery"));
        Map<Hazard, Duration> rpo = new EnumMap<>(Hazard.class);
        for (Hazard hazard : Hazard.values()) {
            f.duration(hazard.field()).ifPresent(d -> {
                if (d.isZero()) {
                    f.warn(hazard.field(), "is zero: no backup can keep that promise");
                }
                rpo.put(hazard, d);
            });
        }
        return new Objective(rpo, f.duration("reach"), f.duration("restoreTime"), f.duration("drillEvery"));
    }

    private static Schedule schedule(Fields f) {
        f.warnUnknown(
                Set.of("id", "kind", "rrule", "cron", "every", "within", "mustFinish", "grace", "enabled", "anchor"));
        Kind kind = f.word("kind", KINDS).orElseThrow(() -> f.bad("kind", "is missing"));
        Optional<String> rrule = f.text("rrule");
        Optional<String> cron = f.text("cron");
        Optional<Duration> every = f.positiveDuration("every");
        int ways = (rrule.isPresent() ? 1 : 0) + (cron.isPresent() ? 1 : 0) + (every.isPresent() ? 1 : 0);
        if (ways != 1) {
            throw f.bad("rrule", "must stand alone: a schedule has one of rrule, cron and every");
        }
        if (every.isPresent() && kind != Kind.LOG) {
            throw f.bad("every", "is for logs only; give a rule or a cron line");
        }
        Optional<Duration> within = f.positiveDuration("within");
        if (every.isEmpty() && within.isEmpty()) {
            throw f.bad("within", "is missing: how long after its time may the run start?");
        }
        Optional<Recurrence> recurrence = rrule.map(r -> recurrence(f, "rrule", Recurrences::rule, r))
                .or(() -> cron.map(c -> recurrence(f, "cron", Recurrences::cron, c)));
        return new Schedule(
                f.requiredId("id"),
                kind,
                recurrence,
                every,
                within,
                f.flag("mustFinish", false),
                f.duration("grace").orElse(Schedule.DEFAULT_GRACE),
                f.flag("enabled", true),
                f.date("anchor"));
    }

    private static Recurrence recurrence(Fields f, String name, Function<String, Recurrence> reading, String text) {
        try {
            return reading.apply(text);
        } catch (IllegalArgumentException e) {
            throw f.bad(name, String.valueOf(e.getMessage()));
        }
    }

    private static OpenHours openHours(Fields f) {
        f.warnUnknown(Set.of("days", "from", "to"));
        return new OpenHours(days(f).orElse(Set.of()), minute(f, "from"), minute(f, "to"));
    }

    /** Empty where none are named. */
    static Optional<Set<DayOfWeek>> days(Fields f) {
        Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
        for (String day : f.texts("days")) {
            days.add(Optional.ofNullable(DAYS.get(day))
                    .orElseThrow(() -> f.bad("days", "are written MO, TU, WE, TH, FR, SA, SU")));
        }
        return Optional.of(days).filter(d -> !d.isEmpty());
    }

    static int minute(Fields f, String name) {
        String text = f.text(name).orElseThrow(() -> f.bad(name, "is missing"));
        if (!text.matches("([01]\\d|2[0-3]):[0-5]\\d|24:00")) {
            throw f.bad(name, "is not a time of day such as 22:00");
        }
        return Integer.parseInt(text.substring(0, 2)) * 60 + Integer.parseInt(text.substring(3));
    }

    private static RetainRule retain(Fields f) {
        f.warnUnknown(Set.of("role", "reach", "fulls", "logs", "rungs", "configs", "atMost", "lock"));
        Map<RungUnit, Integer> rungs = new EnumMap<>(RungUnit.class);
        f.object("rungs").ifPresent(r -> {
            r.warnUnknown(Set.of("day", "week", "month", "year"));
            for (RungUnit unit : RungUnit.values()) {
                r.count(unit.word()).ifPresent(n -> {
                    if (n > MOST_RUNGS) {
                        throw r.bad(unit.word(), "is more than " + MOST_RUNGS);
                    }
                    rungs.put(unit, n);
                });
            }
        });
        warnOfNothing(f);
        return new RetainRule(
                FleetRecords.role(f),
                f.duration("reach"),
                f.count("fulls"),
                f.flag("logs", true),
                rungs,
                f.count("configs"),
                f.duration("atMost"),
                f.duration("lock"));
    }

    private static void warnOfNothing(Fields f) {
        if (f.duration("reach").filter(Duration::isZero).isPresent()) {
            f.warn("reach", "is zero: the rule needs nothing");
        }
        if (f.count("fulls").orElse(1) == 0) {
            f.warn("fulls", "is zero: the rule needs nothing");
        }
    }

    private static CopiesRule copies(Fields f) {
        f.warnUnknown(Set.of("stores", "media", "offsite", "locked", "within"));
        f.duration("within");
        return new CopiesRule(
                f.count("stores").orElse(0),
                f.count("media").orElse(0),
                f.count("offsite").orElse(0),
                f.count("locked").orElse(0));
    }
}
