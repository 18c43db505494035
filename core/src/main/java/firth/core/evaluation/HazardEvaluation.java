package firth.core.evaluation;

import firth.core.cover.Piece;
import firth.core.cover.RecoveryTimeline;
import firth.core.objective.Achieved;
import firth.core.objective.AgePieces;
import firth.core.objective.Breach;
import firth.core.time.RunningTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What one hazard would leave of a database, now and over the period. */
public record HazardEvaluation(
        Optional<Instant> recoveryPoint,
        Duration age,
        Optional<Duration> objective,
        Achieved achieved,
        List<Breach> breaches,
        List<Piece> restorable,
        AgePieces ages,
        RecoveryTimeline timeline) {

    /** Whether the age is above what is promised. */
    public boolean isMissed() {
        return objective.filter(o -> age.compareTo(o) > 0).isPresent();
    }

    /**
     * Whether the age grows as time goes on: not while the database is stopped, nor while its logs are being received.
     *
     * @param clock the database's own
     * @param now the moment of the evaluation
     */
    public boolean grows(RunningTime clock, Instant now) {
        long at = now.toEpochMilli();
        int step = timeline.stepAt(at);
        return !clock.stopped().contains(at) && (step < 0 || !timeline.flows(step));
    }
}
