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
import java.util.zip.GZIPInputStream;
import org.apache.commons.compress.compressors.lz4.FramedLZ4CompressorInputStream;
import org.apache.commons.io.IOUtils;

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

    public static Packed of(String name) {
        for (Packed p : values()) {
            if (p != PLAIN && name.endsWith(p.ending)) {
                return p;
            }
        }
        return PLAIN;
    }

    /** The name of the file before it was packed. */
    public static String nameWithin(String name) {
        return name.substring(0, name.length() - of(name).ending.length());
    }

    /**
     * What the file held before it was packed.
     *
     * @throws IOException also where the file is not packed as its name says
     */
    public static InputStream open(Path file) throws IOException {
        InputStream in = new FileInputStream(file.toFile());
        try {
            return of(file.getFileName().toString()).unpack(in);
        } catch (IOException e) {
            in.close();
            throw e;
        }
    }

    /**
     * Packs a file with zstd, and reads it back.
     *
     * @param to nothing is there yet
     * @throws IOException also where what was written is not what is read
     */
    public static void zstd(Path from, Path to) throws IOException {
        try (InputStream in = Files.newInputStream(from);
                OutputStream out =
                        new ZstdOutputStreamNoFinalizer(Files.newOutputStream(to), LEVEL).setChecksum(true)) {
            in.transferTo(out);
        }
        try (InputStream plain = new BufferedInputStream(Files.newInputStream(from), BUFFER);
                InputStream packed = ZSTD.unpack(Files.newInputStream(to))) {
            if (!IOUtils.contentEquals(plain, packed)) {
                throw new IOException("what was compressed to " + to + " is not what is read of it");
            }
        }
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
