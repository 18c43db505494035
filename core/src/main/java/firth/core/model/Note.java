package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * What somebody wrote about a database for those who come after.
 *
 * @param at from when on it is there
 * @param withdrawn when somebody took it back; it stays on record
 */
public record Note(String id, String database, String text, String by, Instant at, Optional<Instant> withdrawn)
        implements FleetRecord {

    @Override
    public boolean isJudgedBy() {
        return false;
    }

    /** Whether it is to be read at a moment. */
    public boolean standsAt(Instant moment) {
        return !at.isAfter(moment) && withdrawn.filter(w -> !w.isAfter(moment)).isEmpty();
    }
}
