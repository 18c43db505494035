package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * That somebody wants a backup taken now. It is open until a run with its id is known.
 *
 * @param id also that of the run that carries it out
 * @param store where it is to lie; empty leaves that to the route
 * @param name what the person calls the backup
 */
public record Order(
        String id,
        String database,
        Kind kind,
        Optional<String> store,
        Instant at,
        String by,
        String reason,
        Optional<String> name)
        implements FleetRecord {

    @Override
    public boolean isJudgedBy() {
        return false;
    }

    /** The id of the backup that comes of it, so that a hold can be stated before there is one. */
    public String backup() {
        return id + ":backup";
    }
}
