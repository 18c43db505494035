package firth.bench;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.Locale;
import java.util.zip.CRC32C;

/**
 * An archive of write-ahead log as PostgreSQL 15 lays it out, made up: each segment begins with records, some of them commits, and ends with
 * the record that says the rest is empty. The rest takes no room on disk.
 */
final class MadeSegments {

    static final int SEGMENT = 16 << 20;

    private static final int PAGE = 8192;
    private static final int MAGIC = 0xD110;
    private static final int LONG_HEADER = 40;
    private static final int SHORT_HEADER = 24;
    private static final int RECORD_HEADER = 24;
    private static final int XLOG = 0;
    private static final int TRANSACTION = 1;
    private static final int HEAP = 10;
    private static final int SWITCH = 0x40;
    private static final int EVERY = 8;
    private static final int BODY = 120;

    private final CRC32C crc = new CRC32C();
    private final int records;
    private long previous;
    private long moment;

    /** @param records in each segment */
    MadeSegments(int records) {
        this.records = records;
    }

    void write(Path directory, int count) throws IOException {
        for (int k = 1; k <= count; k++) {
            long low = k % 256L;
            String name = String.format(Locale.ROOT, "%08X%08X%08X", 1, k / 256, low);
            try (RandomAccessFile file =
                    new RandomAccessFile(directory.resolve(name).toFile(), "rw")) {
                file.write(segment(((long) k / 256 << 32) + low * SEGMENT));
                file.setLength(SEGMENT);
            }
        }
    }

    private byte[] segment(long start) {
        ByteBuffer b = ByteBuffer.allocate(records * (BODY + SHORT_HEADER + RECORD_HEADER) + 2 * PAGE)
                .order(ByteOrder.LITTLE_ENDIAN);
        for (int i = 0; i < records; i++) {
            boolean commit = i % EVERY == EVERY - 1;
            byte[] body = new byte[commit ? 10 : BODY];
            if (commit) {
                moment += 1_000_000;
                ByteBuffer.wrap(body)
                        .order(ByteOrder.LITTLE_ENDIAN)
                        .put((byte) 255)
                        .put((byte) 8)
                        .putLong(moment);
            }
            record(b, start, commit ? TRANSACTION : HEAP, 0, body);
        }
        record(b, start, XLOG, SWITCH, new byte[0]);
        byte[] out = new byte[(b.position() + PAGE - 1) / PAGE * PAGE];
        b.flip().get(out, 0, b.limit());
        return out;
    }

    private void record(ByteBuffer b, long start, int manager, int info, byte[] body) {
        head(b, start, 0);
        ByteBuffer r = ByteBuffer.allocate(RECORD_HEADER + body.length).order(ByteOrder.LITTLE_ENDIAN);
        r.putInt(r.capacity())
                .putInt(7)
                .putLong(previous)
                .put((byte) info)
                .put((byte) manager)
                .putShort((short) 0);
        r.position(RECORD_HEADER);
        r.put(body);
        crc.reset();
        crc.update(r.array(), RECORD_HEADER, body.length);
        crc.update(r.array(), 0, RECORD_HEADER - 4);
        r.putInt(RECORD_HEADER - 4, (int) crc.getValue());
        previous = start + b.position();
        for (int at = 0; at < r.capacity(); ) {
            int here = Math.min(r.capacity() - at, PAGE - b.position() % PAGE);
            b.put(r.array(), at, here);
            at += here;
            if (at < r.capacity()) {
                head(b, start, r.capacity() - at);
            }
        }
        b.position(b.position() + 7 & ~7);
    }

    /** The beginning of a page, where one begins. */
    private static void head(ByteBuffer b, long start, int rest) {
        if (b.position() % PAGE != 0) {
            return;
        }
        boolean first = b.position() == 0;
        int info = (first ? 2 : 0) | (rest > 0 ? 1 : 0);
        long page = start + b.position();
        b.putShort((short) MAGIC)
                .putShort((short) info)
                .putInt(1)
                .putLong(page)
                .putInt(rest)
                .putInt(0);
        if (first) {
            b.putLong(4711).putInt(SEGMENT).putInt(PAGE);
        }
        assert b.position() % PAGE == (first ? LONG_HEADER : SHORT_HEADER);
    }
}
