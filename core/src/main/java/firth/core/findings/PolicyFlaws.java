package firth.core.findings;

import firth.core.adherence.OpenTime;
import firth.core.findings.Followers.Of;
import firth.core.findings.Followers.Provision;
import firth.core.model.CopiesRule;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Finds what in a policy contradicts itself (docs/semantics.md, "Rules that contradict themselves"). */
public final class PolicyFlaws {

    private static final Set<Kind> FULL = EnumSet.of(Kind.FULL);
    private static final Set<Kind> DATA = EnumSet.of(Kind.FULL, Kind.DIFF, Kind.INCR);
    private static final int LOOKED_AT = 60;

    private final Followers followers;
    private final List<Calendar> calendars;

    @SuppressWarnings("NullAway.Init")
    private PolicyVersion version;

    @SuppressWarnings("NullAway.Init")
    private List<PolicyFlaw> found;

    private PolicyFlaws(Followers followers, Calendars from) {
        this.followers = followers;
        this.calendars = followers.zones().stream().map(from::in).toList();
    }

    /**
     * What does not fit, each with the smallest changes that resolve it.
     *
     * @param from the moment from which on the policy's slots are looked at
     */
    public static List<PolicyFlaw> of(PolicyVersion version, Followers followers, Instant from) {
        return of(version, followers, Calendars.from(from));
    }

    /**
     * What does not fit, each with the smallest changes that resolve it.
     *
     * @param from of the moment from which on the policy's slots are looked at
     */
    static List<PolicyFlaw> of(PolicyVersion version, Followers followers, Calendars from) {
        PolicyFlaws flaws = new PolicyFlaws(followers, from);
        List<PolicyFlaw> all = flaws.in(version);
        return all.isEmpty() ? all : SmallestChange.resolving(version, all, flaws::in);
    }

    private List<PolicyFlaw> in(PolicyVersion candidate) {
        version = candidate;
        found = new ArrayList<>();
        if (version.enabled()) {
            objectives();
            withoutLogs();
            withoutFull();
            retention();
            copies();
            hours();
            slots();
            new RetentionFlaws(version, followers, spacing(), this::add).find();
        } else {
            switchedOff();
        }
        return found;
    }

    private void add(String code, String path, FlawDetail detail) {
        PolicyFlaw flaw = new PolicyFlaw(code, path, detail, List.of());
        if (found.stream().noneMatch(flaw::isSameAs)) {
            found.add(flaw);
        }
    }

    private List<Schedule> live(Kind kind) {
        return version.live().stream().filter(s -> s.kind() == kind).toList();
    }

    /** The longest time between logs; empty where none are scheduled. */
    private Optional<Duration> betweenLogs() {
        return live(Kind.LOG).stream()
                .flatMap(s -> s
                        .every()
                        .or(() -> calendars.stream()
                                .flatMap(c -> c.spacing(s).stream())
                                .max(Duration::compareTo))
                        .stream())
                .min(Duration::compareTo);
    }

    private void objectives() {
        version.objective().rpo().forEach((hazard, promised) -> {
            Optional<Of<Duration>> delay = followers.delay(hazard);
            Duration more = delay.map(Of::value).orElse(Duration.ZERO);
            betweenLogs()
                    .filter(every -> promised.compareTo(every.plus(more)) < 0)
                    .ifPresent(every -> add(
                            "objective-too-short",
                            "objective." + hazard.field(),
                            new FlawDetail.ObjectiveTooShort(
                                    hazard, promised, every, delay.filter(d -> promised.compareTo(every) >= 0))));
        });
        unserved(Hazard.SITE_LOSS, Provision.OFFSITE);
        unserved(Hazard.SABOTAGE, Provision.LOCKED);
    }

    private void unserved(Hazard hazard, Provision needed) {
        followers
                .provided(needed)
                .filter(of -> of.value() == 0)
                .ifPresent(of -> Optional.ofNullable(version.objective().rpo().get(hazard))
                        .ifPresent(promised -> add(
                                "hazard-unserved",
                                "objective." + hazard.field(),
                                new FlawDetail.HazardUnserved(hazard, promised, of.database()))));
    }

    private void withoutLogs() {
        if (!live(Kind.LOG).isEmpty()) {
            return;
        }
        Optional<Duration> promised =
                Optional.ofNullable(version.objective().rpo().get(Hazard.MISHAP));
        for (Calendar calendar : calendars) {
            Optional<Duration> spacing = calendar.spacing(version, DATA);
            if (promised.isPresent()
                    && spacing.filter(s -> promised.get().compareTo(s) < 0).isPresent()) {
                add(
                        "objective-without-logs",
                        "objective.mishap",
                        new FlawDetail.ObjectiveWithoutLogs(promised.get(), spacing.get()));
            }
        }
        version.objective()
                .reach()
                .filter(r -> !r.isZero())
                .ifPresent(
                        reach -> add("reach-without-logs", "objective.reach", new FlawDetail.ReachWithoutLogs(reach)));
    }

    private void withoutFull() {
        if (!live(Kind.FULL).isEmpty()) {
            return;
        }
        add("no-full", "schedules", new FlawDetail.NoFull());
        for (int i = 0; i < version.schedules().size(); i++) {
            Schedule s = version.schedules().get(i);
            if (s.enabled() && (s.kind() == Kind.DIFF || s.kind() == Kind.INCR)) {
                add(
                        "hangs-from-nothing",
                        "schedules." + i + ".kind",
                        new FlawDetail.HangsFromNothing(s.kind(), s.id()));
            }
        }
    }

    /** How far apart fulls lie at the most. */
    private Optional<Duration> spacing() {
        return calendars.stream()
                .flatMap(c -> c.spacing(version, FULL).stream())
                .max(Duration::compareTo);
    }

    private void retention() {
        Optional<Duration> spacing = spacing();
        version.objective().reach().ifPresent(r -> reachHasFull("objective.reach", r, spacing));
        for (int i = 0; i < version.retain().size(); i++) {
            RetainRule rule = version.retain().get(i);
            String path = "retain." + i + ".";
            rule.reach().ifPresent(r -> reachHasFull(path + "reach", r, spacing));
            nothing(rule, path);
            rungs(rule, path);
            limits(rule, path, spacing);
        }
    }

    private void reachHasFull(String path, Duration reach, Optional<Duration> spacing) {
        spacing.filter(s -> !reach.isZero() && s.compareTo(reach) > 0)
                .ifPresent(s -> add("reach-without-full", path, new FlawDetail.ReachWithoutFull(s, reach)));
    }

    private void nothing(RetainRule rule, String path) {
        if (version.live().isEmpty()) {
            return;
        }
        if (rule.reach().filter(Duration::isZero).isPresent()) {
            add("retains-nothing", path + "reach", new FlawDetail.RetainsNothing(rule.role(), true));
        }
        if (rule.fulls().orElse(1) == 0) {
            add("retains-nothing", path + "fulls", new FlawDetail.RetainsNothing(rule.role(), false));
        }
    }

    private void rungs(RetainRule rule, String path) {
        for (Map.Entry<RungUnit, Integer> rung : rule.rungs().entrySet()) {
            for (Calendar calendar : calendars) {
                Optional<LocalDate> empty =
                        rung.getValue() == 0 ? Optional.empty() : calendar.without(rung.getKey(), version, FULL);
                empty.ifPresent(day -> add(
                        "rung-without-full",
                        path + "rungs." + rung.getKey().word(),
                        new FlawDetail.RungWithoutFull(rung.getKey(), day)));
            }
        }
    }

    private void limits(RetainRule rule, String path, Optional<Duration> spacing) {
        rule.atMost()
                .ifPresent(most -> rule.reach()
                        .filter(reach -> most.compareTo(reach) < 0)
                        .ifPresent(reach ->
                                add("at-most-too-short", path + "atMost", new FlawDetail.AtMostTooShort(most, reach))));
        Optional<Duration> kept = rule.atMost().or(() -> longest(rule, spacing));
        rule.lock()
                .filter(lock -> kept.filter(k -> lock.compareTo(k) > 0).isPresent())
                .ifPresent(lock -> add("lock-too-long", path + "lock", new FlawDetail.LockTooLong(lock, kept.get())));
    }

    /** How long the rule needs what it needs longest; empty where that is not known. */
    private static Optional<Duration> longest(RetainRule rule, Optional<Duration> spacing) {
        Optional<Duration> out = rule.reach().map(r -> r.plus(spacing.orElse(Duration.ZERO)));
        if (rule.fulls().isPresent() && spacing.isPresent()) {
            out = later(out, spacing.get().multipliedBy(rule.fulls().getAsInt()));
        }
        for (Map.Entry<RungUnit, Integer> rung : rule.rungs().entrySet()) {
            out = later(out, Duration.ofDays((long) rung.getKey().days() * rung.getValue()));
        }
        return out;
    }

    private static Optional<Duration> later(Optional<Duration> one, Duration other) {
        return one.filter(d -> d.compareTo(other) >= 0).or(() -> Optional.of(other));
    }

    private void copies() {
        CopiesRule rule = version.copies();
        asked(Provision.STORES, "copies.stores", rule.stores());
        asked(Provision.MEDIA, "copies.media", rule.media());
        asked(Provision.OFFSITE, "copies.offsite", rule.offsite());
        asked(Provision.LOCKED, "copies.locked", rule.locked());
    }

    private void asked(Provision what, String path, int count) {
        followers
                .provided(what)
                .filter(of -> of.value() < count)
                .ifPresent(of -> add(
                        "copies-impossible",
                        path,
                        new FlawDetail.CopiesImpossible(what, count, of.database(), of.value())));
    }

    private void hours() {
        Duration longest = new OpenTime(version.openHours(), calendars.get(0).zone()).longest();
        for (int i = 0; i < version.schedules().size(); i++) {
            Schedule s = version.schedules().get(i);
            String path = "schedules." + i + ".";
            if (s.enabled()
                    && s.within().filter(w -> w.compareTo(s.grace()) < 0).isPresent()) {
                add(
                        "window-shorter-than-grace",
                        path + "within",
                        new FlawDetail.WindowShorterThanGrace(s.id(), s.within().get(), s.grace()));
            }
            if (s.enabled() && s.kind().isData() && !version.openHours().isEmpty()) {
                inOpenHours(s, path, longest);
            }
        }
    }

    private void inOpenHours(Schedule s, String path, Duration longest) {
        for (Calendar calendar : calendars) {
            OpenTime open = new OpenTime(version.openHours(), calendar.zone());
            List<Instant> slots = calendar.first(s, LOOKED_AT);
            if (!slots.isEmpty() && slots.stream().noneMatch(open::contains)) {
                add("outside-open-hours", path + "at", new FlawDetail.OutsideOpenHours(s.id()));
            }
        }
        followers
                .takes(s.kind())
                .filter(of -> of.value().compareTo(longest) > 0)
                .ifPresent(of -> add(
                        "longer-than-open-hours",
                        "openHours",
                        new FlawDetail.LongerThanOpenHours(s.kind(), of.database(), of.value(), longest)));
    }

    /** When slots open, one by one and together. */
    private void slots() {
        List<Schedule> all = version.schedules();
        for (int i = 0; i < all.size(); i++) {
            Schedule s = all.get(i);
            if (!s.enabled() || s.recurrence().isEmpty()) {
                continue;
            }
            String path = "schedules." + i + ".";
            if (calendars.stream().allMatch(c -> c.first(s, 1).isEmpty())) {
                add("never-occurs", path + "at", new FlawDetail.NeverOccurs(s.id()));
            }
            Optional<Duration> apart =
                    calendars.stream().flatMap(c -> c.closest(s).stream()).min(Duration::compareTo);
            s.within()
                    .filter(w -> apart.filter(a -> a.compareTo(w) < 0).isPresent())
                    .ifPresent(w -> add(
                            "window-longer-than-spacing",
                            path + "within",
                            new FlawDetail.WindowLongerThanSpacing(s.id(), w, apart.get())));
            for (int j = 0; j < all.size(); j++) {
                // Of two that always open together the one that stands later is named.
                if (i != j && isLike(s, all.get(j)) && opens(s, all.get(j)) && (j < i || !opens(all.get(j), s))) {
                    add(
                            "opens-with-another",
                            path + "at",
                            new FlawDetail.OpensWithAnother(
                                    s.kind(), s.id(), all.get(j).id()));
                }
            }
        }
    }

    private static boolean isLike(Schedule one, Schedule other) {
        return other.enabled() && other.recurrence().isPresent() && one.kind() == other.kind();
    }

    /** Whether one never opens without the other. */
    private boolean opens(Schedule one, Schedule other) {
        return calendars.stream().allMatch(c -> c.opensWith(one, other));
    }

    private void switchedOff() {
        if (version.schedules().stream().anyMatch(Schedule::enabled)) {
            add("switched-off", "enabled", new FlawDetail.SwitchedOff());
        }
    }
}
