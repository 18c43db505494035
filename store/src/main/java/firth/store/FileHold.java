package firth.store;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import org.jspecify.annotations.Nullable;

/**
 * One program's hold on Firth's file: whoever serves it, and whoever puts a copy in its place, takes it first, so that never two do at
 * once. The operating system lets go of it when the program ends, however it ends.
 */
public final class FileHold implements AutoCloseable {

    private static final String ENDS = ".lock";

    private final FileChannel channel;

    private FileHold(FileChannel channel) {
        this.channel = channel;
    }

    /**
     * Takes hold of a file, which need not exist yet.
     *
     * @throws StoreFailure where another holds it, or the file beside it that stands for the hold cannot be written
     */
    public static FileHold of(Path file) {
        Path beside = file.resolveSibling(file.getFileName() + ENDS);
        FileChannel channel = null;
        try {
            Files.createDirectories(file.toAbsolutePath().getParent());
            channel = FileChannel.open(beside, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            FileLock lock = channel.tryLock();
            if (lock != null) {
                FileHold hold = new FileHold(channel);
                channel = null;
                return hold;
            }
            throw taken(file);
        } catch (OverlappingFileLockException e) {
            throw taken(file);
        } catch (IOException e) {
            throw new StoreFailure("The file " + beside + " cannot be written", e);
        } finally {
            shut(channel);
        }
    }

    private static StoreFailure taken(Path file) {
        return new StoreFailure("A Firth that runs has " + file + " open. Stop it first.");
    }

    private static void shut(@Nullable FileChannel channel) {
        try {
            if (channel != null) {
                channel.close();
            }
        } catch (IOException e) {
            throw new StoreFailure("The hold on Firth's file could not be released", e);
        }
    }

    /** Lets go of it. */
    @Override
    public void close() {
        shut(channel);
    }
}
