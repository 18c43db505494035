package firth.core.forecast;

import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.model.Worded;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * How a database fares over a stretch of time, past or to come (docs/foresight.md).
 *
 * @param attainment share of the time within the mishap objective; empty where none was in force
 * @param worst the worst age per hazard
 * @param broken the hazards whose objective was broken at some time
 * @param reachHeld whether every moment it must be able to go back to can be restored at the end; empty where none is asked for
 * @param slotsKept slots kept in time
 * @param slotsAsked slots that asked for a run and are over
 */
public record Fare(
        Optional<Double> attainment,
        Map<Hazard, Duration> worst,
        Set<Hazard> broken,
        Optional<Boolean> reachHeld,
        int slotsKept,
        int slotsAsked) {

    static final Set<SlotVerdict> OVER = EnumSet.of(
            SlotVerdict.ON_TIME, SlotVerdict.OVERRAN, SlotVerdict.LATE, SlotVerdict.FAILED, SlotVerdict.MISSED);

    public Fare {
        worst = Map.copyOf(worst);
        broken = Set.copyOf(broken);
    }

    /** What can be worse under one set of rules than under another. */
    public enum Worse implements Worded {
        ATTAINMENT,
        SITE_LOSS,
        SABOTAGE,
        REACH,
        SLOTS;
    }

    /** Over the period of an evaluation, as it was. */
    public static Fare of(Evaluation e) {
        Map<Hazard, Duration> worst = new EnumMap<>(Hazard.class);
        Set<Hazard> broken = EnumSet.noneOf(Hazard.class);
        e.hazards().forEach((hazard, h) -> {
            worst.put(hazard, Duration.ofMillis((long) h.achieved().max()));
            if (!h.breaches().isEmpty()) {
                broken.add(hazard);
            }
        });
        return new Fare(
                e.mishap().achieved().attainment(),
                worst,
                broken,
                e.reach().cover().map(c -> c >= 1),
                (int) e.slots().stream()
                        .filter(s -> s.verdict() == SlotVerdict.ON_TIME)
                        .count(),
                (int) e.slots().stream().filter(s -> OVER.contains(s.verdict())).count());
    }

    /** In what a database fares worse here than under other rules. */
    public List<Worse> worseThan(Fare other) {
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
