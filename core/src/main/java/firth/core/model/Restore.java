package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * A database brought back in earnest.
 *
 * @param moment it was to reach; absent where positions were asked for
 * @param reached the moment it did reach
 * @param backup the newest data backup it was restored from
 * @param into the name it was restored to, where that is another
 * @param ok whether it could be opened
 * @param by who did it
 */
public record Restore(
        String id,
        String database,
        Optional<Instant> moment,
        Optional<Instant> reached,
        Optional<String> backup,
        Optional<Instant> started,
        Optional<Instant> ended,
        boolean ok,
        Optional<String> into,
        String by,
        String message)
        implements FleetRecord {

    @Override
    public boolean isJudgedBy() {
        return false;
    }

    /** When it was: its end, or else its beginning. */
    public Optional<Instant> at() {
        return ended.or(() -> started);
    }
}
