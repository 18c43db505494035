package firth.engines;

import java.nio.file.Path;
import java.util.List;

/**
 * What was found in directories.
 *
 * @param databases one for each identity an engine gave its files
 * @param unread what could not be read, and why
 * @param filesRead how many files were read through this time; those known from before are not
 * @param bytesRead how many bytes they have
 */
public record Observation(List<ObservedDatabase> databases, List<Unread> unread, long filesRead, long bytesRead) {

    public Observation {
        databases = List.copyOf(databases);
        unread = List.copyOf(unread);
    }

    /**
     * A file or directory that tells nothing, or less than it should.
     *
     * @param reason a clause that follows the path, with what to do where something can be done
     */
    public record Unread(Path path, String reason) {}
}
