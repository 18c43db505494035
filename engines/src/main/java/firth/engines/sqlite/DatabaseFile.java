package firth.engines.sqlite;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Optional;

/**
 * The first hundred bytes of a database file.
 *
 * @param pages how many it had when it was last written; 0 where a program older than the field wrote it
 * @param changes how often it was changed outside its write-ahead log
 * @param logged whether changes go to a write-ahead log first
 */
record DatabaseFile(int pageSize, long pages, long changes, boolean logged) {

    private static final byte[] MAGIC = "SQLite format 3\0".getBytes(StandardCharsets.US_ASCII);
    private static final int HEADER = 100;
    private static final int LARGEST_PAGE = 1 << 16;
    private static final byte LOGGED = 2;

    /** Nothing where the bytes begin otherwise. */
    static Optional<DatabaseFile> read(InputStream in) throws IOException {
        byte[] head = in.readNBytes(HEADER);
        if (head.length < HEADER || !Arrays.equals(head, 0, MAGIC.length, MAGIC, 0, MAGIC.length)) {
            return Optional.empty();
        }
        ByteBuffer b = ByteBuffer.wrap(head);
        int page = Short.toUnsignedInt(b.getShort(16));
        long changes = Integer.toUnsignedLong(b.getInt(24));
        boolean sizeHolds = changes == Integer.toUnsignedLong(b.getInt(92));
        return Optional.of(new DatabaseFile(
                page == 1 ? LARGEST_PAGE : page,
                sizeHolds ? Integer.toUnsignedLong(b.getInt(28)) : 0,
                changes,
                head[18] == LOGGED));
    }
}
