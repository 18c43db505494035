package firth.engines.sqlite;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;

/**
 * A write-ahead log: how many of its frames belong to finished transactions. What follows the last one whose checksums agree is of an older
 * log or was never finished, and counts for nothing.
 *
 * @param commits how many transactions it holds
 * @param pages how many pages the database has after the last of them
 */
record WriteAheadLog(int pageSize, long commits, long frames, long pages) {

    static final int HEADER = 32;
    static final int FRAME_HEADER = 24;
    private static final int MAGIC = 0x377F0682;

    /** @throws IOException where it is no such log; says why in a clause */
    static WriteAheadLog read(InputStream in) throws IOException {
        byte[] head = in.readNBytes(HEADER);
        if (head.length == 0) {
            return new WriteAheadLog(0, 0, 0, 0);
        }
        ByteBuffer h = ByteBuffer.wrap(head);
        Sum sum = begun(head);
        int page = h.getInt(8);
        byte[] frame = new byte[FRAME_HEADER + page];
        ByteBuffer f = ByteBuffer.wrap(frame);
        long commits = 0;
        long frames = 0;
        long pages = 0;
        for (long n = 1; in.readNBytes(frame, 0, frame.length) == frame.length; n++) {
            sum.add(frame, 0, 8);
            sum.add(frame, FRAME_HEADER, page);
            boolean ours = f.getInt(8) == h.getInt(16) && f.getInt(12) == h.getInt(20);
            if (!ours || !sum.is(f.getInt(16), f.getInt(20))) {
                break;
            }
            if (f.getInt(4) != 0) {
                commits++;
                frames = n;
                pages = Integer.toUnsignedLong(f.getInt(4));
            }
        }
        return new WriteAheadLog(page, commits, frames, pages);
    }

    /**
     * The sum after the beginning of a log.
     *
     * @throws IOException where it is none; says why in a clause
     */
    static Sum begun(byte[] head) throws IOException {
        ByteBuffer h = ByteBuffer.wrap(head);
        if (head.length < HEADER || (h.getInt(0) & ~1) != MAGIC) {
            throw new IOException("does not begin as a write-ahead log of SQLite does");
        }
        Sum sum = new Sum((h.getInt(0) & 1) == 1 ? ByteOrder.BIG_ENDIAN : ByteOrder.LITTLE_ENDIAN);
        sum.add(head, 0, HEADER - 8);
        if (!sum.is(h.getInt(24), h.getInt(28))) {
            throw new IOException("has a beginning whose checksum is wrong");
        }
        return sum;
    }

    /** The running sum the engine guards its log with. */
    static final class Sum {

        private final ByteOrder order;
        private int first;
        private int second;

        Sum(ByteOrder order) {
            this.order = order;
        }

        void add(byte[] bytes, int from, int count) {
            ByteBuffer b = ByteBuffer.wrap(bytes).order(order);
            for (int i = from; i < from + count; i += 8) {
                first += b.getInt(i) + second;
                second += b.getInt(i + 4) + first;
            }
        }

        Sum copy() {
            Sum out = new Sum(order);
            out.first = first;
            out.second = second;
            return out;
        }

        boolean is(int a, int b) {
            return first == a && second == b;
        }
    }
}
