package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * That a database follows a policy and a route from a moment on, stated apart from the database, so that a database reported
 * again loses nothing.
 *
 * @param policy none ends the following of any
 * @param route none leaves the one it had
 * @param by who or what stated it
 * @param why the reason given
 */
public record Assigned(
        String id,
        String database,
        Optional<String> policy,
        Optional<String> route,
        Instant from,
        String by,
        String why)
        implements FleetRecord {

    @Override
    public String type() {
        return "assignment";
    }
}
