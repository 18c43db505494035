package firth.core.model;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;

/**
 * What a policy promises.
 *
 * @param rpo the greatest age of the recovery point promised, per hazard; a hazard without one promises nothing
 * @param reach how far back every moment can be restored
 * @param restoreTime how long a restore may take
 * @param drillEvery how often a restore is to be proved
 */
public record Objective(
        Map<Hazard, Duration> rpo,
        Optional<Duration> reach,
        Optional<Duration> restoreTime,
        Optional<Duration> drillEvery) {

    public static final Objective NONE = new Objective(Map.of(), Optional.empty());

    public Objective {
        rpo = Map.copyOf(rpo);
    }

    /** Promises neither the time of a restore nor drills. */
    public Objective(Map<Hazard, Duration> rpo, Optional<Duration> reach) {
        this(rpo, reach, Optional.empty(), Optional.empty());
    }
}
