package firth.core.model;

/**
 * How a time or a position of a copy is known, the weakest first (docs/engines.md). A word of somebody never raises it; a
 * listing that contradicts it lowers it.
 */
public enum Evidence implements Worded {
    /** A job's word. */
    TOLD,
    /** A file of that size is there. */
    LISTED,
    /** Parsed from the archive's or manifest's own bytes. */
    READ,
    /** The checksums of all bytes agree. */
    CHECKED,
    /** The engine's own check passed. */
    VERIFIED,
    /** A drill used it. */
    RESTORED;

    /** The weaker of two: what rests on both is known no better. */
    public Evidence weaker(Evidence other) {
        return compareTo(other) <= 0 ? this : other;
    }
}
