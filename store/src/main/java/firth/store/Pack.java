package firth.store;

import firth.core.history.History;
import firth.core.model.Evidence;
import java.nio.ByteBuffer;
import java.util.HashMap;
import java.util.Map;
import java.util.zip.CRC32C;
import org.jspecify.annotations.Nullable;

/**
 * The backups of a database in one stretch of bytes: a version, a checksum, then row after row, each value as how it differs
 * from what one would expect of it. What is kept here is kept in rows as well.
 */
final class Pack implements BackupRows {

    /** Goes up whenever the manner of packing changes. */
    private static final byte VERSION = 2;

    static final int HEAD = 1 + Long.BYTES;
    static final int END = 0;
    static final int BACKUP = 1;
    static final int POSITIONS = 2;
    static final int COPY = 3;
    /** How the copy before it is known, where that is more than a word. */
    static final int EVIDENCE = 4;

    static final int SELF_CONTAINED = 1 << 3;
    static final int STREAMED = 1 << 4;
    static final int POSITIONED = 1 << 5;
    static final int TIMED = 1 << 6;
    static final int RELATED = 1 << 7;
    static final int STATED = 1 << 2;
    static final int LOCKED = 1 << 3;
    static final int GONE = 1 << 4;
    static final int FOUND = 1 << 5;
    static final int SINCE = 1 << 6;
    static final int BYTES = 1 << 7;

    private final Bytes out = new Bytes();
    private final Map<String, Integer> words = new HashMap<>();
    private final Expected expected = new Expected();
    private long rows;

    /** What is expected of the next row, from the one before. */
    private static final class Expected {
        private long num;
        private String id = "";
        private long started;
        private long ended;
        private long to;
        private long toTime;
    }

    long rows() {
        return rows;
    }

    byte[] content() {
        out.putByte(END);
        byte[] body = out.written();
        byte[] all = new byte[HEAD + body.length];
        System.arraycopy(body, 0, all, HEAD, body.length);
        ByteBuffer.wrap(all).put(VERSION).putLong(checksum(all));
        return all;
    }

    private static long checksum(byte[] content) {
        CRC32C crc = new CRC32C();
        crc.update(content, HEAD, content.length - HEAD);
        return crc.getValue();
    }

    /** Whether these bytes are a pack of this version, and undamaged. */
    static boolean isSound(byte[] content) {
        return content.length > HEAD
                && content[0] == VERSION
                && ByteBuffer.wrap(content).getLong(1) == checksum(content);
    }

    /** A word that comes again and again: written once. */
    private void word(@Nullable String text) {
        if (text == null) {
            out.putPlain(0);
            return;
        }
        Integer known = words.get(text);
        if (known == null) {
            words.put(text, words.size() + 2);
            out.putPlain(1);
            out.put(text);
        } else {
            out.putPlain(known);
        }
    }

    @Override
    public void backup(Row r) {
        rows++;
        boolean related = r.parent() != null || r.run() != null;
        boolean positioned = r.from() >= 0;
        boolean timed = r.fromTime() != History.ALWAYS;
        out.putByte(BACKUP);
        out.putByte(r.kind().ordinal()
                | (r.selfContained() ? SELF_CONTAINED : 0)
                | (r.streamed() ? STREAMED : 0)
                | (positioned ? POSITIONED : 0)
                | (timed ? TIMED : 0)
                | (related ? RELATED : 0));
        out.put(r.num() - expected.num);
        int shared = shared(expected.id, r.id());
        out.putPlain(shared);
        out.put(r.id().substring(shared));
        word(r.lineage());
        word(r.stream());
        if (r.streamed()) {
            out.put(r.lag());
        }
        if (related) {
            out.put(r.parent() == null ? "" : r.parent());
            out.put(r.run() == null ? "" : r.run());
        }
        out.put(r.started() - expected.started);
        out.put(r.ended() - r.started());
        out.put(r.consistentAt() - r.ended());
        if (positioned) {
            out.put(r.from() - expected.to);
            out.put(r.to() - r.from());
            expected.to = r.to();
        }
        if (timed) {
            out.put(r.fromTime() - expected.toTime);
            out.put(r.toTime() - r.fromTime());
            expected.toTime = r.toTime();
        }
        expect(r.num(), r.id(), r.started(), r.ended());
    }

    private void expect(long num, String id, long started, long ended) {
        expected.num = num;
        expected.id = id;
        expected.started = started;
        expected.ended = ended;
    }

    private static int shared(String one, String other) {
        int length = Math.min(one.length(), other.length());
        int n = 0;
        while (n < length && one.charAt(n) == other.charAt(n)) {
            n++;
        }
        return n;
    }

    @Override
    public void positions(String stream, long from, long to) {
        out.putByte(POSITIONS);
        word(stream);
        out.put(from);
        out.put(to - from);
    }

    @Override
    public void copy(
            String store,
            long landed,
            boolean stated,
            long lockedUntil,
            long gone,
            long found,
            long since,
            double bytes,
            Evidence evidence) {
        out.putByte(COPY
                | (stated ? STATED : 0)
                | (lockedUntil != History.ALWAYS ? LOCKED : 0)
                | (gone != History.NEVER ? GONE : 0)
                | (found != History.NEVER ? FOUND : 0)
                | (since != History.ALWAYS ? SINCE : 0)
                | (Double.isNaN(bytes) ? 0 : BYTES));
        word(store);
        out.put(landed - expected.ended);
        if (lockedUntil != History.ALWAYS) {
            out.put(lockedUntil - landed);
        }
        if (gone != History.NEVER) {
            out.put(gone - landed);
        }
        if (found != History.NEVER) {
            out.put(found - landed);
        }
        if (since != History.ALWAYS) {
            out.put(since - landed);
        }
        if (!Double.isNaN(bytes)) {
            out.putDouble(bytes);
        }
        if (evidence != Evidence.TOLD) {
            out.putByte(EVIDENCE);
            out.putByte(evidence.ordinal());
        }
    }
}
