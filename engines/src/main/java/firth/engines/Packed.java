package firth.engines;

import com.github.luben.zstd.ZstdInputStreamNoFinalizer;
import com.github.luben.zstd.ZstdOutputStreamNoFinalizer;
import java.io.BufferedInputStream;
import java.io.FileInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.apache.commons.compress.compressors.lz4.FramedLZ4CompressorInputStream;

/** How a file is packed, as the end of its name says. */
public enum Packed {
    PLAIN(""),
    GZIP(".gz"),
    ZSTD(".zst"),
    LZ4(".lz4");

    private static final int BUFFER = 1 << 18;

    /** The engine's own programs compress as much. */
    private static final int LEVEL = 3;

    private final String ending;

    Packed(String ending) {
        this.ending = ending;
    }

    /** How the file was packed before it was encrypted, where it is that as well. */
    public static Packed of(String name) {
        for (Packed p : values()) {
            if (p != PLAIN && Keys.opened(name).endsWith(p.ending)) {
                return p;
            }
        }
        return PLAIN;
    }

    /** The name of the file before it was packed and encrypted. */
    public static String nameWithin(String name) {
        String opened = Keys.opened(name);
        return opened.substring(0, opened.length() - of(name).ending.length());
    }

    /**
     * What the file held before it was packed and encrypted.
     *
     * @throws IOException also where the file is not packed as its name says, or no key opens it
     */
    public static InputStream open(Path file, Keys keys) throws IOException {
        InputStream in = opened(file, keys);
        try {
            return of(file.getFileName().toString()).unpack(in);
        } catch (IOException e) {
            in.close();
            throw e;
        }
    }

    /** The file of a directory that was called so before it was packed and encrypted; empty where there is none. */
    public static Optional<Path> find(Path directory, String name) {
        return Stream.of(values())
                .flatMap(p -> Stream.of(name + p.ending, Keys.sealed(name + p.ending)))
                .map(directory::resolve)
                .filter(Files::isRegularFile)
                .findFirst();
    }

    /** What the file held before it was encrypted, packed as it was then. */
    public static InputStream opened(Path file, Keys keys) throws IOException {
        return Keys.isSealed(file.getFileName().toString()) ? keys.open(file) : new FileInputStream(file.toFile());
    }

    /** Packs with zstd what is written to it. */
    public static OutputStream zstd(OutputStream to) throws IOException {
        return new ZstdOutputStreamNoFinalizer(to, LEVEL).setChecksum(true);
    }

    private InputStream unpack(InputStream in) throws IOException {
        return switch (this) {
            case PLAIN -> in;
            case GZIP -> new BufferedInputStream(new GZIPInputStream(in, BUFFER), BUFFER);
            case ZSTD -> new BufferedInputStream(new ZstdInputStreamNoFinalizer(in).setContinuous(false), BUFFER);
            case LZ4 ->
                new BufferedInputStream(
                        new FramedLZ4CompressorInputStream(new BufferedInputStream(in, BUFFER), true), BUFFER);
        };
    }
}
