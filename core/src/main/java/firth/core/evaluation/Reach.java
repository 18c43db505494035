package firth.core.evaluation;

import firth.core.time.RunningTime;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * How far back every moment can be restored.
 *
 * @param target what is promised
 * @param achieved from the recovery point back without a hole; zero where nothing is restorable
 * @param since the moment the promised reach begins at now
 * @param cover share of the promised reach that is restorable
 */
public record Reach(Optional<Duration> target, Duration achieved, Optional<Instant> since, Optional<Double> cover) {

    /** Nobody plans for what comes later than this. */
    private static final Duration FORESEEN = Duration.ofDays(36_525);

    /**
     * When a moment passes out of the promised reach: once the database has run as long as is promised since, as far as its stops are
     * known.
     *
     * @param clock the database's own
     * @return empty where no reach is promised, or it comes never, or more than a hundred years later
     */
    public Optional<Instant> leaves(Instant moment, RunningTime clock) {
        return target.map(t -> clock.after(moment.toEpochMilli(), t.toMillis()))
                .filter(at -> at - moment.toEpochMilli() <= FORESEEN.toMillis())
                .map(Instant::ofEpochMilli);
    }
}
