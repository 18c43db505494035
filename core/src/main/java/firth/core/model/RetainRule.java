package firth.core.model;

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
 * @param lock how long copies are locked when they land
 */
public record RetainRule(
        Role role,
        Optional<Duration> reach,
        OptionalInt fulls,
        boolean logs,
        Map<RungUnit, Integer> rungs,
        OptionalInt configs,
        Optional<Duration> atMost,
        Optional<Duration> lock) {

    public static final int DEFAULT_CONFIGS = 3;

    public RetainRule {
        rungs = Map.copyOf(rungs);
    }

    /** Without a lock. */
    public RetainRule(
            Role role,
            Optional<Duration> reach,
            OptionalInt fulls,
            boolean logs,
            Map<RungUnit, Integer> rungs,
            OptionalInt configs,
            Optional<Duration> atMost) {
        this(role, reach, fulls, logs, rungs, configs, atMost, Optional.empty());
    }

    public RetainRule withReach(Optional<Duration> other) {
        return new RetainRule(role, other, fulls, logs, rungs, configs, atMost, lock);
    }

    public RetainRule with(Role other) {
        return new RetainRule(other, reach, fulls, logs, rungs, configs, atMost, lock);
    }

    public RetainRule withFulls(OptionalInt other) {
        return new RetainRule(role, reach, other, logs, rungs, configs, atMost, lock);
    }

    public RetainRule withRungs(Map<RungUnit, Integer> other) {
        return new RetainRule(role, reach, fulls, logs, other, configs, atMost, lock);
    }

    public RetainRule withAtMost(Optional<Duration> other) {
        return new RetainRule(role, reach, fulls, logs, rungs, configs, other, lock);
    }

    public RetainRule withLock(Optional<Duration> other) {
        return new RetainRule(role, reach, fulls, logs, rungs, configs, atMost, other);
    }

    /** Whether the entry says anything of data backups and logs. */
    public boolean retainsData() {
        return reach.isPresent() || fulls.isPresent() || !rungs.isEmpty();
    }
}
