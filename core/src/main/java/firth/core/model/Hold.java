package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * Keeps a backup, or what restores a moment of a database, whatever the policy says
 * (docs/semantics.md, "Retention").
 *
 * @param backup the backup held, or empty when a moment is
 * @param database the database whose {@code moment} is held
 * @param by who keeps it; empty where nobody said
 * @param from the first moment it is in force; absent: always was
 * @param until the first moment it is no longer in force; absent: without end
 */
public record Hold(
        String id,
        Optional<String> backup,
        Optional<String> database,
        Optional<Instant> moment,
        String reason,
        String by,
        Optional<Instant> from,
        Optional<Instant> until)
        implements FleetRecord {

    public boolean inForceAt(Instant now) {
        return from.map(f -> !f.isAfter(now)).orElse(true)
                && until.map(u -> u.isAfter(now)).orElse(true);
    }
}
