package firth.core.model;

import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A backup's presence in one store (docs/semantics.md, "Availability and hazards").
 *
 * @param statedLanding whether {@code landed} was said, or follows from the backup's end
 * @param evidence how its times and positions are known
 * @param rest what else was said of it, as text of the exchange format
 */
public record Copy(
        String store,
        Instant landed,
        boolean statedLanding,
        Optional<Instant> lockedUntil,
        Optional<Instant> gone,
        Optional<Spoilage> spoiled,
        OptionalDouble bytes,
        Evidence evidence,
        String rest) {

    /** One that is known from what was told alone. */
    public Copy(
            String store,
            Instant landed,
            boolean statedLanding,
            Optional<Instant> lockedUntil,
            Optional<Instant> gone,
            Optional<Spoilage> spoiled,
            OptionalDouble bytes,
            String rest) {
        this(store, landed, statedLanding, lockedUntil, gone, spoiled, bytes, Evidence.TOLD, rest);
    }

    /** Whether it is believed to be there at a moment: landed, neither deleted nor found spoiled. */
    public boolean isThereAt(Instant moment) {
        return !landed.isAfter(moment)
                && gone.filter(g -> !g.isAfter(moment)).isEmpty()
                && spoiled.filter(s -> !s.found().isAfter(moment)).isEmpty();
    }

    /** The same copy, found spoiled. */
    public Copy spoilt(Spoilage how) {
        return new Copy(store, landed, statedLanding, lockedUntil, gone, Optional.of(how), bytes, evidence, rest);
    }
}
