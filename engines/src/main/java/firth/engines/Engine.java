package firth.engines;

import java.io.IOException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;

/** Reads the files of one engine. A file or directory is offered once; when all were, the databases are put together. */
public interface Engine {

    /** As a fleet file names it. */
    String name();

    /** Whether a directory is one backup as a whole: what is in it is not offered. */
    boolean takesDirectory(Path directory) throws IOException;

    /**
     * Whether a file is one of this engine's.
     *
     * @param keys open it where it is encrypted
     */
    boolean takesFile(Path file, BasicFileAttributes attributes, Keys keys) throws IOException;

    /** Puts together what was taken, reading what is not known from before. */
    Observation observe(Looking looking) throws IOException;
}
