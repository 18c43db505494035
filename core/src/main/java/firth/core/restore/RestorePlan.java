package firth.core.restore;

import firth.core.cover.Gap;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How to get a database back to a moment from what is left (docs/semantics.md, "Restore plan").
 *
 * @param target the moment asked for; for the latest, the recovery point, empty where nothing can be restored
 * @param ways ways back to it, the best first; none where it cannot be restored
 * @param gap the hole in the logs the target lies in, where it cannot be restored and lies in one
 * @param before the nearest restorable moment not after the target
 * @param after the nearest restorable moment not before the target
 */
public record RestorePlan(
        Optional<Instant> target,
        List<Way> ways,
        Optional<Gap> gap,
        Optional<Instant> before,
        Optional<Instant> after) {

    public boolean isPossible() {
        return !ways.isEmpty();
    }
}
