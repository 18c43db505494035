package firth.core.fleet;

import firth.core.history.Kind;
import firth.core.time.Recurrence;
import java.time.Duration;
import java.util.Optional;

/**
 * When runs of a kind are expected.
 *
 * @param recurrence when its slots open; absent where logs come at a plain interval
 * @param every the interval of logs
 * @param within how long after its opening a slot's run may start
 * @param mustFinish whether the run must end in that time too
 * @param grace how much earlier or later still counts
 */
public record Schedule(
        String id,
        Kind kind,
        Optional<Recurrence> recurrence,
        Optional<Duration> every,
        Optional<Duration> within,
        boolean mustFinish,
        Duration grace,
        boolean enabled) {

    public static final Duration DEFAULT_GRACE = Duration.ofMinutes(15);
}
