package firth.demo;

import firth.agent.Lock;
import firth.agent.Locks;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.List;
import java.util.Properties;
import java.util.function.Function;
import java.util.stream.Stream;

/** The simulated backup files of a store: hollow, as large as they say, with locks the store honours. */
final class FilesOfStore implements Locks {

    private static final String LOCKS = "locks.properties";

    private final Path home;
    private final Path files;

    FilesOfStore(Path home) {
        this.home = home;
        this.files = home.resolve("files").toAbsolutePath().normalize();
    }

    /** Where they lie. */
    Path root() {
        return files;
    }

    /** Where a path of a copy lies. */
    Path at(String path) throws IOException {
        Path file = files.resolve(path.replaceFirst("^/+", "")).normalize();
        if (path.isEmpty() || !file.startsWith(files) || file.equals(files)) {
            throw new IOException(path + " is not a path within the store");
        }
        return file;
    }

    void lay(String path, long bytes, Instant time) throws IOException {
        Path file = at(path);
        Files.createDirectories(file.getParent());
        try (RandomAccessFile hollow = new RandomAccessFile(file.toFile(), "rw")) {
            hollow.setLength(bytes);
        }
        Files.setLastModifiedTime(file, FileTime.from(time));
    }

    /** Locks as they were told when the files were laid: by path, until when. */
    Properties locks() throws IOException {
        return Harbour.read(home.resolve(LOCKS));
    }

    void lock(Properties locks) throws IOException {
        try (var to = Files.newOutputStream(home.resolve(LOCKS))) {
            locks.store(to, null);
        }
    }

    /** The locks of what lies in a directory of the store: until when, as they were told. */
    @Override
    public Function<String, Lock> in(String from, Path at) throws IOException {
        Properties locks = locks();
        String above = from.isEmpty() ? "/" : "/" + from + "/";
        return name -> {
            String until = locks.getProperty(above + name);
            return until == null ? Lock.NONE : Lock.until(Instant.parse(until));
        };
    }

    /** Removes a file and the directories that are empty then. */
    void remove(String path) throws IOException {
        Path file = at(path);
        Files.delete(file);
        for (Path d = file.getParent(); d != null && !d.equals(files); d = d.getParent()) {
            try (Stream<Path> left = Files.list(d)) {
                if (left.findAny().isPresent()) {
                    return;
                }
            }
            Files.delete(d);
        }
    }

    /** The first few files there are below a directory, in the order of their names. */
    List<Path> below(String directory, int most) throws IOException {
        try (Stream<Path> all = Files.list(at(directory))) {
            return all.sorted().limit(most).toList();
        }
    }
}
