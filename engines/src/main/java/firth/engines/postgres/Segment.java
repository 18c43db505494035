package firth.engines.postgres;

import java.nio.file.Path;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A file of the write-ahead log in an archive.
 *
 * @param size as it lies there, packed or not
 * @param written when it was changed last
 * @param key by what it is known
 * @param read what it tells, once it was read
 */
record Segment(
        Path file,
        SegmentName name,
        long size,
        Instant written,
        String key,
        @Nullable SegmentFacts read) {

    Segment(Path file, SegmentName name, long size, Instant written, String key) {
        this(file, name, size, written, key, null);
    }

    Segment with(SegmentFacts facts) {
        return new Segment(file, name, size, written, key, facts);
    }

    /** @throws IllegalStateException before it was read */
    SegmentFacts facts() {
        if (read == null) {
            throw new IllegalStateException(file + " was not read");
        }
        return read;
    }
}
