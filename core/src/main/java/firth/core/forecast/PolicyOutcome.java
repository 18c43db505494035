package firth.core.forecast;

import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Worded;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntPredicate;

/**
 * What a policy makes of one database over a period (docs/forecast.md, "Replay").
 *
 * @param attainment share of the time within the mishap objective; empty where none was in force
 * @param worst the worst age per hazard
 * @param broken the hazards whose objective was broken at some time
 * @param reachHeld whether every moment it must be able to go back to can be restored; empty where none is asked for
 * @param slotsKept slots kept in time
 * @param slotsAsked slots that asked for a run and are over
 * @param obsolete copies no rule needs now
 * @param lockedOnly copies nothing but a lock keeps
 */
public record PolicyOutcome(
        String database,
        Grade grade,
        Optional<Double> attainment,
        Map<Hazard, Duration> worst,
        Set<Hazard> broken,
        Optional<Boolean> reachHeld,
        int slotsKept,
        int slotsAsked,
        Pile obsolete,
        Pile lockedOnly) {

    private static final Set<SlotVerdict> OVER = EnumSet.of(
            SlotVerdict.ON_TIME, SlotVerdict.OVERRAN, SlotVerdict.LATE, SlotVerdict.FAILED, SlotVerdict.MISSED);

    /**
     * Some copies together.
     *
     * @param lastLock when the last of their locks ends, where any is locked
     */
    public record Pile(int copies, double bytes, Optional<Instant> lastLock) {

        public static final Pile NONE = new Pile(0, 0, Optional.empty());

        static Pile of(Evaluation e, IntPredicate counts) {
            Pile out = NONE;
            for (int k = 0; k < e.retention().size(); k++) {
                if (counts.test(k)) {
                    double size = e.retention().bytes(k);
                    long lock = e.history().lockedUntilMs(e.retention().copy(k));
                    out = out.and(new Pile(
                            1,
                            Double.isNaN(size) ? 0 : size,
                            lock == History.ALWAYS ? Optional.empty() : Optional.of(Instant.ofEpochMilli(lock))));
                }
            }
            return out;
        }

        public Pile and(Pile other) {
            boolean later = lastLock.isEmpty()
                    || other.lastLock.filter(lastLock.get()::isBefore).isPresent();
            return new Pile(copies + other.copies, bytes + other.bytes, later ? other.lastLock : lastLock);
        }
    }

    /** What can be worse under one set of rules than under another. */
    public enum Worse implements Worded {
        ATTAINMENT,
        SITE_LOSS,
        SABOTAGE,
        REACH,
        SLOTS;
    }

    public static PolicyOutcome of(Evaluation e) {
        Map<Hazard, Duration> worst = new EnumMap<>(Hazard.class);
        Set<Hazard> broken = EnumSet.noneOf(Hazard.class);
        e.hazards().forEach((hazard, h) -> {
            worst.put(hazard, Duration.ofMillis((long) h.achieved().max()));
            if (!h.breaches().isEmpty()) {
                broken.add(hazard);
            }
        });
        Pile obsolete = Pile.of(e, k -> e.retention().verdict(k) == Verdict.OBSOLETE);
        Pile locked = Pile.of(e, e.retention()::onlyLocked);
        return new PolicyOutcome(
                e.database().id(),
                e.grade(),
                e.mishap().achieved().attainment(),
                worst,
                broken,
                e.reach().cover().map(c -> c >= 1),
                (int) e.slots().stream()
                        .filter(s -> s.verdict() == SlotVerdict.ON_TIME)
                        .count(),
                (int) e.slots().stream().filter(s -> OVER.contains(s.verdict())).count(),
                obsolete,
                locked);
    }

    /** In what a database fares worse here than under other rules. */
    public List<Worse> worseThan(PolicyOutcome other) {
        List<Worse> out = new ArrayList<>();
        if (attainment.orElse(1.0) < other.attainment.orElse(1.0)) {
            out.add(Worse.ATTAINMENT);
        }
        if (broken.contains(Hazard.SITE_LOSS) && !other.broken.contains(Hazard.SITE_LOSS)) {
            out.add(Worse.SITE_LOSS);
        }
        if (broken.contains(Hazard.SABOTAGE) && !other.broken.contains(Hazard.SABOTAGE)) {
            out.add(Worse.SABOTAGE);
        }
        if (!reachHeld.orElse(true) && other.reachHeld.orElse(true)) {
            out.add(Worse.REACH);
        }
        if (share() < other.share()) {
            out.add(Worse.SLOTS);
        }
        return out;
    }

    private double share() {
        return slotsAsked == 0 ? 1 : (double) slotsKept / slotsAsked;
    }
}
