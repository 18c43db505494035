package firth.core.history;

import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Run;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * The backups and failed log runs of one database, held as columns: backup {@code i} is row {@code i} of every column,
 * its copies are rows {@code firstCopy(i)} to {@code firstCopy(i + 1)} of the copy columns. Moments are milliseconds
 * since the epoch. Immutable once built; the columns are read directly where millions of rows are passed over.
 */
public final class History {

    public static final int NO_PARENT = -1;
    public static final int UNKNOWN_PARENT = -2;
    public static final long NEVER = Long.MAX_VALUE;

    private static final Evidence[] EVIDENCE = Evidence.values();
    public static final long ALWAYS = Long.MIN_VALUE;

    private final Columns rows;

    private final Stretches stretches;

    History(Columns rows) {
        this.rows = rows;
        this.stretches = new Stretches(this);
    }

    public static HistoryBuilder of(Database database) {
        return new HistoryBuilder(database);
    }

    public int size() {
        return rows.size;
    }

    public String id(int i) {
        return rows.ids.get(i);
    }

    /** The row of a backup; empty where no backup of this id has an effect. */
    public OptionalInt row(String id) {
        byte[] text = id.getBytes(StandardCharsets.UTF_8);
        for (int i = 0; i < rows.size; i++) {
            if (rows.ids.is(i, text)) {
                return OptionalInt.of(i);
            }
        }
        return OptionalInt.empty();
    }

    /** Orders two rows by the ids of their backups. */
    public int compareIds(int one, int other) {
        return rows.ids.compare(one, other);
    }

    public Kind kind(int i) {
        return rows.kinds[i];
    }

    /** The row of the parent, {@link #NO_PARENT} where none is named, {@link #UNKNOWN_PARENT} where it is not known. */
    public int parent(int i) {
        return rows.parents[i];
    }

    public Optional<String> parentId(int i) {
        return Optional.ofNullable(rows.parentIds.get(i));
    }

    /** The lineage, as its place among the database's. */
    public int lineage(int i) {
        return rows.lineages[i];
    }

    /** The stream of a log, as its place among the database's; -1 of other backups. */
    public int stream(int i) {
        return rows.streams[i];
    }

    public long startedMs(int i) {
        return rows.started[i];
    }

    public long endedMs(int i) {
        return rows.ended[i];
    }

    public long consistentAtMs(int i) {
        return rows.consistentAt[i];
    }

    public boolean selfContained(int i) {
        return rows.selfContained[i];
    }

    /** Whether positions in a stream were given; a log has some in its own alone. */
    public boolean positioned(int i, int stream) {
        return from(i, stream) >= 0;
    }

    /** Whether positions in every stream were given. */
    public boolean positionedEverywhere(int i) {
        for (int s = 0; s < rows.streamCount; s++) {
            if (!positioned(i, s)) {
                return false;
            }
        }
        return true;
    }

    /** The position in a stream at which a backup begins, negative where none is known. */
    public long from(int i, int stream) {
        if (rows.streams[i] >= 0) {
            return rows.streams[i] == stream ? rows.from[i] : -1;
        }
        return stream == 0 ? rows.from[i] : rows.more(rows.moreFrom, i, stream);
    }

    /** The position in a stream at which a backup ends, negative where none is known. */
    public long to(int i, int stream) {
        if (rows.streams[i] >= 0) {
            return rows.streams[i] == stream ? rows.to[i] : -1;
        }
        return stream == 0 ? rows.to[i] : rows.more(rows.moreTo, i, stream);
    }

    /** Where a log begins in its stream. */
    public long logFrom(int i) {
        return rows.from[i];
    }

    /** Where a log ends in its stream. */
    public long logTo(int i) {
        return rows.to[i];
    }

    /** Whether a log was received continuously. */
    public boolean streamed(int i) {
        return rows.lags != null && i < rows.lags.length && rows.lags[i] >= 0;
    }

    /** How far behind a streamed log was received. */
    public long lagMs(int i) {
        return rows.lag(i);
    }

    /** Whether any log was received continuously. */
    public boolean anyStreamed() {
        return rows.lags != null;
    }

    public long fromTimeMs(int i) {
        return rows.fromTime[i];
    }

    public long toTimeMs(int i) {
        return rows.toTime[i];
    }

    /** The position in a stream from which on a data backup's restore needs logs (docs/semantics.md, "Retention"). */
    public long start(int i, int stream) {
        return rows.selfContained[i] ? to(i, stream) : from(i, stream);
    }

    /** The rows that behave, and those that do not. */
    public Stretches stretches() {
        return stretches;
    }

    /** The rows that are no logs. */
    public RowSet others() {
        return rows.others;
    }

    public int firstCopy(int i) {
        return rows.firstCopy[i];
    }

    public int copies() {
        return rows.firstCopy[rows.size];
    }

    public String store(int copy) {
        return rows.storeIds.get(rows.copyStore[copy]);
    }

    /** A small number that copies in the same store share. */
    public int storeIndex(int copy) {
        return rows.copyStore[copy];
    }

    public List<String> storesByIndex() {
        return List.copyOf(rows.storeIds);
    }

    /** When a copy was there as a whole: of a streamed log not before its end was received. */
    public long landedMs(int copy) {
        return rows.landed[copy];
    }

    /** When the first part of a backup's copy was there: its landing, but of a streamed log when it began to come. */
    public long arrivesMs(int i, int copy) {
        return streamed(i) && rows.landed[copy] == rows.toTime[i] + rows.lag(i)
                ? rows.fromTime[i] + rows.lag(i)
                : rows.landed[copy];
    }

    /**
     * Reads off when copies of logs that follow each other landed, and to where these reach.
     *
     * @param copy the first log's copy
     * @param apart how far apart the copies are
     * @param into where in the arrays the first goes
     */
    public void readLandings(int row, int copy, int apart, int count, long[] landings, long[] reached, int into) {
        System.arraycopy(rows.toTime, row, reached, into, count);
        long[] landed = rows.landed;
        for (int n = 0, c = copy; n < count; n++, c += apart) {
            landings[into + n] = landed[c];
        }
    }

    /** The end of the lock, {@link #ALWAYS} where there never was one. */
    public long lockedUntilMs(int copy) {
        return rows.lockedUntil[copy];
    }

    /** {@link #NEVER} where it was not deleted. */
    public long goneMs(int copy) {
        return rows.gone[copy];
    }

    /** When it was found spoiled, or {@link #NEVER}. */
    public long foundMs(int copy) {
        return rows.found == null ? NEVER : rows.found[copy];
    }

    /** Since when a spoiled copy is, {@link #ALWAYS} where that is not known. */
    public long sinceMs(int copy) {
        return rows.since == null ? ALWAYS : rows.since[copy];
    }

    /** Bytes in the store: the copy's own where stated, else the backup's, else NaN. */
    public double bytes(int copy) {
        return rows.copyBytes[copy];
    }

    /** How the times and positions of a copy are known. */
    public Evidence evidence(int copy) {
        return rows.evidence == null ? Evidence.TOLD : EVIDENCE[rows.evidence[copy]];
    }

    /** The run a backup came from, where one is named. */
    public Optional<String> runId(int i) {
        return rows.runIds.isEmpty(i) ? Optional.empty() : Optional.of(rows.runIds.get(i));
    }

    /** All runs in the order they started. */
    public List<Run> runs() {
        return rows.runs;
    }

    /** Failed log runs in the order they started. */
    public List<Run> failedLogRuns() {
        return rows.failedLogRuns;
    }

    /** Failed runs of data backups in the order they started. */
    public List<Run> failedDataRuns() {
        return rows.failedDataRuns;
    }

    /** A row as it was added. */
    public BackupRow row(int i) {
        return new BackupRow(
                id(i),
                kind(i),
                lineage(i),
                stream(i),
                parentId(i).orElse(""),
                runId(i).orElse(""),
                new BackupRow.During(startedMs(i), endedMs(i), consistentAtMs(i)),
                selfContained(i),
                new BackupRow.Extent(rows.from[i], rows.to[i], fromTimeMs(i), toTimeMs(i)));
    }

    /** A copy as it was added, without what befell it after a moment. */
    CopyRow copy(int copy, long nowMs) {
        boolean spoiled = foundMs(copy) <= nowMs;
        return new CopyRow(
                landedMs(copy),
                true,
                lockedUntilMs(copy),
                goneMs(copy) <= nowMs ? goneMs(copy) : NEVER,
                spoiled ? foundMs(copy) : NEVER,
                spoiled ? sinceMs(copy) : ALWAYS,
                bytes(copy),
                evidence(copy));
    }
}
