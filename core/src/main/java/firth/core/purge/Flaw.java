package firth.core.purge;

import firth.core.model.Hazard;
import firth.core.model.Role;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** What a purge would harm, so that it is not safe. */
public sealed interface Flaw {

    /** @param reasons the words of the reasons for which a rule needs the copy */
    record CopyNeeded(String backup, String store, List<String> reasons) implements Flaw {
        public CopyNeeded {
            reasons = List.copyOf(reasons);
        }
    }

    /** Nothing goes of a database of which nothing can be restored, though no rule needs anything of it. */
    record NothingToRestore() implements Flaw {}

    /** The newest moment that can be restored would be another; empty where none can. */
    record NewestMoves(Optional<Instant> before, Optional<Instant> after) implements Flaw {}

    /** Of a stretch within the promised reach not every moment could be restored any more after a hazard. */
    record PromisedReachTorn(Instant from, Instant to, Hazard hazard) implements Flaw {}

    /** Of a stretch that copies in a role restore not every moment could be restored any more. */
    record RoleReachTorn(Instant from, Instant to, Role role) implements Flaw {}

    /** A backup that is needed would restore nothing any more. */
    record BackupUseless(String backup) implements Flaw {}
}
