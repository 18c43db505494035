package firth.core.stocktake;

import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A copy as the catalog has it.
 *
 * @param path where its source said it lies; empty where it never did
 * @param state what the catalog takes it to be
 */
public record KnownCopy(
        String backup,
        String database,
        String path,
        Instant landed,
        OptionalDouble bytes,
        Optional<String> checksum,
        Optional<Instant> lockedUntil,
        Presence state) {

    /** What the catalog takes a copy to be. */
    public enum Presence {
        /** Landed, neither gone nor spoiled. */
        THERE,
        /** Gone, or missing or other than written at an earlier stocktake: a file of its name is a stray. */
        NOT_THERE,
        /** There, and known to be spoiled by something else: its file is no news, and nobody may adopt it. */
        SPOILED
    }
}
