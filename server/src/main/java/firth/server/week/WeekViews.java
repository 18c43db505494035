package firth.server.week;

import firth.core.adherence.OpenTime;
import firth.core.adherence.SlotVerdict;
import firth.core.findings.Check;
import firth.core.forecast.Usual;
import firth.core.forecast.Writing;
import firth.core.model.BackupStore;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import firth.core.time.Spans;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.ProbedNow;
import firth.server.evaluation.Probes;
import firth.server.evaluation.Slices;
import firth.server.evaluation.Summaries;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** A week of slots night by night: bars, open hours, closures and what collides. */
@ApplicationScoped
class WeekViews {
    private static final int NIGHTS = 7;

    /** More slots than this are shown as bands of load. */
    private static final int FEW = 200;

    private static final Duration BAND = Duration.ofMinutes(30);

    /** So many of what nobody starts, and so many names of what collides, are given. */
    private static final int SOME = 12;

    private static final int COLLISIONS = 40;

    /** A run that goes on longer is not looked for in what opened before. */
    private static final Duration LONGEST = Duration.ofHours(20);

    private final Evaluations evaluations;
    private final Summaries summaries;
    private final WeekPart part;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final Probes probes;

    WeekViews(
            Evaluations evaluations,
            Summaries summaries,
            WeekPart part,
            Lookout lookout,
            FactsHolder facts,
            Probes probes) {
        this.evaluations = evaluations;
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
        this.facts = facts;
        this.probes = probes;
    }

    /**
     * Seven nights.
     *
     * @param from the local date whose noon the first begins at; absent: today's, or yesterday's before noon
     * @param by store, site or policy with its id, for instance {@code store:quay-near}; absent: the busiest store
     */
    WeekView week(@Nullable String from, @Nullable String by) {
        FleetNow fleet = evaluations.fleetNow();
        Instant now = lookout.now();
        ZoneId zone = zone(fleet, now);
        Instant begin = noon(from, zone, now);
        Span week = new Span(begin, begin.atZone(zone).plusDays(NIGHTS).toInstant());
        List<WeekPart.WeekAhead> ahead = within(week, now);
        String chosen = by == null || by.isEmpty() ? busiest(ahead) : by;
        List<WeekPart.WeekAhead> own = ahead.stream().filter(shown(chosen)).toList();
        int slots = own.stream().mapToInt(a -> a.expected().size()).sum();
        List<WeekView.Unserved> unserved = unserved(fleet, own, now);
        return new WeekView(
                week.from(),
                week.to(),
                zone.getId(),
                choices(fleet, ahead),
                chosen,
                slots,
                slots > FEW ? List.of() : own.stream().flatMap(WeekViews::bars).toList(),
                slots > FEW ? bands(own, week, chosen) : List.of(),
                open(fleet, own, week),
                closures(fleet, own, week),
                collisions(fleet, ahead, own),
                unserved.stream().limit(SOME).toList(),
                unserved.size());
    }

    /**
     * The slots that run at a time one by one.
     *
     * @param by store, site or policy with its id
     */
    WeekView.SlotList slots(String by, Instant from, Instant to, ListPart stretch) {
        Predicate<WeekPart.WeekAhead> wanted = shown(by);
        Span day = new Span(from.minus(LONGEST), to);
        List<WeekView.SlotBar> found = within(day, lookout.now()).stream()
                .filter(wanted)
                .flatMap(a -> a.expected().stream()
                        .filter(e -> runs(e) && e.slot().open().isBefore(to) && ends(e).isAfter(from))
                        .map(e -> bar(a.database(), e)))
                .sorted(Comparator.comparing(WeekView.SlotBar::open).thenComparing(WeekView.SlotBar::name))
                .toList();
        return new WeekView.SlotList(found.size(), stretch.of(found));
    }

    private static Stream<WeekView.SlotBar> bars(WeekPart.WeekAhead own) {
        return own.expected().stream().map(e -> bar(own.database(), e));
    }

    /** When its run will be done if it goes as usual. */
    private static Instant ends(WeekPart.Coming e) {
        return e.slot()
                .open()
                .plus(e.usual().map(Usual::median).orElse(Duration.ZERO))
                .plusMillis(1);
    }

    private static boolean runs(WeekPart.Coming e) {
        return !e.off()
                && e.slot().verdict() != SlotVerdict.SUPERSEDED
                && e.slot().verdict() != SlotVerdict.EXCUSED;
    }

    /** How much runs, half an hour at a time; neighbours that are alike are one band. */
    private static List<WeekView.LoadBand> bands(List<WeekPart.WeekAhead> own, Span week, String chosen) {
        Slices slices = Slices.of(week, (int) week.length().dividedBy(BAND), BAND);
        int[] running = new int[slices.count()];
        double[] bytes = new double[slices.count()];
        Optional<String> store =
                Optional.of(chosen).filter(c -> c.startsWith("store:")).map(c -> c.substring("store:".length()));
        for (WeekPart.WeekAhead a : own) {
            for (WeekPart.Coming e : a.expected()) {
                double rate = e.writing()
                        .filter(w -> store.isEmpty() || w.store().equals(store.get()))
                        .map(Writing::bytesPerSecond)
                        .orElse(0.0);
                int end = runs(e) ? slices.end(ends(e)) : 0;
                for (int s = slices.begin(e.slot().open()); s < end; s++) {
                    running[s]++;
                    bytes[s] += rate;
                }
            }
        }
        List<WeekView.LoadBand> out = new ArrayList<>();
        for (int s = 0; s < running.length; s++) {
            WeekView.LoadBand before = out.isEmpty() ? null : out.get(out.size() - 1);
            if (running[s] == 0) {
                continue;
            }
            if (before != null
                    && before.to().equals(slices.from(s))
                    && before.slots() == running[s]
                    && before.bytesPerSecond() == bytes[s]) {
                out.set(
                        out.size() - 1,
                        new WeekView.LoadBand(before.from(), slices.to(s), before.slots(), before.bytesPerSecond()));
            } else {
                out.add(new WeekView.LoadBand(slices.from(s), slices.to(s), running[s], bytes[s]));
            }
        }
        return out;
    }

    private List<WeekPart.WeekAhead> within(Span week, Instant now) {
        return ahead(week).stream()
                .filter(a -> !a.database().retiredAt(now))
                .map(a -> a.within(week))
                .toList();
    }

    private static ZoneId zone(FleetNow fleet, Instant now) {
        return usualZone(fleet.databases().values().stream()
                .filter(d -> !d.retiredAt(now) && !fleet.standbys().isStandby(d.id()))
                .toList());
    }

    /** Whose schedules nobody starts: the scheduler is known to be off, or run after run was missed without a try. */
    private List<WeekView.Unserved> unserved(FleetNow fleet, List<WeekPart.WeekAhead> own, Instant now) {
        List<WeekView.Unserved> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = probes.ofMany(snapshot, fleet.fleet(), now);
            for (WeekPart.WeekAhead a : own) {
                Database d = a.database();
                Optional<Check> off = probed.checks(d).stream()
                        .filter(c -> c.item() == Check.Item.SCHEDULER && c.state() == Check.State.NOT_READY)
                        .findFirst();
                if (a.asked() && off.isPresent()) {
                    out.add(new WeekView.Unserved(d.id(), d.name(), null, 0, null, ReadinessWords.of(off.get())));
                }
                a.unserved()
                        .forEach(u -> out.add(
                                new WeekView.Unserved(d.id(), d.name(), u.schedule(), u.missed(), u.since(), null)));
            }
        }
        return out;
    }

    /** Weeks near the present are kept of every database; others are worked out when somebody asks. */
    private List<WeekPart.WeekAhead> ahead(Span week) {
        Lookout.View view = lookout.view("", "");
        List<WeekPart.WeekAhead> kept = summaries.all(view, part).each();
        return kept.stream().allMatch(a -> a.reaches(week))
                ? kept
                : evaluations.walk(d -> true, view, one -> part.ahead(one, week));
    }

    private static ZoneId usualZone(List<Database> fleet) {
        return fleet.stream().collect(Collectors.groupingBy(Database::zone, Collectors.counting())).entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .map(Map.Entry::getKey)
                .orElse(ZoneId.of("UTC"));
    }

    private static Instant noon(@Nullable String from, ZoneId zone, Instant now) {
        try {
            LocalDate today = now.atZone(zone).minusHours(12).toLocalDate();
            LocalDate first = from == null || from.isEmpty() ? today : LocalDate.parse(from);
            return first.atTime(12, 0).atZone(zone).toInstant();
        } catch (DateTimeException e) {
            throw new BadRequest("from", "is not a date such as 2026-11-23");
        }
    }

    private static String busiest(List<WeekPart.WeekAhead> ahead) {
        return ahead.stream()
                .flatMap(a -> a.expected().stream())
                .flatMap(e -> e.store().stream())
                .collect(Collectors.groupingBy(s -> s, Collectors.counting()))
                .entrySet()
                .stream()
                .max(Map.Entry.<String, Long>comparingByValue().thenComparing(Map.Entry.comparingByKey()))
                .map(s -> "store:" + s.getKey())
                .orElse("all:");
    }

    private static Predicate<WeekPart.WeekAhead> shown(String chosen) {
        int colon = chosen.indexOf(':');
        String by = colon < 0 ? chosen : chosen.substring(0, colon);
        String id = colon < 0 ? "" : chosen.substring(colon + 1);
        return switch (by) {
            case "all" -> a -> true;
            case "store" ->
                a -> a.expected().stream()
                        .anyMatch(e -> e.store().filter(id::equals).isPresent());
            case "site" -> a -> a.database().site().filter(id::equals).isPresent();
            case "policy" ->
                a -> a.expected().stream().anyMatch(e -> e.slot().policy().equals(id));
            default -> throw new BadRequest("by", "is neither store, site nor policy with an id");
        };
    }

    private static List<WeekView.ChosenBy> choices(FleetNow fleet, List<WeekPart.WeekAhead> ahead) {
        List<WeekView.ChosenBy> out = new ArrayList<>();
        fleet.fleet().stores().stream()
                .filter(s -> ahead.stream().anyMatch(shown("store:" + s.id())))
                .sorted(Comparator.comparing(BackupStore::name))
                .forEach(s -> out.add(new WeekView.ChosenBy("store", s.id(), s.name())));
        fleet.sites().values().stream()
                .filter(s -> ahead.stream().anyMatch(shown("site:" + s.id())))
                .sorted(Comparator.comparing(s -> s.name()))
                .forEach(s -> out.add(new WeekView.ChosenBy("site", s.id(), s.name())));
        fleet.fleet().policies().stream()
                .sorted()
                .forEach(p -> out.add(new WeekView.ChosenBy(
                        "policy", p, fleet.fleet().versions(p).get(0).name())));
        out.add(new WeekView.ChosenBy("all", "", "the whole fleet"));
        return out;
    }

    private static WeekView.SlotBar bar(Database d, WeekPart.Coming e) {
        String state = e.off()
                ? "off"
                : e.slot().verdict() == SlotVerdict.SUPERSEDED || e.slot().verdict() == SlotVerdict.EXCUSED
                        ? e.slot().verdict().word()
                        : "planned";
        return new WeekView.SlotBar(
                d.id(),
                d.name(),
                e.slot().policy(),
                e.slot().version(),
                e.slot().schedule(),
                e.slot().kind().word(),
                e.slot().open(),
                e.slot().close(),
                e.mustFinish(),
                state,
                e.usual().map(u -> CoverRows.seconds(u.median())).orElse(null),
                e.usual().map(u -> CoverRows.seconds(u.longest())).orElse(null),
                e.usual().map(Usual::runs).orElse(0),
                e.store().orElse(null),
                CoverRows.seconds(e.overrun()));
    }

    /** The open hours of each policy in view. */
    private static List<WeekView.HoursBand> open(FleetNow fleet, List<WeekPart.WeekAhead> own, Span week) {
        Map<String, Database> followers = new TreeMap<>();
        own.forEach(
                a -> a.expected().forEach(e -> followers.putIfAbsent(e.slot().policy(), a.database())));
        List<WeekView.HoursBand> out = new ArrayList<>();
        followers.forEach((policy, database) -> {
            PolicyVersion version = fleet.fleet().versionAt(policy, week.from()).orElse(null);
            if (version != null && !version.openHours().isEmpty()) {
                Spans open = new OpenTime(version.openHours(), database.zone()).within(week.from(), week.to());
                for (int i = 0; i < open.count(); i++) {
                    out.add(new WeekView.HoursBand(
                            Instant.ofEpochMilli(open.from(i)),
                            Instant.ofEpochMilli(open.to(i)),
                            "open hours of " + version.name(),
                            policy));
                }
            }
        });
        return out;
    }

    private static List<WeekView.HoursBand> closures(FleetNow fleet, List<WeekPart.WeekAhead> own, Span week) {
        return fleet.closures().stream()
                .filter(c ->
                        c.span().from().isBefore(week.to()) && c.span().to().isAfter(week.from()))
                .filter(c -> own.stream().anyMatch(a -> concerns(c, a)))
                .map(c -> new WeekView.HoursBand(
                        c.span().from(), c.span().to(), c.reason(), c.policy().orElse(null)))
                .toList();
    }

    private static boolean concerns(Closure c, WeekPart.WeekAhead a) {
        return c.database().filter(a.database().id()::equals).isPresent()
                || c.policy()
                        .filter(p -> a.expected().stream()
                                .anyMatch(e -> e.slot().policy().equals(p)))
                        .isPresent();
    }

    private static List<WeekView.Collision> collisions(
            FleetNow fleet, List<WeekPart.WeekAhead> ahead, List<WeekPart.WeekAhead> own) {
        Set<String> stores = own.stream()
                .flatMap(a -> a.expected().stream())
                .flatMap(e -> e.writing().stream())
                .map(Writing::store)
                .collect(Collectors.toSet());
        Map<String, Double> shown = Writing.shown(ahead.stream()
                .flatMap(a -> a.writings().stream())
                .filter(w -> stores.contains(w.store()))
                .toList());
        Set<String> names = own.stream().map(a -> a.database().name()).collect(Collectors.toSet());
        List<Writing> expected = ahead.stream()
                .flatMap(a -> a.expected().stream()
                        .filter(e -> e.slot().kind() != Kind.CONFIG)
                        .flatMap(e -> e.writing().stream()))
                .filter(w -> stores.contains(w.store()))
                .toList();
        return Writing.collisions(expected, shown).stream()
                .filter(c -> c.who().stream().anyMatch(names::contains))
                .limit(COLLISIONS)
                .map(c -> new WeekView.Collision(
                        c.store(),
                        fleet.storeName(c.store()),
                        c.from(),
                        c.to(),
                        c.who().size(),
                        c.who().stream().limit(SOME).toList(),
                        c.bytesPerSecond(),
                        c.shown()))
                .toList();
    }
}
