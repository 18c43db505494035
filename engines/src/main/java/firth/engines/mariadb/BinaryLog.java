package firth.engines.mariadb;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.zip.CRC32;
import org.jspecify.annotations.Nullable;

/**
 * Reads a binary log event by event. A transaction begins with the event that numbers it and ends with a commit, or with the one statement
 * that is all of it; what is cut off inside a transaction counts up to the transaction before.
 */
final class BinaryLog {

    /** Takes each transaction as it ends. */
    interface Taking {

        /**
         * @param end the place after it
         * @param made its moment, to the second
         */
        void take(long end, Instant made);
    }

    static final byte[] MAGIC = {(byte) 0xFE, 'b', 'i', 'n'};
    private static final byte[] ENCRYPTED_MAGIC = {(byte) 0xFD, 'b', 'i', 'n'};
    private static final int HEADER = 19;
    private static final int CHECKSUM = 4;
    private static final int FLAGS_AT = 17;
    private static final int IN_USE = 0x1;
    private static final int LONGEST = 1 << 30;
    private static final int VERSION_LENGTH = 50;

    private static final int QUERY = 2;
    private static final int STOP = 3;
    private static final int ROTATE = 4;
    private static final int FORMAT = 15;
    private static final int XID = 16;
    private static final int MYSQL_NUMBER = 33;
    private static final int MYSQL_NO_NUMBER = 34;
    private static final int XA_PREPARE = 38;
    private static final int MYSQL_PAYLOAD = 40;
    private static final int NUMBER = 162;
    private static final int ENCRYPTION = 164;
    private static final int QUERY_PACKED = 165;
    private static final int STANDALONE = 0x1;

    private final CRC32 crc = new CRC32();
    private final Taking taking;
    private final Map<String, String> numbers = new TreeMap<>();
    private byte[] event = new byte[1 << 16];
    private long at = MAGIC.length;
    private long end = MAGIC.length;
    private long server;
    private String version = "";
    private @Nullable Instant created;
    private @Nullable Instant first;
    private @Nullable Instant lastCommit;
    private @Nullable Instant reached;
    private boolean checksums;
    private boolean encrypted;
    private boolean inUse;
    private boolean finished;
    private boolean within;
    private boolean standalone;
    private String broken = "";
    private long events;
    private long transactions;

    private BinaryLog(Taking taking) {
        this.taking = taking;
    }

    /** @throws IOException where it is no binary log that can be read; says why in a clause */
    static LogFacts read(InputStream in) throws IOException {
        return read(in, (end, made) -> {});
    }

    static LogFacts read(InputStream in, Taking taking) throws IOException {
        byte[] magic = in.readNBytes(MAGIC.length);
        if (Arrays.equals(magic, ENCRYPTED_MAGIC)) {
            throw new IOException("is encrypted: only the server can read it");
        }
        if (!Arrays.equals(magic, MAGIC)) {
            throw new IOException("does not begin as a binary log does");
        }
        BinaryLog log = new BinaryLog(taking);
        while (log.broken.isEmpty() && !log.encrypted && log.next(in)) {
            log.events++;
        }
        if (log.created == null) {
            throw new IOException(
                    "has no event that says how it is written" + (log.broken.isEmpty() ? "" : ": " + log.broken));
        }
        return log.facts();
    }

    private LogFacts facts() {
        Instant begun = created == null ? Instant.EPOCH : created;
        return new LogFacts(
                server,
                version,
                begun,
                within ? end : at,
                finished || !inUse && broken.isEmpty() && !within,
                broken.isEmpty() && within && !encrypted ? "its last transaction is not finished" : broken,
                encrypted,
                checksums && broken.isEmpty() && !encrypted,
                events,
                transactions,
                Optional.ofNullable(first),
                Optional.ofNullable(lastCommit),
                reached == null ? begun : reached,
                numbers);
    }

    /** Reads one event; gives whether there was one. */
    private boolean next(InputStream in) throws IOException {
        int got;
        try {
            got = in.readNBytes(event, 0, HEADER);
        } catch (EOFException cutOff) {
            got = HEADER - 1;
        }
        if (got == 0) {
            return false;
        }
        ByteBuffer b = ByteBuffer.wrap(event).order(ByteOrder.LITTLE_ENDIAN);
        int size = b.getInt(9);
        if (got < HEADER || size < HEADER || size > LONGEST) {
            return stop(got < HEADER ? "it was cut off after " + at + " bytes" : "there is no event at " + at);
        }
        if (size > event.length) {
            event = Arrays.copyOf(event, Math.max(size, event.length * 2));
            b = ByteBuffer.wrap(event).order(ByteOrder.LITTLE_ENDIAN);
        }
        if (in.readNBytes(event, HEADER, size - HEADER) < size - HEADER) {
            return stop("it was cut off after " + at + " bytes");
        }
        int type = Byte.toUnsignedInt(event[4]);
        if (type == FORMAT) {
            format(b, size);
        }
        if (checksums && !agrees(b, size, type)) {
            return stop("the checksum of the event at " + at + " is wrong");
        }
        at += size;
        take(b, type, size - (checksums ? CHECKSUM : 0));
        return true;
    }

    private boolean stop(String why) {
        broken = why;
        return false;
    }

    private boolean agrees(ByteBuffer b, int size, int type) {
        int stated = b.getInt(size - CHECKSUM);
        byte flags = event[FLAGS_AT];
        if (type == FORMAT) {
            event[FLAGS_AT] = (byte) (flags & ~IN_USE);
        }
        crc.reset();
        crc.update(event, 0, size - CHECKSUM);
        event[FLAGS_AT] = flags;
        return (int) crc.getValue() == stated;
    }

    private void format(ByteBuffer b, int size) {
        byte[] name = Arrays.copyOfRange(event, HEADER + 2, HEADER + 2 + VERSION_LENGTH);
        version = new String(name, StandardCharsets.US_ASCII).replace("\0", "").strip();
        server = Integer.toUnsignedLong(b.getInt(5));
        created = moment(b);
        inUse = (b.getShort(FLAGS_AT) & IN_USE) != 0;
        checksums = event[size - CHECKSUM - 1] == 1;
    }

    private static Instant moment(ByteBuffer b) {
        return Instant.ofEpochSecond(Integer.toUnsignedLong(b.getInt(0)));
    }

    private void take(ByteBuffer b, int type, int size) {
        switch (type) {
            case NUMBER -> {
                String domain = Integer.toUnsignedString(b.getInt(HEADER + 8));
                String number = Long.toUnsignedString(b.getLong(HEADER));
                numbers.put(domain, domain + "-" + Integer.toUnsignedString(b.getInt(5)) + "-" + number);
                standalone = (event[HEADER + 12] & STANDALONE) != 0;
                within = true;
            }
            case MYSQL_NUMBER -> {
                String source = HexFormat.of().formatHex(event, HEADER + 1, HEADER + 17);
                numbers.put(source, uuid(source) + ":" + b.getLong(HEADER + 17));
                standalone = false;
                within = true;
            }
            case MYSQL_NO_NUMBER -> {
                standalone = false;
                within = true;
            }
            case XID, XA_PREPARE, MYSQL_PAYLOAD -> ended(b);
            case QUERY, QUERY_PACKED -> {
                if (within && (standalone || ends(type, b, size))) {
                    ended(b);
                }
            }
            case ROTATE, STOP -> {
                finished = true;
                later(moment(b));
            }
            case ENCRYPTION -> encrypted = true;
            default -> {}
        }
        if (!within) {
            end = at;
        }
    }

    /** Whether a statement ends its transaction: it commits or rolls back, or is one that stands alone, as all but BEGIN do. */
    private boolean ends(int type, ByteBuffer b, int size) {
        if (type == QUERY_PACKED) {
            return false;
        }
        int schema = Byte.toUnsignedInt(event[HEADER + 8]);
        int status = Short.toUnsignedInt(b.getShort(HEADER + 11));
        int from = HEADER + 13 + status + schema + 1;
        if (from >= size) {
            return false;
        }
        String text = new String(event, from, Math.min(size - from, 16), StandardCharsets.US_ASCII)
                .strip()
                .toUpperCase(Locale.ROOT);
        return version.contains("MariaDB")
                ? text.equals("COMMIT") || text.equals("ROLLBACK")
                : !text.startsWith("BEGIN") && !text.startsWith("SAVEPOINT") && !text.startsWith("XA START");
    }

    private void ended(ByteBuffer b) {
        Instant made = moment(b);
        within = false;
        standalone = false;
        end = at;
        transactions++;
        if (first == null) {
            first = made;
        }
        if (lastCommit == null || made.isAfter(lastCommit)) {
            lastCommit = made;
        }
        later(made);
        taking.take(at, made);
    }

    private void later(Instant moment) {
        if (reached == null || moment.isAfter(reached)) {
            reached = moment;
        }
    }

    private static String uuid(String hex) {
        return String.join(
                "-",
                hex.substring(0, 8),
                hex.substring(8, 12),
                hex.substring(12, 16),
                hex.substring(16, 20),
                hex.substring(20));
    }
}
