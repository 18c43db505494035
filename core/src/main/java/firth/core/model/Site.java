package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * A place that can be lost as a whole.
 *
 * @param retired since when it is offered to nothing new
 */
public record Site(String id, String name, Optional<Instant> retired) implements FleetRecord {

    /** One that is in use. */
    public Site(String id, String name) {
        this(id, name, Optional.empty());
    }
}
