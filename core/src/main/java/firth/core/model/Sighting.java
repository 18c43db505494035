package firth.core.model;

import java.time.Instant;
import java.util.Optional;

/**
 * That a database was seen on a host, whether anybody enrolled it or not.
 *
 * @param database the name it goes by there
 * @param identity what the engine itself calls it
 * @param lineage the one it writes to, by the engine's own number
 */
public record Sighting(
        String id,
        String database,
        Optional<String> identity,
        Optional<String> lineage,
        Optional<String> host,
        Optional<String> engine,
        Instant seen)
        implements Observed {

    @Override
    public Instant at() {
        return seen;
    }
}
