package firth.core.model;

import java.time.Duration;
import java.util.Set;

/**
 * What follows what: once a backup has succeeded, one of another kind is taken (docs/semantics.md, "How backups are taken").
 *
 * @param after the kinds it follows; the one that is taken is none of them
 * @param within so soon after the end of the first the other must have begun; above 0
 */
public record Then(Set<Kind> after, Kind take, Duration within) {

    public Then {
        after = Set.copyOf(after);
    }
}
