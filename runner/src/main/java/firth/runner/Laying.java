package firth.runner;

import firth.engines.Keys;
import firth.engines.Packed;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.apache.commons.io.IOUtils;

/**
 * How files are written to stores: compressed and encrypted, each by itself, as the end of its name says afterwards.
 *
 * @param compressed whether they are compressed
 * @param key the name of the key they are encrypted with; empty where they are not
 */
record Laying(boolean compressed, Keys keys, Optional<String> key) {

    private static final String ZSTD = ".zst";

    /** As they are. */
    static final Laying PLAIN = new Laying(false, Keys.NONE, Optional.empty());

    private static final int BUFFER = 1 << 18;

    /** Whether they are written otherwise than they are. */
    boolean changes() {
        return compressed || key.isPresent();
    }

    /** What a file is called that is written so. */
    String name(String file) {
        String packed = compressed && Packed.of(file) == Packed.PLAIN ? file + ZSTD : file;
        return key.isPresent() ? Keys.sealed(packed) : packed;
    }

    /** How many bytes a file had before it was written so. */
    long size(Path laid) throws IOException {
        if (Packed.nameWithin(laid.getFileName().toString())
                .equals(laid.getFileName().toString())) {
            return Files.size(laid);
        }
        try (InputStream in = Packed.open(laid, keys)) {
            return in.transferTo(OutputStream.nullOutputStream());
        }
    }

    /** Copies files; all of the rest is as when they are moved. */
    void copy(Path from, Path to, Predicate<Path> asItIs) throws IOException {
        lay(from, to, asItIs, false);
    }

    /**
     * Moves files, and reads back what it wrote.
     *
     * @param from a file, or a directory, of which every file is written by itself; each is gone once it is written
     * @param to nothing is there yet; a file is to be called so already
     * @param asItIs the files of a directory that are written as they are, by their paths in it
     * @throws IOException also where what was written is not what is read
     */
    void move(Path from, Path to, Predicate<Path> asItIs) throws IOException {
        lay(from, to, asItIs, true);
        StoreDirectory.remove(from);
    }

    private void lay(Path from, Path to, Predicate<Path> asItIs, boolean gone) throws IOException {
        if (Files.isRegularFile(from)) {
            write(from, to);
            return;
        }
        try (Stream<Path> all = Files.walk(from)) {
            for (Path each : (Iterable<Path>) all::iterator) {
                Path within = from.relativize(each);
                if (Files.isDirectory(each)) {
                    Files.createDirectories(to.resolve(within));
                    continue;
                }
                if (asItIs.test(within)) {
                    PLAIN.write(each, to.resolve(within));
                } else {
                    String name = name(each.getFileName().toString());
                    write(each, to.resolve(within).resolveSibling(name));
                }
                if (gone) {
                    Files.delete(each);
                }
            }
        }
    }

    private void write(Path from, Path to) throws IOException {
        boolean packs = compressed && Packed.of(from.getFileName().toString()) == Packed.PLAIN;
        try (InputStream in = Files.newInputStream(from);
                OutputStream file = key.isPresent() ? keys.seal(to, key.get()) : Files.newOutputStream(to);
                OutputStream out = packs ? Packed.zstd(file) : file) {
            in.transferTo(out);
        }
        try (InputStream plain = new BufferedInputStream(Files.newInputStream(from), BUFFER);
                InputStream laid = packs ? Packed.open(to, keys) : Packed.opened(to, keys)) {
            if (!IOUtils.contentEquals(plain, laid)) {
                throw new IOException("what was written to " + to + " is not what is read of it");
            }
        }
        Files.setLastModifiedTime(to, Files.getLastModifiedTime(from));
    }
}
