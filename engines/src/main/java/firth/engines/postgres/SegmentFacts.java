package firth.engines.postgres;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What one segment of the write-ahead log tells. Of transactions those count that end in it.
 *
 * @param end up to which position it holds log
 * @param whole whether that is its end
 * @param broken why it is not, empty where the log just ends there
 * @param headless whether it begins with the rest of a record whose beginning was not there
 * @param bytes how many there were to read
 * @param earliestEnd the least moment a transaction ended at, committed or not
 * @param lastCommit the latest moment a transaction was committed at
 * @param checkpoint when the latest checkpoint began whose record it holds: nothing that came later in the log was committed before
 * @param switches where it tells of another timeline
 */
record SegmentFacts(
        int magic,
        long systemIdentifier,
        int segmentSize,
        long start,
        long end,
        boolean whole,
        String broken,
        boolean headless,
        long bytes,
        long records,
        long commits,
        long aborts,
        Optional<Instant> earliestEnd,
        Optional<Instant> lastCommit,
        Optional<Instant> checkpoint,
        List<Switch> switches) {

    SegmentFacts {
        switches = List.copyOf(switches);
    }

    /** Whether the engine takes the file at all: it refuses one of another size, whatever is in it. */
    boolean isTaken() {
        return bytes == segmentSize;
    }

    /** The timeline {@code to} began, after {@code from}; its first record begins at or before {@code lsn}. */
    record Switch(int from, int to, long lsn, Instant at) {}

    /** Reads segments and gives what each tells, with the scan that puts records together across them. */
    static final class Reader {

        private static final int COMMIT = 0x00;
        private static final int ABORT = 0x20;
        private static final int COMMIT_PREPARED = 0x30;
        private static final int ABORT_PREPARED = 0x40;
        private static final int TRANSACTION_KIND = 0x70;
        private static final int CHECKPOINT_AT_SHUTDOWN = 0x00;
        private static final int CHECKPOINT_ONLINE = 0x10;
        private static final int END_OF_RECOVERY = 0x90;
        private static final int XLOG_KIND = 0xF0;

        /** From the end of a checkpoint: its moment, then two transaction ids and the oldest active one, padded. */
        private static final int MOMENT_FROM_END = 24;

        private static final int CHECKPOINT_SIZE = 88;
        private static final int DATA_SHORT = 255;
        private static final int DATA_LONG = 254;
        private static final int ORIGIN = 253;
        private static final int TOP_TRANSACTION = 252;

        /** Microseconds are counted from here. */
        private static final Instant EPOCH = Instant.parse("2000-01-01T00:00:00Z");

        private final WalScan scan = new WalScan(this::take);
        private final WalScan.@Nullable Taking also;

        private long records;
        private long commits;
        private long aborts;
        private @Nullable Instant earliestEnd;
        private @Nullable Instant lastCommit;
        private @Nullable Instant checkpoint;
        private List<Switch> switches = new ArrayList<>();

        Reader() {
            this(null);
        }

        /** @param also is handed every record, too */
        Reader(WalScan.@Nullable Taking also) {
            this.also = also;
        }

        WalScan scan() {
            return scan;
        }

        /** @throws IOException where it cannot be read at all; says why in a clause */
        SegmentFacts read(InputStream in, SegmentName name) throws IOException {
            records = 0;
            commits = 0;
            aborts = 0;
            earliestEnd = null;
            lastCommit = null;
            checkpoint = null;
            switches = new ArrayList<>();
            WalScan.End end = scan.read(in, name);
            WalScan.Head head = end.head();
            return new SegmentFacts(
                    head.magic(),
                    head.systemIdentifier(),
                    head.segmentSize(),
                    head.position(),
                    end.end(),
                    end.whole(),
                    end.broken(),
                    end.headless(),
                    end.bytes(),
                    records,
                    commits,
                    aborts,
                    Optional.ofNullable(earliestEnd),
                    Optional.ofNullable(lastCommit),
                    Optional.ofNullable(checkpoint),
                    switches);
        }

        private void take(WalRecord record, byte[] bytes, int at) {
            records++;
            if (record.manager() == WalRecord.TRANSACTION) {
                transaction(record, bytes, at);
            } else if (record.manager() == WalRecord.XLOG) {
                xlog(record, bytes, at);
            }
            if (also != null) {
                also.take(record, bytes, at);
            }
        }

        private void transaction(WalRecord record, byte[] bytes, int at) {
            int kind = record.info() & TRANSACTION_KIND;
            boolean commit = kind == COMMIT || kind == COMMIT_PREPARED;
            if (!commit && kind != ABORT && kind != ABORT_PREPARED) {
                return;
            }
            Instant moment = moment(main(bytes, at).getLong());
            if (earliestEnd == null || moment.isBefore(earliestEnd)) {
                earliestEnd = moment;
            }
            if (!commit) {
                aborts++;
                return;
            }
            commits++;
            if (lastCommit == null || moment.isAfter(lastCommit)) {
                lastCommit = moment;
            }
        }

        private void xlog(WalRecord record, byte[] bytes, int at) {
            int kind = record.info() & XLOG_KIND;
            if (kind == CHECKPOINT_AT_SHUTDOWN || kind == CHECKPOINT_ONLINE) {
                ByteBuffer data = main(bytes, at);
                int size = record.length() - data.position();
                if (size < CHECKPOINT_SIZE) {
                    return;
                }
                int begin = data.position();
                Instant moment = Instant.ofEpochSecond(data.getLong(begin + size - MOMENT_FROM_END));
                if (checkpoint == null || moment.isAfter(checkpoint)) {
                    checkpoint = moment;
                }
                turned(data.getInt(begin + 12), data.getInt(begin + 8), record, moment);
            } else if (kind == END_OF_RECOVERY) {
                ByteBuffer data = main(bytes, at);
                int begin = data.position();
                turned(data.getInt(begin + 12), data.getInt(begin + 8), record, moment(data.getLong(begin)));
            }
        }

        private void turned(int from, int to, WalRecord record, Instant moment) {
            if (from != to) {
                switches.add(new Switch(from, to, record.lsn(), moment));
            }
        }

        private static Instant moment(long microseconds) {
            return EPOCH.plusSeconds(Math.floorDiv(microseconds, 1_000_000))
                    .plusNanos(Math.floorMod(microseconds, 1_000_000) * 1_000L);
        }

        /** Where the main data of a record without pages begins. */
        private static ByteBuffer main(byte[] bytes, int at) {
            ByteBuffer b = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN).position(at);
            while (true) {
                int id = Byte.toUnsignedInt(b.get());
                switch (id) {
                    case ORIGIN -> b.position(b.position() + 2);
                    case TOP_TRANSACTION -> b.position(b.position() + 4);
                    case DATA_SHORT -> {
                        return b.position(b.position() + 1);
                    }
                    case DATA_LONG -> {
                        return b.position(b.position() + 4);
                    }
                    default -> throw new IllegalStateException("a record of transactions names pages: " + id);
                }
            }
        }
    }
}
