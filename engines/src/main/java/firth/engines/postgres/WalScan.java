package firth.engines.postgres;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.Set;
import java.util.zip.CRC32C;

/**
 * Reads the records of segments that follow one another. A record that goes on in the next segment is put together and handed over where
 * it ends, since without that segment it is not there.
 *
 * <p>Pages, records and their checksums are laid out as in xlog_internal.h and xlogrecord.h of the engine; every record's checksum and its
 * pointer to the one before are held against what was read, so that what a recycled file holds of older times is not taken for its content.
 */
final class WalScan {

    /** What each major puts at the beginning of every page. */
    private static final Set<Integer> MAGICS = Set.of(0xD106, 0xD10D, 0xD110, 0xD113, 0xD116);

    private static final int CONTINUED = 0x0001;
    private static final int LONG_HEADER = 0x0002;
    private static final int OVERWRITTEN = 0x0008;
    private static final int SHORT_SIZE = 24;
    private static final int LONG_SIZE = 40;
    private static final int RECORD_HEADER = 24;
    private static final int CRC_AT = 20;
    private static final int LONGEST = 1 << 30;
    private static final int FIRST_GUESS = 1 << 16;
    private static final int CHUNK = 1 << 20;
    private static final int NEVER = -1;

    /** Takes the records as they are found. */
    interface Taking {

        /**
         * @param at the first byte of its body in {@code bytes}
         */
        void take(WalRecord record, byte[] bytes, int at);
    }

    /**
     * What a segment's first page says of it.
     *
     * @param magic tells the major
     * @param segmentSize in bytes
     * @param timeline of its first page
     */
    record Head(int magic, long systemIdentifier, int segmentSize, int pageSize, int timeline, long position) {}

    /**
     * Where reading a segment ended.
     *
     * @param end the position up to which it holds log without a hole
     * @param whole whether that is the segment's end
     * @param broken why it is not; empty where the log just ends there
     * @param headless whether it begins with the rest of a record whose beginning was not there
     * @param bytes how many there were to read
     */
    record End(Head head, long end, boolean whole, String broken, boolean headless, long bytes) {}

    private final Taking taking;
    private final CRC32C crc = new CRC32C();

    private byte[] pending = new byte[FIRST_GUESS];
    private int has;
    private int wants;
    private long pendingAt = NEVER;
    private long lastRecord = NEVER;
    private long next = NEVER;

    WalScan(Taking taking) {
        this.taking = taking;
    }

    /** Whether a segment that begins at a position follows the one read last. */
    boolean goesOnAt(long position) {
        return next == position;
    }

    /** Forgets what came before: the next segment stands by itself. */
    void forget() {
        drop();
        lastRecord = NEVER;
        next = NEVER;
    }

    private void drop() {
        has = 0;
        wants = 0;
        pendingAt = NEVER;
    }

    /** What a file's first page says, without reading on. */
    static Head head(byte[] page) throws IOException {
        ByteBuffer b = ByteBuffer.wrap(page).order(ByteOrder.LITTLE_ENDIAN);
        int magic = Short.toUnsignedInt(b.getShort(0));
        if (!MAGICS.contains(magic)) {
            throw new IOException(
                    magic == 0
                            ? "is empty at its beginning"
                            : "does not begin as a write-ahead log of PostgreSQL 13 to 17 does");
        }
        if ((b.getShort(2) & LONG_HEADER) == 0) {
            throw new IOException("begins in the middle of a segment");
        }
        return new Head(magic, b.getLong(24), b.getInt(32), b.getInt(36), b.getInt(4), b.getLong(8));
    }

    /**
     * Reads one segment.
     *
     * @throws IOException where it cannot be read at all, or does not begin at {@code start}
     */
    End read(InputStream in, SegmentName name) throws IOException {
        byte[] chunk = new byte[CHUNK];
        int got = in.readNBytes(chunk, 0, CHUNK);
        if (got < LONG_SIZE) {
            throw new IOException(got == 0 ? "is empty" : "has " + got + " bytes only");
        }
        Head head = head(chunk);
        long start = name.start(head.segmentSize());
        if (head.position() != start) {
            throw new IOException("holds the log from " + Lsn.of(head.position()) + " and not what its name says");
        }
        if (!goesOnAt(start)) {
            forget();
        }
        Reading reading = new Reading(head, start);
        long bytes = got;
        while (got > 0 && reading.goesOn) {
            int pages = got / head.pageSize();
            for (int p = 0; p < pages && reading.goesOn; p++) {
                reading.page(chunk, p * head.pageSize());
            }
            if (reading.goesOn && pages * head.pageSize() < got) {
                reading.stop("it was cut off");
            }
            got = reading.goesOn ? in.readNBytes(chunk, 0, CHUNK) : 0;
            bytes += got;
        }
        for (int rest = in.readNBytes(chunk, 0, CHUNK); rest > 0; rest = in.readNBytes(chunk, 0, CHUNK)) {
            bytes += rest;
        }
        return reading.end(bytes);
    }

    /** One segment on its way through. */
    private final class Reading {

        private final Head head;
        private final long segmentEnd;
        private long page;
        private long upTo;
        private String broken = "";
        private boolean goesOn = true;
        private boolean ended;
        private boolean headless;

        Reading(Head head, long start) {
            this.head = head;
            this.segmentEnd = start + head.segmentSize();
            this.page = start;
            this.upTo = start;
        }

        void stop(String why) {
            broken = why;
            goesOn = false;
        }

        End end(long bytes) {
            boolean whole = ended || broken.isEmpty() && page == segmentEnd;
            if (!whole && goesOn && broken.isEmpty()) {
                broken = "it was cut off";
            }
            if (!whole) {
                forget();
            }
            next = whole ? segmentEnd : NEVER;
            return new End(head, whole ? segmentEnd : upTo, whole, broken, headless, bytes);
        }

        /** One page, whose first byte is at {@code at}; places within it are counted from there. */
        void page(byte[] bytes, int at) {
            ByteBuffer b = ByteBuffer.wrap(bytes, at, head.pageSize()).slice().order(ByteOrder.LITTLE_ENDIAN);
            int magic = Short.toUnsignedInt(b.getShort(0));
            if (magic == 0) {
                goesOn = false;
                return;
            }
            if (magic != head.magic() || b.getLong(8) != page) {
                stop("its page at " + Lsn.of(page) + " is not part of it");
                return;
            }
            int info = b.getShort(2);
            int place = (info & LONG_HEADER) != 0 ? LONG_SIZE : SHORT_SIZE;
            if ((info & OVERWRITTEN) != 0) {
                drop();
            }
            if ((info & CONTINUED) != 0) {
                place = goOn(b, place, b.getInt(16));
            } else if (pendingAt != NEVER) {
                stop("the record at " + Lsn.of(pendingAt) + " is not finished");
            }
            while (goesOn && place < head.pageSize()) {
                place = begin(b, place);
            }
            page += head.pageSize();
        }

        /** The rest of a record that began on a page before; gives where the next begins. */
        private int goOn(ByteBuffer b, int place, int rest) {
            int here = Math.min(rest, head.pageSize() - place);
            if (pendingAt == NEVER) {
                headless = true;
                if (here == rest) {
                    upTo = page + aligned(place + here);
                }
            } else if (rest != wants - has) {
                stop("the record at " + Lsn.of(pendingAt) + " does not go on");
            } else {
                add(b, place, here);
                if (here == rest) {
                    finish(page + place + here);
                }
            }
            return aligned(place + here);
        }

        /** A record that begins here, as far as this page has it; gives where the next begins. */
        private int begin(ByteBuffer b, int place) {
            int length = b.getInt(place);
            if (length == 0) {
                goesOn = false;
                return place;
            }
            long lsn = page + place;
            if (length < RECORD_HEADER || length > LONGEST) {
                stop("what is at " + Lsn.of(lsn) + " is no record");
                return place;
            }
            pendingAt = lsn;
            has = 0;
            wants = length;
            int here = Math.min(length, head.pageSize() - place);
            add(b, place, here);
            if (here == length) {
                finish(lsn + length);
            }
            return aligned(place + here);
        }

        private void add(ByteBuffer b, int place, int count) {
            if (has + count > pending.length) {
                pending = Arrays.copyOf(pending, Math.max(has + count, pending.length * 2));
            }
            b.get(place, pending, has, count);
            has += count;
        }

        private void finish(long endsAt) {
            ByteBuffer r = ByteBuffer.wrap(pending, 0, has).order(ByteOrder.LITTLE_ENDIAN);
            WalRecord record = new WalRecord(
                    pendingAt,
                    r.getLong(8),
                    Byte.toUnsignedInt(r.get(17)),
                    Byte.toUnsignedInt(r.get(16)),
                    r.getInt(4),
                    has);
            if (lastRecord != NEVER && record.previous() != lastRecord) {
                stop("the record at " + Lsn.of(pendingAt) + " does not follow the one before");
                return;
            }
            crc.reset();
            crc.update(pending, RECORD_HEADER, has - RECORD_HEADER);
            crc.update(pending, 0, CRC_AT);
            if ((int) crc.getValue() != r.getInt(CRC_AT)) {
                stop("the checksum of the record at " + Lsn.of(pendingAt) + " is wrong");
                return;
            }
            lastRecord = pendingAt;
            upTo = aligned(endsAt);
            drop();
            taking.take(record, pending, RECORD_HEADER);
            if (record.endsSegment()) {
                goesOn = false;
                ended = true;
            }
        }
    }

    private static int aligned(int at) {
        return at + 7 & ~7;
    }

    private static long aligned(long at) {
        return at + 7 & ~7L;
    }
}
