package firth.agent;

import java.io.IOException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.FileSystemLoopException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;
import java.nio.file.attribute.BasicFileAttributeView;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/**
 * What lies strictly below a directory, reached from it one name at a time: whoever puts a link, or another directory, in the place of
 * one on the way leads nobody out of it.
 */
final class Tree {

    /** Names of the agent's own files begin so; they are no backups. */
    static final String OWN = ".firth-";

    /** Where recovery sheets lie. */
    static final String SHEETS = "recovery-sheets";

    private final Path root;
    private final Object key;

    /**
     * @param root a directory, or a link to one
     * @throws Unsafe where it is not one, or is that of the whole machine
     */
    Tree(Path root) throws IOException {
        if (!Files.isDirectory(root)) {
            throw new Unsafe(root + " is no directory");
        }
        this.root = root.toRealPath();
        if (this.root.getNameCount() == 0) {
            throw new Unsafe(root + " is the root of the machine: name a directory below it");
        }
        this.key = keyOf(Files.readAttributes(this.root, BasicFileAttributes.class));
    }

    Path root() {
        return root;
    }

    private static Object keyOf(BasicFileAttributes of) throws Unsafe {
        Object key = of.fileKey();
        if (key == null) {
            throw new Unsafe("this machine does not tell one file from another");
        }
        return key;
    }

    /** The device something lies on, as Java tells it: {@code (dev=...,ino=...)}. */
    static String device(BasicFileAttributes of) throws Unsafe {
        String key = keyOf(of).toString();
        int end = key.indexOf(",ino=");
        if (end < 0) {
            throw new Unsafe("this machine does not tell one device from another");
        }
        return key.substring(0, end);
    }

    /**
     * The names on the way to a path of a copy.
     *
     * @throws Unsafe where it could not lie strictly below the root, or is the agent's own
     */
    static List<String> names(String path) throws Unsafe {
        List<String> names =
                List.of(path.replaceFirst("^/+", "").replaceFirst("/+$", "").split("/", -1));
        for (String name : names) {
            if (name.isEmpty() || name.equals(".") || name.equals("..") || !isName(name)) {
                throw new Unsafe("it is not a path within the store");
            }
        }
        if (names.get(0).equals(SHEETS) || names.stream().anyMatch(n -> n.startsWith(OWN))) {
            throw new Unsafe("it is the agent's own");
        }
        return names;
    }

    /** Whether a file of this machine can bear it. */
    private static boolean isName(String name) {
        try {
            return Path.of(name).getNameCount() == 1;
        } catch (InvalidPathException e) {
            return false;
        }
    }

    /** An open directory below the root, or the root. */
    final class Held implements AutoCloseable {
        private final SecureDirectoryStream<Path> stream;
        private final String device;

        private Held(DirectoryStream<Path> opened) throws IOException {
            if (!(opened instanceof SecureDirectoryStream)) {
                opened.close();
                throw new Unsafe("this machine cannot hold on to a directory");
            }
            this.stream = (SecureDirectoryStream<Path>) opened;
            this.device = device(own());
        }

        private BasicFileAttributes own() throws IOException {
            return Objects.requireNonNull(stream.getFileAttributeView(BasicFileAttributeView.class))
                    .readAttributes();
        }

        SecureDirectoryStream<Path> stream() {
            return stream;
        }

        /** What lies in it; to be asked once. */
        List<String> names() throws IOException {
            List<String> out = new ArrayList<>();
            try {
                stream.forEach(p -> out.add(p.getFileName().toString()));
            } catch (DirectoryIteratorException e) {
                throw e.getCause();
            }
            return out;
        }

        /** What lies under a name; a link is told of as one. */
        BasicFileAttributes at(String name) throws IOException {
            return Objects.requireNonNull(stream.getFileAttributeView(
                            Path.of(name), BasicFileAttributeView.class, LinkOption.NOFOLLOW_LINKS))
                    .readAttributes();
        }

        /** A directory in this one; no link, and on the same device. */
        Held enter(String name) throws IOException {
            Held inner = new Held(stream.newDirectoryStream(Path.of(name), LinkOption.NOFOLLOW_LINKS));
            if (!inner.device.equals(device)) {
                inner.close();
                throw new Unsafe("another file system is mounted there");
            }
            return inner;
        }

        @Override
        public void close() throws IOException {
            stream.close();
        }
    }

    /** The root, which is to be the directory it was when the agent began. */
    @SuppressWarnings("StreamResourceLeak") // what is held closes it
    Held open() throws IOException {
        Held held = new Held(Files.newDirectoryStream(root));
        if (!keyOf(held.own()).equals(key)) {
            held.close();
            throw new Unsafe(root + " is another directory than when the agent was started: is it mounted?");
        }
        return held;
    }

    /**
     * A directory below the root.
     *
     * @throws NoSuchFileException where it is not there
     * @throws Unsafe where a link or another file system lies on the way
     */
    Held open(List<String> names) throws IOException {
        Held at = open();
        for (String name : names) {
            try (Held outer = at) {
                at = entered(outer, name);
            }
        }
        return at;
    }

    private static Held entered(Held outer, String name) throws IOException {
        try {
            return outer.enter(name);
        } catch (NoSuchFileException | Unsafe e) {
            throw e;
        } catch (NotDirectoryException | FileSystemLoopException e) {
            throw new Unsafe("a link lies on the way to it");
        } catch (FileSystemException e) {
            if (outer.at(name).isSymbolicLink()) {
                throw new Unsafe("a link lies on the way to it");
            }
            throw e;
        }
    }

    /** Refuses what lies at, below or above a place at which another file system is mounted. */
    void checkMounts(List<String> names) throws IOException {
        Path place = root.resolve(String.join("/", names));
        for (Path mount : Mounts.below(root)) {
            if (place.startsWith(mount) || mount.startsWith(place)) {
                throw new Unsafe("another file system is mounted at " + mount);
            }
        }
    }
}
