package firth.core.findings;

import firth.core.model.CopiesRule;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import java.time.DayOfWeek;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.BiFunction;
import java.util.function.Function;

/**
 * Tries every single change of a policy's values, on a ladder of values people use, and keeps for each flaw those that
 * resolve it without bringing up another, the smallest first.
 */
final class SmallestChange {

    private static final int OFFERED = 2;
    private static final double ADDING = 4;
    private static final double TAKING_AWAY = 6;
    private static final double SWITCHING = 3;

    private static final List<Duration> LADDER = ladder();

    private final PolicyVersion version;
    private final List<PolicyChange> changes = new ArrayList<>();

    private SmallestChange(PolicyVersion version) {
        this.version = version;
    }

    private static List<Duration> ladder() {
        List<Duration> out = new ArrayList<>();
        for (int minutes : new int[] {1, 2, 5, 10, 15, 20, 30, 45}) {
            out.add(Duration.ofMinutes(minutes));
        }
        for (int hours : new int[] {1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 18, 26, 30, 36}) {
            out.add(Duration.ofHours(hours));
        }
        for (int days : new int[] {1, 2, 3, 4, 5, 7, 8, 10, 14, 18, 21, 25, 30, 35, 40, 60, 90, 180, 365, 400}) {
            out.add(Duration.ofDays(days));
        }
        return out;
    }

    static List<PolicyFlaw> resolving(
            PolicyVersion version, List<PolicyFlaw> flaws, Function<PolicyVersion, List<PolicyFlaw>> check) {
        SmallestChange tries = new SmallestChange(version);
        tries.all();
        List<List<PolicyChange>> found = new ArrayList<>();
        flaws.forEach(f -> found.add(new ArrayList<>()));
        tries.changes.sort(Comparator.comparingDouble(PolicyChange::size));
        for (PolicyChange change : tries.changes) {
            List<PolicyFlaw> left = check.apply(change.result());
            boolean nothingNew = left.stream().allMatch(l -> flaws.stream().anyMatch(l::isSameAs));
            for (int f = 0; f < flaws.size() && nothingNew; f++) {
                List<PolicyChange> ways = found.get(f);
                boolean gone = left.stream().noneMatch(flaws.get(f)::isSameAs);
                boolean another = ways.stream().noneMatch(w -> w.path().equals(change.path()));
                if (gone && another && ways.size() < OFFERED) {
                    ways.add(change);
                }
            }
        }
        List<PolicyFlaw> out = new ArrayList<>();
        for (int f = 0; f < flaws.size(); f++) {
            out.add(flaws.get(f).with(found.get(f)));
        }
        return List.copyOf(out);
    }

    private void all() {
        objective();
        for (int i = 0; i < version.schedules().size(); i++) {
            schedule(i, version.schedules().get(i));
        }
        added();
        retained();
        for (int i = 0; i < version.retain().size(); i++) {
            retain(i, version.retain().get(i));
        }
        copies();
        openHours();
        changes.add(new PolicyChange(
                "enabled",
                String.valueOf(version.enabled()),
                String.valueOf(!version.enabled()),
                SWITCHING,
                version.with(!version.enabled())));
    }

    /** Every other duration of the ladder in the place of one. */
    private void durations(String path, Duration now, Function<Duration, PolicyVersion> with) {
        for (Duration other : LADDER) {
            if (!other.equals(now)) {
                double size = now.isZero()
                        ? ADDING
                        : Math.abs(Math.log((double) other.toMillis() / now.toMillis()) / Math.log(2));
                changes.add(new PolicyChange(path, now.toString(), other.toString(), size, with.apply(other)));
            }
        }
    }

    private void objective() {
        Objective o = version.objective();
        o.rpo().forEach((hazard, now) -> {
            String path = "objective." + hazard.field();
            durations(path, now, d -> version.with(promising(o, hazard, Optional.of(d))));
            changes.add(new PolicyChange(
                    path, now.toString(), "", TAKING_AWAY, version.with(promising(o, hazard, Optional.empty()))));
        });
        o.reach().ifPresent(now -> {
            durations("objective.reach", now, d -> version.with(reaching(o, Optional.of(d))));
            changes.add(new PolicyChange(
                    "objective.reach", now.toString(), "", TAKING_AWAY, version.with(reaching(o, Optional.empty()))));
        });
    }

    private static Objective promising(Objective o, Hazard hazard, Optional<Duration> d) {
        Map<Hazard, Duration> rpo = new EnumMap<>(Hazard.class);
        rpo.putAll(o.rpo());
        rpo.remove(hazard);
        d.ifPresent(v -> rpo.put(hazard, v));
        return new Objective(rpo, o.reach(), o.restoreTime(), o.drillEvery());
    }

    private static Objective reaching(Objective o, Optional<Duration> reach) {
        return new Objective(o.rpo(), reach, o.restoreTime(), o.drillEvery());
    }

    private void schedule(int i, Schedule s) {
        String path = "schedules." + i + ".";
        s.every().ifPresent(now -> durations(path + "every", now, d -> replaced(i, s.withEvery(d))));
        s.within().ifPresent(now -> durations(path + "within", now, d -> replaced(i, s.withWithin(d))));
        durations(path + "grace", s.grace(), d -> replaced(i, s.withGrace(d)));
        if (s.recurrence().isPresent()) {
            Weekly weekly = new Weekly(List.of(DayOfWeek.SATURDAY), 22, 0);
            changes.add(new PolicyChange(
                    path + "at", "", weekly.written(), ADDING + 1, replaced(i, s.withRecurrence(weekly))));
        }
        changes.add(new PolicyChange(
                path + "enabled",
                String.valueOf(s.enabled()),
                String.valueOf(!s.enabled()),
                SWITCHING,
                replaced(i, s.with(!s.enabled()))));
    }

    private PolicyVersion replaced(int i, Schedule s) {
        List<Schedule> all = new ArrayList<>(version.schedules());
        all.set(i, s);
        return version.withSchedules(all);
    }

    /** A full a week or a night, or logs. */
    private void added() {
        Weekly weekly = new Weekly(List.of(DayOfWeek.SATURDAY), 22, 0);
        Weekly nightly = new Weekly(List.of(DayOfWeek.values()), 22, 0);
        add("weekly-full", weekly.written(), ADDING, Schedule.of("weekly-full", weekly, Duration.ofHours(4)));
        add("nightly-full", nightly.written(), ADDING + 1, Schedule.of("nightly-full", nightly, Duration.ofHours(4)));
        if (version.schedules().stream().noneMatch(s -> s.kind() == Kind.LOG)) {
            for (Duration every : LADDER.subList(0, 14)) {
                double size = ADDING + Math.abs(Math.log(every.toMinutes() / 15.0) / Math.log(2)) / 4;
                add("logs", every.toString(), size, Schedule.logs("logs", every));
            }
        }
    }

    /** A reach as long as is promised, or two weeks, in stores of a role that has no rule. */
    private void retained() {
        Duration reach = version.objective().reach().filter(r -> !r.isZero()).orElse(Duration.ofDays(14));
        for (Role role : Role.values()) {
            if (version.retain().stream().noneMatch(r -> r.role() == role)) {
                List<RetainRule> all = new ArrayList<>(version.retain());
                all.add(new RetainRule(
                        role,
                        Optional.of(reach),
                        OptionalInt.of(2),
                        true,
                        Map.of(),
                        OptionalInt.empty(),
                        Optional.empty()));
                changes.add(new PolicyChange(
                        "retain.+" + role.word(),
                        "",
                        reach.toString(),
                        ADDING + role.ordinal() / 10.0,
                        version.withRetain(all)));
            }
        }
    }

    private void add(String id, String written, double size, Schedule schedule) {
        if (version.schedules().stream().noneMatch(s -> s.id().equals(id))) {
            List<Schedule> all = new ArrayList<>(version.schedules());
            all.add(schedule);
            changes.add(new PolicyChange("schedules.+" + id, "", written, size, version.withSchedules(all)));
        }
    }

    private void retain(int i, RetainRule r) {
        String path = "retain." + i + ".";
        r.reach().ifPresent(now -> durations(path + "reach", now, d -> retaining(i, r.withReach(Optional.of(d)))));
        r.atMost().ifPresent(now -> durations(path + "atMost", now, d -> retaining(i, r.withAtMost(Optional.of(d)))));
        r.lock().ifPresent(now -> {
            durations(path + "lock", now, d -> retaining(i, r.withLock(Optional.of(d))));
            changes.add(new PolicyChange(
                    path + "lock", now.toString(), "", TAKING_AWAY, retaining(i, r.withLock(Optional.empty()))));
        });
        if (r.lock().isEmpty()) {
            for (Duration lock :
                    LADDER.subList(LADDER.indexOf(Duration.ofDays(7)), LADDER.indexOf(Duration.ofDays(40)))) {
                // The longer it locks the better; how long it may, what is retained says.
                changes.add(new PolicyChange(
                        path + "lock",
                        "",
                        lock.toString(),
                        ADDING + 1.0 / lock.toDays(),
                        retaining(i, r.withLock(Optional.of(lock)))));
            }
        }
        for (Role other : Role.values()) {
            if (other != r.role()) {
                changes.add(new PolicyChange(
                        path + "role", r.role().word(), other.word(), SWITCHING, retaining(i, r.with(other))));
            }
        }
        List<RetainRule> without = new ArrayList<>(version.retain());
        without.remove(i);
        changes.add(new PolicyChange("retain." + i, r.role().word(), "", TAKING_AWAY, version.withRetain(without)));
        if (r.fulls().isPresent()) {
            int now = r.fulls().getAsInt();
            for (int n = 1; n <= 14; n++) {
                counts(path + "fulls", now, n, retaining(i, r.withFulls(OptionalInt.of(n))));
            }
        }
        r.rungs().forEach((unit, now) -> {
            for (int n = 1; n < now; n++) {
                Map<RungUnit, Integer> fewer = new EnumMap<>(r.rungs());
                fewer.put(unit, n);
                counts(path + "rungs." + unit.word(), now, n, retaining(i, r.withRungs(fewer)));
            }
            Map<RungUnit, Integer> rungs = new EnumMap<>(RungUnit.class);
            rungs.putAll(r.rungs());
            rungs.remove(unit);
            changes.add(new PolicyChange(
                    path + "rungs." + unit.word(), now.toString(), "", TAKING_AWAY, retaining(i, r.withRungs(rungs))));
        });
    }

    private void counts(String path, int now, int other, PolicyVersion result) {
        if (other != now) {
            changes.add(
                    new PolicyChange(path, String.valueOf(now), String.valueOf(other), Math.abs(other - now), result));
        }
    }

    private PolicyVersion retaining(int i, RetainRule rule) {
        List<RetainRule> all = new ArrayList<>(version.retain());
        all.set(i, rule);
        return version.withRetain(all);
    }

    private void copies() {
        CopiesRule c = version.copies();
        fewer("copies.stores", c.stores(), n -> new CopiesRule(n, c.media(), c.offsite(), c.locked()));
        fewer("copies.media", c.media(), n -> new CopiesRule(c.stores(), n, c.offsite(), c.locked()));
        fewer("copies.offsite", c.offsite(), n -> new CopiesRule(c.stores(), c.media(), n, c.locked()));
        fewer("copies.locked", c.locked(), n -> new CopiesRule(c.stores(), c.media(), c.offsite(), n));
    }

    private void fewer(String path, int now, Function<Integer, CopiesRule> with) {
        for (int n = now - 1; n >= 0; n--) {
            counts(path, now, n, version.with(with.apply(n)));
        }
    }

    /** Open hours that begin earlier or end later. */
    private void openHours() {
        BiFunction<Integer, OpenHours, PolicyVersion> replacing = (i, h) -> {
            List<OpenHours> all = new ArrayList<>(version.openHours());
            all.set(i, h);
            return version.withOpenHours(all);
        };
        for (int i = 0; i < version.openHours().size(); i++) {
            OpenHours h = version.openHours().get(i);
            for (int hours = 1; hours <= 12; hours++) {
                int from = Math.floorMod(h.fromMinute() - 60 * hours, 1440);
                int to = Math.floorMod(h.toMinute() + 60 * hours - 1, 1440) + 1;
                String path = "openHours." + i;
                changes.add(new PolicyChange(
                        path + ".from",
                        clock(h.fromMinute()),
                        clock(from),
                        hours / 2.0,
                        replacing.apply(i, new OpenHours(h.days(), from, h.toMinute()))));
                changes.add(new PolicyChange(
                        path + ".to",
                        clock(h.toMinute()),
                        clock(to),
                        hours / 2.0,
                        replacing.apply(i, new OpenHours(h.days(), h.fromMinute(), to))));
            }
        }
    }

    private static String clock(int minute) {
        return String.format(Locale.ROOT, "%02d:%02d", minute / 60, minute % 60);
    }
}
