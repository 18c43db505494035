package firth.core.findings;

import firth.core.adherence.Onboarding;
import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.cover.Availability;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Demands;
import firth.core.model.Drill;
import firth.core.model.Evidence;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Schedule;
import firth.core.model.Then;
import firth.core.time.RunningTime;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.util.Collection;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The moments at which time alone changes what is said of a database (docs/semantics.md, "The present"). Between two of them ages
 * grow, and nothing else moves. A moment too many costs an evaluation; one too few would leave a stale answer standing.
 */
public final class Moments {

    private static final Set<SlotVerdict> UNDECIDED =
            EnumSet.of(SlotVerdict.PLANNED, SlotVerdict.DUE, SlotVerdict.RUNNING, SlotVerdict.RETRYING);

    private final Evaluation e;
    private final DatabaseFacts facts;
    private final Fleet fleet;
    private final Database database;
    private final History history;
    private final RunningTime clock;
    private final long now;
    private long next;

    private Moments(Evaluation e, DatabaseFacts facts, Fleet fleet, Duration within) {
        this.e = e;
        this.facts = facts;
        this.fleet = fleet;
        this.database = e.database();
        this.history = e.history();
        this.clock = database.clock();
        this.now = e.asOf().toEpochMilli();
        this.next = e.asOf().plus(within).toEpochMilli();
    }

    /**
     * The next moment after that of an evaluation at which it may come out otherwise though no fact is added.
     *
     * @param facts those the evaluation is of
     * @param drills of the database
     * @param within moments later than so far ahead are not looked for; that far ahead is given where there is none before
     */
    public static Instant next(
            Evaluation e, DatabaseFacts facts, Fleet fleet, Collection<Drill> drills, Duration within) {
        Moments moments = new Moments(e, facts, fleet, within);
        moments.ofDatabase();
        moments.ofPromises();
        moments.ofSlots();
        moments.ofCadence();
        moments.ofBackups();
        moments.ofRules();
        moments.ofDrills(drills);
        return Instant.ofEpochMilli(moments.next);
    }

    private void at(long ms) {
        next = ms > now && ms < next ? ms : next;
    }

    private void at(Instant moment) {
        at(moment.toEpochMilli());
    }

    /** A moment and the one after: what counts up to a moment often counts at it, too. */
    private void around(long ms) {
        at(ms);
        at(ms + 1);
    }

    /** When so much running time has passed since a moment, at it or after. */
    private void after(long ms, long running) {
        long later = clock.after(ms, running);
        if (later != Spans.FOREVER) {
            around(later);
        }
    }

    private void ofDatabase() {
        at(database.inServiceFrom());
        around(database.inServiceFrom().toEpochMilli() + Onboarding.WITHOUT_SLOT.toMillis());
        fleet.changes(database).forEach(this::at);
        Spans stopped = clock.stopped();
        for (int s = 0; s < stopped.count(); s++) {
            around(stopped.from(s));
            around(stopped.to(s));
        }
        database.lineages().forEach(l -> l.openedAt().ifPresent(this::at));
        database.particulars().retired().ifPresent(this::at);
        facts.closures().forEach(c -> {
            at(c.span().from());
            at(c.span().to());
        });
        facts.holds().forEach(h -> {
            h.from().ifPresent(this::at);
            h.until().ifPresent(u -> {
                at(u);
                around(u.minus(EndingFindings.AHEAD).toEpochMilli());
            });
            h.moment().ifPresent(m -> around(m.toEpochMilli()));
        });
    }

    /** When the age passes what is promised, and when what lies further back passes out of reach. */
    private void ofPromises() {
        for (Hazard hazard : Hazard.values()) {
            HazardEvaluation h = e.under(hazard);
            long point = h.recoveryPoint().orElse(database.inServiceFrom()).toEpochMilli();
            h.objective().ifPresent(o -> after(point, o.toMillis()));
        }
        e.reach().target().map(Duration::toMillis).ifPresent(reach -> {
            after(database.inServiceFrom().toEpochMilli(), reach);
            e.mishap().restorable().forEach(p -> {
                after(p.from().toEpochMilli(), reach);
                after(p.to().toEpochMilli(), reach);
            });
        });
    }

    /** Openings, closes and what comes after them, of slots that are known and of those still to open. */
    private void ofSlots() {
        for (Slot slot : e.slots()) {
            if (UNDECIDED.contains(slot.verdict())) {
                at(slot.open());
                at(slot.close());
                graces(slot).forEach(g -> at(slot.close().plus(g)));
            }
        }
        e.version()
                .ifPresent(v -> v.live().forEach(s -> {
                    Duration window = s.within().orElse(Duration.ZERO);
                    Instant from = e.asOf().minus(window).minus(s.grace());
                    s.openings(v, database.zone(), from, Instant.ofEpochMilli(next))
                            .forEach(open -> {
                                at(open.minus(s.grace()));
                                at(open);
                                at(open.plus(window));
                                at(open.plus(window).plus(s.grace()));
                            });
                }));
    }

    private List<Duration> graces(Slot slot) {
        return fleet.versions(slot.policy()).stream()
                .flatMap(v -> v.schedules().stream())
                .filter(s -> s.id().equals(slot.schedule()))
                .map(Schedule::grace)
                .distinct()
                .toList();
    }

    /** When logs by interval have been away for another interval. */
    private void ofCadence() {
        List<Schedule> asked = fleet.changes(database).stream()
                .map(m -> fleet.versionAt(database, m))
                .flatMap(Optional::stream)
                .flatMap(v -> v.schedules().stream())
                .filter(s -> s.every().isPresent())
                .distinct()
                .toList();
        if (asked.isEmpty()) {
            return;
        }
        Availability availability = new Availability(database, fleet, history, now);
        long[] landed = new long[database.streams().size()];
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && history.stream(i) >= 0 && availability.exists(i)) {
                landed[history.stream(i)] = Math.max(landed[history.stream(i)], landing(i, availability));
            }
        }
        for (Schedule s : asked) {
            for (long last : landed) {
                absent(s, last);
            }
            absent(s, database.inServiceFrom().toEpochMilli());
            fleet.changes(database).forEach(c -> absent(s, c.toEpochMilli()));
        }
    }

    /** When the first copy of a log came, 0 where none has; that of a streamed one comes until all of it is there. */
    private long landing(int i, Availability availability) {
        long earliest = Long.MAX_VALUE;
        long end = 0;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (availability.arrived(i, c) && history.arrivesMs(i, c) < earliest) {
                earliest = history.arrivesMs(i, c);
                end = Math.min(history.landedMs(c), now);
            }
        }
        return end;
    }

    private void absent(Schedule s, long since) {
        if (since > now || since <= 0) {
            return;
        }
        long every = s.every().orElseThrow().toMillis();
        long grace = s.grace().toMillis();
        long times = Math.max(1, (clock.between(since, now) - grace) / every);
        after(since, times * every + grace);
        after(since, (times + 1) * every + grace);
    }

    /** What is known of backups and copies already and not yet so, and what follows them by a fixed time. */
    private void ofBackups() {
        Optional<Duration> verified = demanding().flatMap(v -> v.demands().verifiedWithin());
        List<Then> follows = e.version().map(PolicyVersion::follows).orElse(List.of());
        Optional<Duration> known = demanding()
                .map(PolicyVersion::demands)
                .filter(d -> d.evidence() != Evidence.TOLD)
                .map(Demands::evidenceWithin);
        boolean copied =
                demanding().filter(v -> !v.copies().equals(CopiesRule.NONE)).isPresent();
        for (int i = 0; i < history.size(); i++) {
            at(history.startedMs(i));
            around(history.endedMs(i));
            if (history.kind(i) == Kind.LOG) {
                ofLog(i);
            } else {
                around(history.consistentAtMs(i));
                around(history.endedMs(i) + UnusualFindings.NEW.toMillis());
                long ended = history.endedMs(i);
                verified.ifPresent(d -> around(ended + d.toMillis()));
                for (Then rule : follows) {
                    if (rule.after().contains(history.kind(i))) {
                        around(ended + rule.within().toMillis());
                    }
                }
            }
            if (known.isPresent()) {
                around(history.endedMs(i) + known.get().toMillis());
            }
            if (copied) {
                around(history.endedMs(i) + CopyFindings.PATIENCE.toMillis());
            }
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                long landed = history.landedMs(c);
                at(history.arrivesMs(i, c));
                at(landed);
                if (history.kind(i).isData()) {
                    around(landed + Availability.IN_FLIGHT_MS);
                }
                at(history.lockedUntilMs(c));
                around(history.lockedUntilMs(c) - EndingFindings.AHEAD.toMillis());
                at(history.goneMs(c));
                at(history.foundMs(c));
                at(history.sinceMs(c));
            }
        }
        history.runs().forEach(r -> {
            at(r.started());
            r.ended().ifPresent(x -> {
                at(x);
                around(x.plus(EmptyRuns.TOLD_LATER).toEpochMilli());
            });
        });
    }

    private Optional<PolicyVersion> demanding() {
        return e.version().filter(PolicyVersion::enabled);
    }

    /** A log being received reaches what it leads to a lag after that was. */
    private void ofLog(int i) {
        around(history.toTimeMs(i));
        if (!history.streamed(i)) {
            return;
        }
        long lag = history.lagMs(i);
        at(history.fromTimeMs(i) + lag);
        at(history.toTimeMs(i) + lag);
        if (now < history.toTimeMs(i) + lag) {
            for (int other : history.others()) {
                at(history.consistentAtMs(other) + lag);
            }
            database.lineages().stream()
                    .map(Lineage::openedAt)
                    .flatMap(Optional::stream)
                    .forEach(o -> at(o.toEpochMilli() + lag));
        }
    }

    /** When what a retain rule needs passes out of it. */
    private void ofRules() {
        List<RetainRule> rules = demanding().map(PolicyVersion::retain).orElse(List.of());
        for (RetainRule rule : rules) {
            rule.reach().ifPresent(reach -> {
                for (int i : history.others()) {
                    after(history.consistentAtMs(i), reach.toMillis());
                    after(history.startedMs(i), reach.toMillis());
                }
                database.lineages().stream()
                        .map(Lineage::openedAt)
                        .flatMap(Optional::stream)
                        .forEach(o -> after(o.toEpochMilli(), reach.toMillis()));
            });
        }
        if (rules.stream().anyMatch(r -> !r.rungs().isEmpty())) {
            ofRungs();
        }
    }

    /** A rung's end falls on the local time of its full, or, where months differ in length, on a midnight. */
    private void ofRungs() {
        ZonedDateTime local = e.asOf().atZone(database.zone());
        for (int days = 0; days < 2; days++) {
            around(local.toLocalDate()
                    .plusDays(days)
                    .atStartOfDay(database.zone())
                    .toInstant()
                    .toEpochMilli());
            for (int i : history.others()) {
                LocalTime time = Instant.ofEpochMilli(history.consistentAtMs(i))
                        .atZone(database.zone())
                        .toLocalTime();
                ZonedDateTime ends =
                        local.toLocalDate().plusDays(days).atTime(time).atZone(database.zone());
                around(ends.withEarlierOffsetAtOverlap().toInstant().toEpochMilli());
                around(ends.withLaterOffsetAtOverlap().toInstant().toEpochMilli());
            }
        }
    }

    private void ofDrills(Collection<Drill> drills) {
        Optional<Duration> every = demanding().flatMap(v -> v.objective().drillEvery());
        drills.forEach(d -> d.at().ifPresent(at -> {
            at(at);
            every.ifPresent(x -> around(at.toEpochMilli() + x.toMillis()));
        }));
        every.ifPresent(x -> {
            around(database.inServiceFrom().toEpochMilli() + x.toMillis());
            demanding().ifPresent(v -> around(v.effectiveFrom().toEpochMilli() + x.toMillis()));
        });
    }
}
