package firth.core.adherence;

import firth.core.adherence.Attempt.Progress;
import firth.core.adherence.Slot.Ground;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Compares runs with the slots the policies in force asked for (docs/semantics.md, "Slots"). */
public final class Slots {

    /** Which kind serves another's slot: the lower the stronger. Kinds that are not data have none. */
    private static final List<Kind> BY_STRENGTH = List.of(Kind.FULL, Kind.DIFF, Kind.INCR);

    private final Database database;
    private final Fleet fleet;
    private final Instant now;
    private final Spans stopped;
    private final List<Closure> closures;
    private final List<Attempt> attempts;
    private final List<Expected> expected = new ArrayList<>();
    private final Map<Attempt, Expected> taken = new HashMap<>();
    private final Map<String, Spans> closed = new HashMap<>();

    private Slots(
            Database database,
            Fleet fleet,
            Instant now,
            Spans stopped,
            List<Closure> closures,
            List<Attempt> attempts) {
        this.database = database;
        this.fleet = fleet;
        this.now = now;
        this.stopped = stopped;
        this.closures = closures;
        this.attempts = attempts;
    }

    /** A slot before it is judged. */
    private static final class Expected {
        private final PolicyVersion version;
        private final Schedule schedule;
        private final Instant open;
        private final Instant close;
        private final List<Attempt> own = new ArrayList<>();
        /** How long before its opening a run may start that is to count for it. */
        private Duration early;

        private @Nullable Expected supersededBy;

        Expected(PolicyVersion version, Schedule schedule, Instant open) {
            this.version = version;
            this.schedule = schedule;
            this.open = open;
            this.close = open.plus(schedule.within().orElse(Duration.ZERO));
            this.early = schedule.grace();
        }

        void follows(Expected before) {
            Duration half = Duration.between(before.open, open).dividedBy(2);
            early = half.compareTo(early) < 0 ? half : early;
        }

        Instant takesFrom() {
            return open.minus(early);
        }

        NamedSlot name() {
            return new NamedSlot(schedule.id(), open);
        }

        boolean overlaps(Expected other) {
            return open.isBefore(other.close) && other.open.isBefore(close);
        }
    }

    /**
     * The slots that open in a period, in order.
     *
     * @param attempts the database's runs as known now, in the order they started
     */
    public static List<Slot> of(
            Database database,
            Fleet fleet,
            Instant now,
            Span period,
            Spans stopped,
            List<Closure> closures,
            List<Attempt> attempts) {
        Slots slots = new Slots(database, fleet, now, stopped, closures, attempts);
        slots.expect(period);
        slots.supersede();
        slots.attribute();
        return slots.expected.stream()
                .filter(e -> !e.open.isBefore(period.from()) && e.open.isBefore(period.to()))
                .map(slots::judged)
                .toList();
    }

    /** The kinds whose runs can matter: data backups, and whatever else a schedule has slots for. */
    public static Set<Kind> kinds(Fleet fleet, Database database) {
        Set<Kind> out = EnumSet.copyOf(BY_STRENGTH);
        for (Instant change : fleet.changes(database)) {
            fleet.versionAt(database, change).map(PolicyVersion::schedules).orElse(List.of()).stream()
                    .filter(s -> s.recurrence().isPresent())
                    .forEach(s -> out.add(s.kind()));
        }
        return out;
    }

    /** Lays out the slots that open in the period, with those around it that decide about them. */
    private void expect(Span period) {
        List<Instant> bounds = new ArrayList<>(fleet.changes(database));
        bounds.add(database.inServiceFrom());
        Duration around = longest(bounds);
        Instant from = max(period.from().minus(around), database.inServiceFrom());
        Instant to = max(period.to(), now).plus(around);
        bounds.add(from);
        List<Instant> cuts = bounds.stream()
                .filter(b -> !b.isBefore(from) && b.isBefore(to))
                .distinct()
                .sorted()
                .toList();
        for (int i = 0; i < cuts.size(); i++) {
            Instant end = i + 1 < cuts.size() ? cuts.get(i + 1) : to;
            Instant begin = cuts.get(i);
            fleet.versionAt(database, begin)
                    .filter(PolicyVersion::enabled)
                    .ifPresent(v -> v.schedules().forEach(s -> expect(v, s, begin, end)));
        }
        expected.sort(Comparator.<Expected, Instant>comparing(e -> e.open)
                .thenComparing(e -> e.schedule.id(), Comparator.reverseOrder()));
        Map<List<String>, Expected> before = new HashMap<>();
        for (Expected slot : expected) {
            Expected last = before.put(List.of(slot.version.id(), slot.schedule.id()), slot);
            if (last != null) {
                slot.follows(last);
            }
        }
    }

    private void expect(PolicyVersion version, Schedule schedule, Instant from, Instant to) {
        if (schedule.enabled()) {
            schedule.openings(version, database.zone(), from, to)
                    .forEach(open -> expected.add(new Expected(version, schedule, open)));
        }
    }

    /** How far outside the period slots can matter: a few start windows and graces. */
    private Duration longest(List<Instant> changes) {
        Duration out = Duration.ofDays(1);
        for (Instant change : changes) {
            for (Schedule s : fleet.versionAt(database, change)
                    .map(PolicyVersion::schedules)
                    .orElse(List.of())) {
                Duration reach =
                        s.within().orElse(Duration.ZERO).plus(s.grace()).multipliedBy(3);
                out = reach.compareTo(out) > 0 ? reach : out;
            }
        }
        return out;
    }

    private static Instant max(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }

    /** Marks data slots that overlap an expected slot of a stronger kind of the same policy. */
    private void supersede() {
        for (int strength = 1; strength < BY_STRENGTH.size(); strength++) {
            Kind kind = BY_STRENGTH.get(strength);
            List<Kind> stronger = BY_STRENGTH.subList(0, strength);
            List<Expected> masters = expected.stream()
                    .filter(e -> stronger.contains(e.schedule.kind()) && e.supersededBy == null)
                    .toList();
            List<Expected> weaker =
                    expected.stream().filter(e -> e.schedule.kind() == kind).toList();
            mark(weaker, masters);
        }
    }

    /** Both lists ascend by open; a window that reaches far is remembered by the furthest close so far. */
    private static void mark(List<Expected> weaker, List<Expected> masters) {
        Duration longest = masters.stream()
                .map(m -> Duration.between(m.open, m.close))
                .max(Comparator.naturalOrder())
                .orElse(Duration.ZERO);
        int first = 0;
        for (Expected slot : weaker) {
            Instant earliest = slot.open.minus(longest);
            while (first < masters.size() && masters.get(first).open.isBefore(earliest)) {
                first++;
            }
            for (int m = first; m < masters.size() && masters.get(m).open.isBefore(slot.close); m++) {
                Expected master = masters.get(m);
                if (slot.supersededBy == null
                        && master.version.id().equals(slot.version.id())
                        && master.overlaps(slot)) {
                    slot.supersededBy = master;
                }
            }
        }
    }

    /** Gives each attempt to the slot it names; any other but one by hand to the last of its kind that could take it. */
    private void attribute() {
        Map<NamedSlot, Expected> named = new HashMap<>();
        expected.forEach(e -> named.put(e.name(), e));
        List<Attempt> byTheClock = new ArrayList<>();
        for (Attempt attempt : attempts) {
            Optional<Expected> own = attempt.slot().map(named::get);
            if (own.isPresent()) {
                own.get().own.add(attempt);
                taken.put(attempt, own.get());
            } else if (!attempt.byHand() && attempt.slot().filter(this::isSlot).isEmpty()) {
                byTheClock.add(attempt);
            }
        }
        attribute(byTheClock);
        expected.forEach(e -> e.own.sort(Comparator.comparing(Attempt::started).thenComparing(Attempt::id)));
    }

    /** Whether a slot that is named was one of the database, however long ago. */
    private boolean isSlot(NamedSlot named) {
        Instant opens = named.opens();
        return !opens.isBefore(database.inServiceFrom())
                && fleet.versionAt(database, opens).filter(PolicyVersion::enabled).stream()
                        .flatMap(v -> v.schedules().stream()
                                .filter(s -> s.enabled() && s.id().equals(named.schedule()))
                                .map(s -> s.openings(v, database.zone(), opens, opens.plusMillis(1))))
                        .anyMatch(found -> !found.isEmpty());
    }

    private void attribute(List<Attempt> attempts) {
        for (Kind kind : Kind.values()) {
            List<Expected> slots =
                    expected.stream().filter(e -> e.schedule.kind() == kind).toList();
            List<Expected> byStart = slots.stream()
                    .sorted(Comparator.comparing(Expected::takesFrom))
                    .toList();
            int next = 0;
            Expected newest = null;
            for (Attempt attempt : attempts) {
                if (attempt.kind() == kind) {
                    while (next < byStart.size()
                            && !byStart.get(next).takesFrom().isAfter(attempt.started())) {
                        newest = later(newest, byStart.get(next++));
                    }
                    if (newest != null) {
                        newest.own.add(attempt);
                        taken.put(attempt, newest);
                    }
                }
            }
        }
    }

    private static Expected later(@Nullable Expected a, Expected b) {
        if (a == null || b.open.isAfter(a.open)) {
            return b;
        }
        return b.open.equals(a.open) && b.schedule.id().compareTo(a.schedule.id()) < 0 ? b : a;
    }

    private Slot judged(Expected e) {
        SlotVerdict verdict = verdict(e);
        return new Slot(
                e.version.id(),
                e.version.version(),
                e.schedule.id(),
                e.schedule.kind(),
                e.open,
                e.close,
                verdict,
                e.own,
                Duration.ofMillis(spill(e)),
                grounds(e, verdict));
    }

    private List<Ground> grounds(Expected e, SlotVerdict verdict) {
        List<Ground> out = new ArrayList<>();
        if (verdict == SlotVerdict.SUPERSEDED && e.supersededBy != null) {
            out.add(new Ground(Ground.FactKind.SLOT, Optional.of(e.supersededBy.schedule.id()), e.supersededBy.open));
        } else if (verdict == SlotVerdict.SUPERSEDED) {
            servedByAnother(e)
                    .ifPresent(a -> out.add(new Ground(Ground.FactKind.RUN, Optional.of(a.id()), a.started())));
        } else if (verdict == SlotVerdict.EXCUSED) {
            closures.stream()
                    .filter(c -> c.database().filter(database.id()::equals).isPresent()
                            || c.policy().filter(e.version.id()::equals).isPresent())
                    .filter(c ->
                            c.span().from().isBefore(e.close) && c.span().to().isAfter(e.open))
                    .forEach(c -> out.add(new Ground(
                            Ground.FactKind.CLOSURE,
                            Optional.of(c.id()),
                            c.span().from())));
            database.stopped().stream()
                    .filter(s -> s.from().isBefore(e.close)
                            && s.to().map(e.open::isBefore).orElse(true))
                    .forEach(s -> out.add(new Ground(Ground.FactKind.STOPPED, Optional.empty(), s.from())));
        }
        return out;
    }

    private SlotVerdict verdict(Expected e) {
        Optional<Attempt> ok = e.own.stream().filter(Attempt::ok).findFirst();
        if (e.supersededBy != null || ok.isEmpty() && servedByAnother(e).isPresent()) {
            return SlotVerdict.SUPERSEDED;
        }
        if (ok.isEmpty() && excused(e)) {
            return SlotVerdict.EXCUSED;
        }
        if (ok.isPresent()) {
            boolean inTime = ok.get().started().isBefore(e.close);
            boolean overran = e.schedule.mustFinish()
                    && ok.get().ended().filter(e.close::isBefore).isPresent();
            return !inTime ? SlotVerdict.LATE : overran ? SlotVerdict.OVERRAN : SlotVerdict.ON_TIME;
        }
        if (e.own.stream().anyMatch(a -> a.state() == Progress.RUNNING)) {
            return SlotVerdict.RUNNING;
        }
        if (!e.own.isEmpty()) {
            return e.close.isAfter(now) ? SlotVerdict.RETRYING : SlotVerdict.FAILED;
        }
        if (!now.isBefore(e.close.plus(e.schedule.grace()))) {
            return SlotVerdict.MISSED;
        }
        return e.open.isAfter(now) ? SlotVerdict.PLANNED : SlotVerdict.DUE;
    }

    /** Whether an ok run of a stronger kind, or of its own taken by another schedule or by hand, started when it might have. */
    private Optional<Attempt> servedByAnother(Expected e) {
        int strength = BY_STRENGTH.indexOf(e.schedule.kind());
        List<Kind> stronger = strength > 0 ? BY_STRENGTH.subList(0, strength) : List.of();
        for (int i = firstFrom(e.takesFrom()); i < attempts.size(); i++) {
            Attempt a = attempts.get(i);
            if (!a.started().isBefore(e.close)) {
                break;
            }
            Expected owner = taken.get(a);
            boolean byAnother = a.kind() == e.schedule.kind()
                    && (a.byHand() || owner != null && !owner.schedule.id().equals(e.schedule.id()));
            if (a.ok() && (stronger.contains(a.kind()) || byAnother)) {
                return Optional.of(a);
            }
        }
        return Optional.empty();
    }

    private int firstFrom(Instant moment) {
        int low = 0;
        int high = attempts.size();
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (attempts.get(middle).started().isBefore(moment)) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    private boolean excused(Expected e) {
        Spans off = stopped.or(closedFor(e.version.id()));
        Spans slot = Spans.of(e.open.toEpochMilli(), e.close.toEpochMilli());
        return slot.and(off).equals(slot);
    }

    /** When closures of the database, or of a policy while it follows that, are in force. */
    private Spans closedFor(String policy) {
        return closed.computeIfAbsent(policy, p -> {
            Spans own = Spans.NONE;
            Spans ofPolicy = Spans.NONE;
            for (Closure c : closures) {
                Spans span =
                        Spans.of(c.span().from().toEpochMilli(), c.span().to().toEpochMilli());
                if (c.database().filter(database.id()::equals).isPresent()) {
                    own = own.or(span);
                }
                if (c.policy().filter(p::equals).isPresent()) {
                    ofPolicy = ofPolicy.or(span);
                }
            }
            return ofPolicy.isEmpty() ? own : own.or(ofPolicy.and(followed(p)));
        });
    }

    private Spans followed(String policy) {
        List<Instant> changes =
                fleet.changes(database).stream().distinct().sorted().toList();
        Spans out = database.assigned().isEmpty()
                        && database.policy().filter(policy::equals).isPresent()
                ? Spans.of(Long.MIN_VALUE, Spans.FOREVER)
                : Spans.NONE;
        for (int i = 0; i < changes.size(); i++) {
            if (database.policyAt(changes.get(i)).filter(policy::equals).isPresent()) {
                long to = i + 1 < changes.size() ? changes.get(i + 1).toEpochMilli() : Spans.FOREVER;
                out = out.or(Spans.of(changes.get(i).toEpochMilli(), to));
            }
        }
        return out;
    }

    private long spill(Expected e) {
        OpenTime hours = new OpenTime(e.version.openHours(), database.zone());
        long out = 0;
        for (Attempt a : e.own) {
            out += a.kind().isData() ? hours.outside(a.started(), a.ended().orElse(now)) : 0;
        }
        return out;
    }
}
