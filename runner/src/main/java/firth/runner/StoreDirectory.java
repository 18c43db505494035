package firth.runner;

import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;

/**
 * A store that is a directory of this host. What is written there is not in its place before it is whole.
 *
 * @param id as Firth knows it
 */
public record StoreDirectory(String id, Path root) {

    private static final String ASIDE = ".firth-part";
    private static final String TRY = "probe-";

    /** Whatever is older was left. */
    private static final Duration TRIES_TAKE = Duration.ofMinutes(1);

    private static final int PIECE = 1 << 18;
    private static final AtomicLong PROBES = new AtomicLong();

    /** It is never made: where it is not, a disk is missing, and whatever were written there would be nobody's. */
    private Path there() throws IOException {
        if (!Files.isDirectory(root)) {
            throw new IOException(root + " is not there");
        }
        return root;
    }

    /** Where the backups of a database lie. */
    Path home(String database) throws IOException {
        return Files.createDirectories(there().resolve(database));
    }

    /** Where its logs come to. */
    Path archive(String database) throws IOException {
        return Files.createDirectories(home(database).resolve("log"));
    }

    /** Where something is written that will be called so; nothing is there. */
    Path aside(String name) throws IOException {
        Path out = Files.createDirectories(there().resolve(ASIDE)).resolve(name);
        remove(out);
        return out;
    }

    /** Puts what was written aside in its place, once all of it is on the disk: not every engine sees to that. */
    static void place(Path aside, Path to) throws IOException {
        Path within = Files.createDirectories(Objects.requireNonNull(to.getParent()));
        if (Files.exists(to)) {
            throw new IOException(to + " is there already, and is not written over");
        }
        try (Stream<Path> all = Files.walk(aside)) {
            for (Path p : (Iterable<Path>) all.filter(f -> !Files.isSymbolicLink(f))::iterator) {
                sync(p);
            }
        }
        Files.move(aside, to, StandardCopyOption.ATOMIC_MOVE);
        sync(within);
    }

    private static void sync(Path what) throws IOException {
        try (FileChannel channel = FileChannel.open(what, StandardOpenOption.READ)) {
            channel.force(true);
        }
    }

    /** Takes away what programs wrote for a try and were killed over. */
    private void sweep() throws IOException {
        FileTime old = FileTime.from(Instant.now().minus(TRIES_TAKE));
        try (Stream<Path> all = Files.list(Files.createDirectories(there().resolve(ASIDE)))) {
            for (Path left :
                    (Iterable<Path>) all.filter(p -> p.getFileName().toString().startsWith(TRY))::iterator) {
                if (Files.getLastModifiedTime(left).compareTo(old) < 0) {
                    Files.deleteIfExists(left);
                }
            }
        } catch (NoSuchFileException meanwhile) {
            // Another did it.
        }
    }

    /** Why it takes nothing; empty where it does. Something is really written there. */
    Optional<String> refusal() {
        try {
            sweep();
            // Of its own: several databases may ask at one moment.
            Path file = aside(TRY + ProcessHandle.current().pid() + "-" + PROBES.incrementAndGet());
            byte[] content = "written to see whether it can be".getBytes(StandardCharsets.UTF_8);
            Files.write(file, content, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.SYNC);
            boolean whole = java.util.Arrays.equals(content, Files.readAllBytes(file));
            Files.delete(file);
            return whole ? Optional.empty() : Optional.of("what was written there is not what is read");
        } catch (IOException e) {
            return Optional.of(Trouble.said(e));
        }
    }

    /** Bytes that can be written there. */
    long freeBytes() throws IOException {
        return Files.getFileStore(root).getUsableSpace();
    }

    /** Copies a file or a directory here under the path it has there, with the dates of its files, no faster than it may. */
    void copy(Path from, String path, Throttle throttle) throws IOException {
        Path to = there().resolve(path);
        if (Files.exists(to)) {
            return;
        }
        Path aside = aside("copy-" + path.replace('/', '-'));
        Files.walkFileTree(from, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult preVisitDirectory(Path directory, BasicFileAttributes is) throws IOException {
                Files.createDirectory(aside.resolve(from.relativize(directory)));
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes is) throws IOException {
                Path target = from.equals(file) ? aside : aside.resolve(from.relativize(file));
                if (throttle.holds()) {
                    slowly(file, target, throttle);
                } else {
                    Files.copy(file, target, StandardCopyOption.COPY_ATTRIBUTES);
                }
                return FileVisitResult.CONTINUE;
            }
        });
        place(aside, to);
    }

    private static void slowly(Path from, Path to, Throttle throttle) throws IOException {
        try (InputStream in = Files.newInputStream(from);
                OutputStream out = Files.newOutputStream(to, StandardOpenOption.CREATE_NEW)) {
            byte[] piece = new byte[PIECE];
            for (int n = in.read(piece); n >= 0; n = in.read(piece)) {
                out.write(piece, 0, n);
                throttle.copied(n);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new InterruptedIOException("the copy was cut off");
        }
        Files.setPosixFilePermissions(to, Files.getPosixFilePermissions(from));
        Files.setLastModifiedTime(to, Files.getLastModifiedTime(from));
    }

    /** Takes away what a run left that did not end; nothing where nothing is there. */
    public static void remove(Path what) throws IOException {
        if (Files.exists(what)) {
            try (Stream<Path> all = Files.walk(what)) {
                for (Path p : (Iterable<Path>) all.sorted(Comparator.reverseOrder())::iterator) {
                    Files.deleteIfExists(p);
                }
            }
        }
    }
}
