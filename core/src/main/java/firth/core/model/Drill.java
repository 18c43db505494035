package firth.core.model;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A restore done to prove that it works.
 *
 * @param moment it was to reach
 * @param reached the moment it did reach
 * @param backup it was restored from
 * @param ok whether it went well; absent where nobody said
 * @param checks what was looked at afterwards: one without any proves nothing
 * @param message what was said of it
 */
public record Drill(
        String id,
        String database,
        Optional<Instant> started,
        Optional<Instant> ended,
        Optional<Instant> moment,
        Optional<Instant> reached,
        Optional<String> backup,
        Optional<Boolean> ok,
        List<String> checks,
        String message)
        implements FleetRecord {

    public Drill {
        checks = List.copyOf(checks);
    }

    /** When it was: its end, or else its beginning. */
    public Optional<Instant> at() {
        return ended.or(() -> started);
    }

    /** Whether it went well and something was looked at afterwards. */
    public boolean proves() {
        return ok.orElse(false) && !checks.isEmpty();
    }
}
