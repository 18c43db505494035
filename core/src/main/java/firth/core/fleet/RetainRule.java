package firth.core.fleet;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * One entry of what a policy retains in stores of a role (docs/semantics.md, "Retention").
 *
 * @param fulls how many of the newest fulls are needed with all that hangs from them
 * @param logs whether {@code fulls} needs the logs from the oldest of those fulls on
 * @param rungs per unit, for how many units the first full of each is needed
 * @param configs how many of the newest config backups are needed; absent: {@link #DEFAULT_CONFIGS}
 */
public record RetainRule(
        Role role,
        Optional<Duration> reach,
        OptionalInt fulls,
        boolean logs,
        Map<RungUnit, Integer> rungs,
        OptionalInt configs,
        Optional<Duration> atMost) {

    public static final int DEFAULT_CONFIGS = 3;

    public RetainRule {
        rungs = Map.copyOf(rungs);
    }

    /** Whether the entry says anything of data backups and logs. */
    public boolean retainsData() {
        return reach.isPresent() || fulls.isPresent() || !rungs.isEmpty();
    }
}
