package firth.core;

import firth.core.cover.Piece;
import firth.core.cover.RecoveryTimeline;
import firth.core.objective.Achieved;
import firth.core.objective.AgePieces;
import firth.core.objective.Breach;
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
}
