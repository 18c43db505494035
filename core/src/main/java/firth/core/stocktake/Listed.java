package firth.core.stocktake;

import java.time.Instant;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * A file as a store lists it.
 *
 * @param size in bytes
 * @param time when it was last written
 * @param checksum as the store writes it
 * @param lockedUntil until when the store refuses to delete it
 */
public record Listed(
        String path,
        OptionalLong size,
        Optional<Instant> time,
        Optional<String> checksum,
        Optional<Instant> lockedUntil) {}
