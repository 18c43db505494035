package firth.core.stocktake;

import firth.core.model.Worded;
import java.util.Optional;

/**
 * Something in which catalog and store differ.
 *
 * @param held the copy concerned; empty where nobody knows the file
 * @param listed the file concerned; empty where there is none
 * @param clue in which way
 */
public record Difference(Manner what, Optional<KnownCopy> held, Optional<Listed> listed, Clue clue) {

    /** The manners in which they differ. */
    public enum Manner implements Worded {
        /** The catalog takes a copy to be there; the store lists no such file. */
        MISSING,
        /** The file is there and is not what was written: another size or checksum. */
        MISMATCH,
        /** The file is there and right, but not locked as long as the catalog believes. */
        LOCK,
        /** Two copies claim one path: one of them was written over. */
        CLAIMED,
        /** A file the catalog does not take to be there; where a copy is given it once was, or bears its name. */
        STRAY;
    }

    /** Whether the copy cannot be restored from any more. */
    public boolean spoils() {
        return what == Manner.MISSING || what == Manner.MISMATCH;
    }
}
