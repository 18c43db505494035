package firth.core.model;

import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Set;

/**
 * What was said of a backup that never decides what it restores.
 *
 * @param bytesRead what was read from the database for it
 * @param parallel how many sessions wrote it side by side
 * @param compressed absent where nothing was said, as with the others
 * @param encrypted whether it was, with whatever key
 * @param checksummed whether it carries checksums of its own
 * @param components the parts of the database it holds; none: all of them
 * @param note what somebody wrote about it
 */
public record Traits(
        OptionalDouble bytesRead,
        OptionalInt parallel,
        Optional<Boolean> compressed,
        Optional<Boolean> encrypted,
        Optional<Boolean> checksummed,
        Set<String> components,
        Optional<String> note) {

    public static final Traits NONE = new Traits(
            OptionalDouble.empty(),
            OptionalInt.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Set.of(),
            Optional.empty());

    public Traits {
        components = Set.copyOf(components);
    }
}
