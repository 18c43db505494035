package firth.core.stocktake;

import java.time.Instant;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * A file as a store lists it.
 *
 * @param size in bytes; empty where the store does not look into it, as behind a link
 * @param time when it was last written
 * @param checksum as the store writes it
 * @param lock what keeps it from being deleted
 * @param lockedUntil until when the store refuses to delete it, where it has an end
 */
public record Listed(
        String path,
        OptionalLong size,
        Optional<Instant> time,
        Optional<String> checksum,
        Lock lock,
        Optional<Instant> lockedUntil) {

    /** What keeps a file from being deleted, the weakest first. */
    public enum Lock {
        /** Nothing does. */
        NONE,
        /** The store does not tell. */
        UNKNOWN,
        /** It is locked until a moment. */
        UNTIL,
        /** It is locked for as long as nobody takes that off: an attribute, or a mount that can only be read. */
        OPEN
    }

    /** With a lock that ends, where it is told. */
    public Listed(
            String path,
            OptionalLong size,
            Optional<Instant> time,
            Optional<String> checksum,
            Optional<Instant> lockedUntil) {
        this(path, size, time, checksum, lockedUntil.isPresent() ? Lock.UNTIL : Lock.UNKNOWN, lockedUntil);
    }
}
