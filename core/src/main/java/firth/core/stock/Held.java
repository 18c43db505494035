package firth.core.stock;

import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A copy as the catalog has it.
 *
 * @param path where its source said it lies; empty where it never did
 * @param there whether the catalog takes it to be there: landed, neither gone nor spoiled
 */
public record Held(
        String backup,
        String database,
        String path,
        Instant landed,
        OptionalDouble bytes,
        Optional<String> checksum,
        Optional<Instant> lockedUntil,
        boolean there) {}
