package firth.core.findings;

import firth.core.adherence.Onboarding;
import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.model.Worded;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a database and its components still need a backup of, of which kind, and by when: because nothing or too little can be
 * restored, because a slot is open, failed or missed and no later run made it good, or because the age will pass what is promised.
 */
public final class Needs {

    /** Those of a slot that somebody can still do something about. */
    private static final Set<SlotVerdict> WANTING =
            EnumSet.of(SlotVerdict.DUE, SlotVerdict.RETRYING, SlotVerdict.FAILED, SlotVerdict.MISSED);

    /** From the least effort to the most. */
    private static final List<Kind> DATA = List.of(Kind.INCR, Kind.DIFF, Kind.FULL);

    private final Evaluation e;
    private final Fleet fleet;
    private final List<Finding> found;
    private final Map<Kind, Need> byKind = new LinkedHashMap<>();

    private Needs(Evaluation e, Fleet fleet, List<Finding> found) {
        this.e = e;
        this.fleet = fleet;
        this.found = found;
    }

    /** Why a backup is needed. */
    public enum Why implements Worded {
        /** Nothing can be restored. */
        NOTHING,
        /** It is new, and its first backup is awaited. */
        FIRST,
        /** The age is above what is promised. */
        BEHIND,
        /** The newest logs follow a gap. */
        GAP,
        /** A component is in no backup that restores anything. */
        COMPONENT,
        /** A slot failed or was missed, and nothing made it good. */
        SLOT_LOST,
        /** A slot is open. */
        SLOT_OPEN,
        /** The age passes what is promised if nothing comes. */
        PROMISE;
    }

    /**
     * A backup that is needed.
     *
     * @param component of the database; empty: all of it
     * @param by when it is to be there; not after the moment of the evaluation: it is overdue
     */
    public record Need(Optional<String> component, Kind kind, Instant by, Why why) {}

    /**
     * All of one database, the most urgent first; of each kind one. Without a policy that is switched on nothing is needed.
     *
     * @param found what is wrong with it: the ways out that were tried say which kind ends it
     * @param components what holds each part
     */
    public static List<Need> of(
            Evaluation e, Fleet fleet, List<Finding> found, List<HeldComponents.Holding> components) {
        if (!e.database().isServedAt(e.asOf())
                || e.version().filter(PolicyVersion::enabled).isEmpty()) {
            return List.of();
        }
        Needs needs = new Needs(e, fleet, found);
        needs.cover();
        // What hangs from a full is of no use while there is none.
        if (e.grade() != Grade.STRANDED && e.grade() != Grade.NEW) {
            needs.slots();
        }
        needs.servedByStronger();
        List<Need> out = new ArrayList<>(needs.byKind.values());
        components.stream()
                .filter(c -> c.backups().isEmpty())
                .forEach(c -> out.add(new Need(Optional.of(c.component().name()), Kind.FULL, e.asOf(), Why.COMPONENT)));
        out.sort(Comparator.comparing(Need::by)
                .thenComparing(Need::why)
                .thenComparing(Need::kind)
                .thenComparing(n -> n.component().orElse("")));
        return out;
    }

    private void add(Kind kind, Instant by, Why why) {
        byKind.merge(
                kind,
                new Need(Optional.empty(), kind, by, why),
                (one, other) -> other.by().isBefore(one.by()) ? other : one);
    }

    /** One that is overdue and of a stronger kind serves what is weaker: nobody takes both. */
    private void servedByStronger() {
        for (int k = DATA.size() - 1; k > 0; k--) {
            Need strong = byKind.get(DATA.get(k));
            if (strong != null && !strong.by().isAfter(e.asOf())) {
                DATA.subList(0, k).forEach(byKind::remove);
            }
        }
    }

    private void cover() {
        boolean gap = e.gaps().stream().anyMatch(g -> !g.bridged());
        if (e.grade() == Grade.STRANDED) {
            add(Kind.FULL, e.asOf(), Why.NOTHING);
        } else if (e.grade() == Grade.NEW) {
            add(Kind.FULL, Onboarding.deadline(e.database(), fleet), Why.FIRST);
        } else if (e.mishap().isMissed() || gap) {
            Instant broke = e.mishap().isMissed() ? e.breaksAt(Hazard.MISHAP).orElse(e.asOf()) : e.asOf();
            add(ends().orElse(goesOnWith()), broke, gap ? Why.GAP : Why.BEHIND);
        } else {
            e.firstBreak().ifPresent(at -> add(goesOnWith(), at, Why.PROMISE));
        }
    }

    /** The kind of what ends it soonest: logs where the archiver has but to catch up. */
    private Optional<Kind> ends() {
        return found.stream()
                .flatMap(f -> f.waysOut().stream())
                .filter(w -> w.ends() && w.action() != WayOut.Action.COPY)
                .findFirst()
                .map(w -> w.kind().orElse(Kind.LOG));
    }

    /** The least that brings the recovery point on: logs where they are asked for, else what is scheduled next. */
    private Kind goesOnWith() {
        List<Kind> scheduled = live().map(Schedule::kind).toList();
        return scheduled.contains(Kind.LOG) && !e.pointsOnly()
                ? Kind.LOG
                : DATA.stream().filter(scheduled::contains).findFirst().orElse(Kind.FULL);
    }

    private Stream<Schedule> live() {
        return e.version().stream().flatMap(v -> v.live().stream());
    }

    /** The newest slot of each schedule, where it wants a run. */
    private void slots() {
        Map<String, Slot> newest = e.slots().stream()
                .filter(s -> !s.open().isAfter(e.asOf())
                        && s.verdict() != SlotVerdict.SUPERSEDED
                        && s.verdict() != SlotVerdict.PLANNED)
                .collect(Collectors.toMap(
                        s -> s.policy() + "/" + s.schedule(),
                        s -> s,
                        (one, other) -> other.open().isBefore(one.open()) ? one : other));
        newest.values().stream()
                .filter(s -> WANTING.contains(s.verdict()))
                .filter(s -> live().anyMatch(l -> l.id().equals(s.schedule())))
                .sorted(Comparator.comparing(Slot::close).thenComparing(Slot::schedule))
                .forEach(s -> {
                    boolean lost = s.verdict() == SlotVerdict.FAILED || s.verdict() == SlotVerdict.MISSED;
                    if (!lost || !madeGood(s)) {
                        add(s.kind(), s.close(), lost ? Why.SLOT_LOST : Why.SLOT_OPEN);
                    }
                });
    }

    /** Whether a backup of as strong a kind began after the slot opened. */
    private boolean madeGood(Slot slot) {
        for (int i = 0; i < e.history().size(); i++) {
            Kind kind = e.history().kind(i);
            boolean strong =
                    kind == slot.kind() || slot.kind().isData() && DATA.indexOf(kind) > DATA.indexOf(slot.kind());
            if (strong
                    && e.history().startedMs(i) >= slot.open().toEpochMilli()
                    && e.history().endedMs(i) <= e.asOf().toEpochMilli()) {
                return true;
            }
        }
        return false;
    }
}
