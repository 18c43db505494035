package firth.core.history;

import firth.core.model.Backup;
import firth.core.model.FleetRecord;
import firth.core.model.Run;

/**
 * The facts Firth holds, as whatever reads them sees it: something that takes one fact after another. A fact with a
 * known id replaces or is merged into the known one (see {@link Merging}).
 */
public interface Catalog {

    /** What taking a fact did. */
    enum Change {
        ADDED,
        UPDATED,
        UNCHANGED,
        /** Updated, and it is of another kind or database now: two facts may share an id by mistake. */
        TURNED
    }

    /** @param document the record as text of the exchange format, whole, so that it can be given back */
    Change put(FleetRecord record, String document);

    Change put(Run run, Replacing replacing);

    Change put(Backup backup, Replacing replacing);

    default Change put(Run run) {
        return put(run, Replacing.ANY);
    }

    default Change put(Backup backup) {
        return put(backup, Replacing.ANY);
    }

    /** Asked before what is known is replaced by what is said; throws where it may not be. */
    interface Replacing {

        Replacing ANY = new Replacing() {};

        default void check(Run known, Run said) {}

        default void check(Backup known, Backup said) {}
    }
}
