package firth.core.fleet;

import firth.core.history.Kind;
import java.time.Duration;
import java.util.Optional;

/**
 * When runs of a kind are expected: a recurrence rule, a cron line, or for logs a plain interval. Held as stated;
 * slots are not computed yet.
 */
public record Schedule(
        String id,
        Kind kind,
        Optional<String> rrule,
        Optional<String> cron,
        Optional<Duration> every,
        Optional<Duration> within,
        boolean mustFinish,
        Duration grace,
        boolean enabled) {

    public static final Duration DEFAULT_GRACE = Duration.ofMinutes(15);
}
