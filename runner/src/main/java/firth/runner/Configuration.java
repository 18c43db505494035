package firth.runner;

import firth.engines.ConfigurationFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A copy of what an engine is set to, being written. */
final class Configuration {

    private static final String FILES = "files";

    private final Path into;
    private final List<String> unread = new ArrayList<>();

    Configuration(Path into) throws IOException {
        this.into = Files.createDirectory(into);
    }

    /** Copies a file the engine reads, to where it lies below the root; one that may not be read, or is not here, is named. */
    void file(Path from) throws IOException {
        if (!Files.isReadable(from)) {
            unread.add(from.toString());
            return;
        }
        Path to = into.resolve(FILES).resolve(Path.of("/").relativize(from.toAbsolutePath()));
        Files.createDirectories(to.getParent());
        Files.copy(from, to);
    }

    /**
     * Writes last what the engine says itself.
     *
     * @return which files could not be read, in words
     */
    String settings(List<String> lines) throws IOException {
        Files.write(into.resolve(ConfigurationFiles.SETTINGS), lines);
        return unread.isEmpty()
                ? ""
                : "of its configuration " + String.join(", ", unread) + " may not be read by this runner";
    }
}
