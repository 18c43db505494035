package firth.engines;

import com.github.luben.zstd.ZstdInputStreamNoFinalizer;
import java.io.BufferedInputStream;
import java.io.FileInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.zip.GZIPInputStream;
import org.apache.commons.compress.compressors.lz4.FramedLZ4CompressorInputStream;

/** How a file is packed, as the end of its name says. */
public enum Packed {
    PLAIN(""),
    GZIP(".gz"),
    ZSTD(".zst"),
    LZ4(".lz4");

    private static final int BUFFER = 1 << 18;

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
