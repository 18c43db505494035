package firth.core.model;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/**
 * One unbroken log history of a database.
 *
 * @param parent the lineage it forked from, absent for the first and for unrelated histories
 * @param forkPos the position per stream where it leaves its parent
 * @param openedAt when it opened; not used for the first, which opens when the database goes into service
 */
public record Lineage(String id, Optional<String> parent, Map<String, Long> forkPos, Optional<Instant> openedAt) {

    public static final Lineage FIRST = new Lineage("1", Optional.empty(), Map.of(), Optional.empty());

    public Lineage {
        forkPos = Map.copyOf(forkPos);
    }
}
