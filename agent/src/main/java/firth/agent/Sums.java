package firth.agent;

import firth.core.record.Digests;
import firth.engines.Known;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Checksums of files, which are read through once as long as inode, size and moment of change stay what they are. */
final class Sums {

    static final String PREFIX = "sha256:";

    private static final int PIECE = 1 << 20;

    private final Path file;
    private final Rate rate;
    private @Nullable Known kept;

    /**
     * @param file where they are kept
     * @param rate how many bytes are read a second
     */
    Sums(Path file, Rate rate) {
        this.file = file;
        this.rate = rate;
    }

    /** Those that are kept, to be asked for and, by {@link Known#keep}, to be kept again. */
    Known known() throws IOException {
        return Known.of(file);
    }

    void keep(Known known) throws IOException {
        known.keep(file);
        kept = null;
    }

    /** The same of one file, by those that are kept. */
    String of(Tree.Held in, String name, BasicFileAttributes at) throws IOException, InterruptedException {
        if (kept == null) {
            kept = known();
        }
        return of(in, name, at, kept);
    }

    /** {@code sha256:} and what a file adds up to. */
    String of(Tree.Held in, String name, BasicFileAttributes at, Known known) throws IOException, InterruptedException {
        String key = (at.fileKey() + " " + at.size() + " " + at.lastModifiedTime()).replace('\t', ' ');
        Optional<String> before = known.get(key);
        if (before.isPresent()) {
            return before.get();
        }
        String sum = PREFIX + HexFormat.of().formatHex(read(in, name));
        known.put(key, sum);
        return sum;
    }

    private byte[] read(Tree.Held in, String name) throws IOException, InterruptedException {
        MessageDigest digest = Digests.sha256();
        ByteBuffer piece = ByteBuffer.allocate(PIECE);
        try (SeekableByteChannel bytes =
                in.stream().newByteChannel(Path.of(name), Set.of(StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS))) {
            for (int n = bytes.read(piece); n >= 0; n = bytes.read(piece)) {
                digest.update(piece.flip());
                piece.clear();
                rate.spend(n);
            }
        }
        return digest.digest();
    }
}
