package firth.demo;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.stream.Stream;

/** The simulated backup files of a store: hollow, as large as they say, with locks the store honours. */
final class FilesOfStore {

    private static final String LOCKS = "locks.properties";

    private final Path home;
    private final Path files;

    FilesOfStore(Path home) {
        this.home = home;
        this.files = home.resolve("files").toAbsolutePath().normalize();
    }

    boolean areLaid() {
        return Files.isDirectory(files);
    }

    /** Where a path of a copy lies. */
    Path at(String path) throws IOException {
        Path file = files.resolve(path.replaceFirst("^/+", "")).normalize();
        if (path.isEmpty() || !file.startsWith(files) || file.equals(files)) {
            throw new IOException(path + " is not a path within the store");
        }
        return file;
    }

    /**
     * Why a file is not the one a list speaks of; empty where it is, or is not there at all.
     *
     * @param bytes what it is to take up; 0 where that is not known
     * @param checksum what it is to add up to, as {@code sha256:...}; empty where that is not known
     */
    Optional<String> flaw(Path file, long bytes, String checksum) throws IOException {
        if (!Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
            return Optional.empty();
        }
        if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            return Optional.of("it is not a plain file");
        }
        if (!file.toRealPath().startsWith(files.toRealPath())) {
            return Optional.of("it lies outside of the store");
        }
        if (bytes > 0 && Files.size(file) != bytes) {
            return Optional.of("it is not as large as it was written");
        }
        return checksum.startsWith("sha256:") && !checksum.equals("sha256:" + sha256(file))
                ? Optional.of("its checksum is another")
                : Optional.empty();
    }

    private static String sha256(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            in.transferTo(new DigestOutputStream(OutputStream.nullOutputStream(), digest));
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("Every Java has SHA-256", e);
        }
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

    boolean isLocked(String path, Instant now) throws IOException {
        String until = locks().getProperty(path);
        return until != null && Instant.parse(until).isAfter(now);
    }

    /** Writes what lies here, a line a file. */
    void list(Path to) throws IOException {
        Properties locks = locks();
        try (BufferedWriter out = Files.newBufferedWriter(to);
                Stream<Path> all = Files.walk(files)) {
            for (Path file : (Iterable<Path>) all.filter(Files::isRegularFile)::iterator) {
                String path = "/" + files.relativize(file);
                ObjectNode line = Json.MAPPER
                        .createObjectNode()
                        .put("path", path)
                        .put("size", Files.size(file))
                        .put("time", Files.getLastModifiedTime(file).toInstant().toString());
                if (locks.containsKey(path)) {
                    line.put("lockedUntil", locks.getProperty(path));
                }
                out.write(line.toString());
                out.write('\n');
            }
        }
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
