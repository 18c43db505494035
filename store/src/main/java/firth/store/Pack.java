package firth.store;

import firth.core.history.History;
import firth.core.history.Kind;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.LongPredicate;
import java.util.zip.CRC32C;

/**
 * The backups of a database in one stretch of bytes: a version, a checksum, then row after row, each value as how it differs
 * from what one would expect of it. What is kept here is kept in rows as well.
 */
final class Pack implements BackupRows {

    /** Goes up whenever the manner of packing changes. */
    private static final byte VERSION = 1;

    private static final int HEAD = 1 + Long.BYTES;
    private static final Kind[] KINDS = Kind.values();
    private static final int END = 0;
    private static final int BACKUP = 1;
    private static final int POSITIONS = 2;
    private static final int COPY = 3;
    private static final int SELF_CONTAINED = 1 << 3;
    private static final int STREAMED = 1 << 4;
    private static final int POSITIONED = 1 << 5;
    private static final int TIMED = 1 << 6;
    private static final int RELATED = 1 << 7;
    private static final int STATED = 1 << 2;
    private static final int LOCKED = 1 << 3;
    private static final int GONE = 1 << 4;
    private static final int FOUND = 1 << 5;
    private static final int SINCE = 1 << 6;
    private static final int BYTES = 1 << 7;

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
    private void word(String text) {
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
            double bytes) {
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
    }

    /** Gives the rows of a sound pack, without those whose numbers are to be left out. */
    static void unpack(byte[] content, LongPredicate leftOut, BackupRows taker) {
        Bytes in = new Bytes(Arrays.copyOfRange(content, HEAD, content.length));
        List<String> words = new ArrayList<>();
        Expected expected = new Expected();
        boolean taken = false;
        for (int what = in.takeByte(); what != END; what = in.takeByte()) {
            if (what == BACKUP) {
                Row row = row(in, words, expected);
                taken = !leftOut.test(row.num());
                if (taken) {
                    taker.backup(row);
                }
            } else if (what == POSITIONS) {
                String stream = word(in, words);
                long from = in.take();
                long length = in.take();
                if (taken) {
                    taker.positions(stream, from, from + length);
                }
            } else {
                copy(what, in, words, expected.ended, taken, taker);
            }
        }
    }

    private static String word(Bytes in, List<String> words) {
        int known = (int) in.takePlain();
        if (known == 0) {
            return null;
        }
        if (known == 1) {
            words.add(in.takeText());
            return words.get(words.size() - 1);
        }
        return words.get(known - 2);
    }

    private static Row row(Bytes in, List<String> words, Expected expected) {
        int flags = in.takeByte();
        long num = expected.num + in.take();
        int shared = (int) in.takePlain();
        String id = expected.id.substring(0, shared).concat(in.takeText());
        String lineage = word(in, words);
        String stream = word(in, words);
        boolean streamed = (flags & STREAMED) != 0;
        long lag = streamed ? in.take() : 0;
        String parent = (flags & RELATED) != 0 ? in.takeText() : "";
        String run = (flags & RELATED) != 0 ? in.takeText() : "";
        long started = expected.started + in.take();
        long ended = started + in.take();
        long consistentAt = ended + in.take();
        long from = -1;
        long to = -1;
        if ((flags & POSITIONED) != 0) {
            from = expected.to + in.take();
            to = from + in.take();
            expected.to = to;
        }
        long fromTime = History.ALWAYS;
        long toTime = History.ALWAYS;
        if ((flags & TIMED) != 0) {
            fromTime = expected.toTime + in.take();
            toTime = fromTime + in.take();
            expected.toTime = toTime;
        }
        expected.num = num;
        expected.id = id;
        expected.started = started;
        expected.ended = ended;
        return new Row(
                num,
                id,
                KINDS[flags & 7],
                lineage,
                stream,
                streamed,
                lag,
                parent.isEmpty() ? null : parent,
                run.isEmpty() ? null : run,
                started,
                ended,
                consistentAt,
                (flags & SELF_CONTAINED) != 0,
                from,
                to,
                fromTime,
                toTime);
    }

    private static void copy(int flags, Bytes in, List<String> words, long ended, boolean taken, BackupRows taker) {
        String store = word(in, words);
        long landed = ended + in.take();
        long lockedUntil = (flags & LOCKED) != 0 ? landed + in.take() : History.ALWAYS;
        long gone = (flags & GONE) != 0 ? landed + in.take() : History.NEVER;
        long found = (flags & FOUND) != 0 ? landed + in.take() : History.NEVER;
        long since = (flags & SINCE) != 0 ? landed + in.take() : History.ALWAYS;
        double bytes = (flags & BYTES) != 0 ? in.takeDouble() : Double.NaN;
        if (taken) {
            taker.copy(store, landed, (flags & STATED) != 0, lockedUntil, gone, found, since, bytes);
        }
    }
}
