package firth.core.history;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Positions;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * The backups and failed log runs of one database, held as columns: backup {@code i} is row {@code i} of every column,
 * its copies are rows {@code firstCopy(i)} to {@code firstCopy(i + 1)} of the copy columns. Moments are milliseconds
 * since the epoch. Immutable once built; the columns are read directly where millions of rows are passed over.
 */
public final class History {

    public static final int NO_PARENT = -1;
    public static final int UNKNOWN_PARENT = -2;
    public static final long NEVER = Long.MAX_VALUE;
    public static final long ALWAYS = Long.MIN_VALUE;

    private final Builder rows;

    private final Stretches stretches;

    private History(Builder rows) {
        this.rows = rows;
        this.stretches = new Stretches(this);
    }

    public static Builder of(Database database) {
        return new Builder(database);
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
        for (int s = 0; s < rows.database.streams().size(); s++) {
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
        return rows.lags[i];
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

    /** The rows that are no logs, ascending; not to be changed. */
    public int[] others() {
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
        return streamed(i) && rows.landed[copy] == rows.toTime[i] + rows.lags[i]
                ? rows.fromTime[i] + rows.lags[i]
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

    /** Takes backups in any order and builds the columns. */
    public static final class Builder {
        private final Database database;
        private int size;
        private final Ids ids = new Ids();
        private Kind[] kinds = new Kind[64];
        private final Map<Integer, String> parentIds = new HashMap<>();
        private final Ids runIds = new Ids();
        private final Map<String, Integer> lineageIndex = new HashMap<>();
        private final Map<String, Integer> streamIndex = new HashMap<>();
        private short[] lineages = new short[64];
        private short[] streams = new short[64];
        private long[] lags;
        private long[][] moreFrom;
        private long[][] moreTo;
        private int[] parents;
        private int[] others;
        private long[] started = new long[64];
        private long[] ended = new long[64];
        private long[] consistentAt = new long[64];
        private boolean[] selfContained = new boolean[64];
        private long[] from = new long[64];
        private long[] to = new long[64];
        private long[] fromTime = new long[64];
        private long[] toTime = new long[64];
        private int[] firstCopy = new int[65];
        private int[] copyStore = new int[64];
        private long[] landed = new long[64];
        private long[] lockedUntil = new long[64];
        private long[] gone = new long[64];
        /** Absent until a copy is known to be spoiled, as most never are. */
        private long[] found;

        private long[] since;
        private double[] copyBytes = new double[64];
        private final List<String> storeIds = new ArrayList<>();
        private final Map<String, Integer> storeIndex = new HashMap<>();
        private final List<Run> runs = new ArrayList<>();
        private final List<Run> failedLogRuns = new ArrayList<>();
        private final List<Run> failedDataRuns = new ArrayList<>();

        private Builder(Database database) {
            this.database = database;
            for (int l = 0; l < database.lineages().size(); l++) {
                lineageIndex.put(database.lineages().get(l).id(), l);
            }
            for (int s = 0; s < database.streams().size(); s++) {
                streamIndex.put(database.streams().get(s), s);
            }
        }

        /** The place of a lineage among the database's, the first where none is named, -1 where it lists no such one. */
        public int lineage(String id) {
            return id == null ? 0 : lineageIndex.getOrDefault(id, -1);
        }

        /** The place of a stream among the database's, -1 where it has no such one. */
        public int stream(String name) {
            return name == null ? -1 : streamIndex.getOrDefault(name, -1);
        }

        /** Adds a backup with its copies; one of a lineage or stream the database does not list has no effect. */
        public Builder add(Backup backup) {
            int lineage = lineage(backup.lineage().orElse(null));
            boolean log = backup.kind() == Kind.LOG;
            int stream = log ? stream(backup.positions().keySet().iterator().next()) : -1;
            if (lineage < 0 || log && stream < 0) {
                return this;
            }
            Positions first = backup.positions().get(database.streams().get(Math.max(stream, 0)));
            addRow(
                    backup.id(),
                    backup.kind(),
                    lineage,
                    stream,
                    backup.parent().orElse(null),
                    backup.run().orElse(""),
                    backup.started().toEpochMilli(),
                    backup.ended().toEpochMilli(),
                    backup.consistentAt().toEpochMilli(),
                    backup.selfContained(),
                    first == null ? -1 : first.from(),
                    first == null ? -1 : first.to(),
                    backup.times().map(t -> t.from().toEpochMilli()).orElse(ALWAYS),
                    backup.times().map(t -> t.to().toEpochMilli()).orElse(ALWAYS));
            if (!log) {
                backup.positions().forEach((name, p) -> addPositions(stream(name), p.from(), p.to()));
            }
            if (log && backup.streamed()) {
                streamed(backup.lag().toMillis());
            }
            for (Copy c : backup.copies()) {
                addCopy(
                        c.store(),
                        c.landed().toEpochMilli(),
                        c.statedLanding(),
                        c.lockedUntil().map(Instant::toEpochMilli).orElse(ALWAYS),
                        c.gone().map(Instant::toEpochMilli).orElse(NEVER),
                        c.spoiled().map(s -> s.found().toEpochMilli()).orElse(NEVER),
                        c.spoiled()
                                .flatMap(Spoilage::since)
                                .map(Instant::toEpochMilli)
                                .orElse(ALWAYS),
                        c.bytes().orElse(backup.bytes().orElse(Double.NaN)));
            }
            return this;
        }

        /**
         * Adds a row. Its positions in further streams, its lag and its copies follow.
         *
         * @param lineage as {@link #lineage} gives it
         * @param stream of a log as {@link #stream} gives it, -1 of other backups
         * @param fromPosition below 0 where no positions are known in the log's stream or else the first
         */
        public Builder addRow(
                String id,
                Kind kind,
                int lineage,
                int stream,
                String parent,
                String run,
                long startedMs,
                long endedMs,
                long consistentAtMs,
                boolean isSelfContained,
                long fromPosition,
                long toPosition,
                long fromTimeMs,
                long toTimeMs) {
            byte[] text = id.getBytes(StandardCharsets.UTF_8);
            return addRow(
                    text,
                    text.length,
                    kind,
                    lineage,
                    stream,
                    parent,
                    run,
                    startedMs,
                    endedMs,
                    consistentAtMs,
                    isSelfContained,
                    fromPosition,
                    toPosition,
                    fromTimeMs,
                    toTimeMs);
        }

        /** As the other, with the id as the first {@code idLength} bytes of its UTF-8. */
        public Builder addRow(
                byte[] id,
                int idLength,
                Kind kind,
                int lineage,
                int stream,
                String parent,
                String run,
                long startedMs,
                long endedMs,
                long consistentAtMs,
                boolean isSelfContained,
                long fromPosition,
                long toPosition,
                long fromTimeMs,
                long toTimeMs) {
            if (size == kinds.length) {
                grow(size * 2);
            }
            ids.add(id, idLength);
            runIds.add(run == null ? "" : run);
            kinds[size] = kind;
            lineages[size] = (short) lineage;
            streams[size] = (short) stream;
            if (parent != null) {
                parentIds.put(size, parent);
            }
            started[size] = startedMs;
            ended[size] = endedMs;
            consistentAt[size] = consistentAtMs;
            selfContained[size] = isSelfContained;
            from[size] = fromPosition;
            to[size] = toPosition;
            fromTime[size] = fromTimeMs;
            toTime[size] = toTimeMs;
            if (lags != null) {
                lags[size] = -1;
            }
            size++;
            firstCopy[size] = firstCopy[size - 1];
            return this;
        }

        /** Makes room for that many backups with two copies each. */
        public Builder expect(int backups) {
            if (backups > kinds.length) {
                grow(backups);
                growCopies(Math.max(2 * backups, landed.length));
            }
            return this;
        }

        /** The number that copies in a store share. */
        public int storeIndex(String store) {
            return storeIndex.computeIfAbsent(store, s -> {
                storeIds.add(s);
                return storeIds.size() - 1;
            });
        }

        private void growCopies(int n) {
            copyStore = Arrays.copyOf(copyStore, n);
            landed = Arrays.copyOf(landed, n);
            lockedUntil = Arrays.copyOf(lockedUntil, n);
            gone = Arrays.copyOf(gone, n);
            copyBytes = Arrays.copyOf(copyBytes, n);
            if (found != null) {
                int known = found.length;
                found = Arrays.copyOf(found, n);
                since = Arrays.copyOf(since, n);
                Arrays.fill(found, known, n, NEVER);
                Arrays.fill(since, known, n, ALWAYS);
            }
        }

        private void grow(int n) {
            kinds = Arrays.copyOf(kinds, n);
            lineages = Arrays.copyOf(lineages, n);
            streams = Arrays.copyOf(streams, n);
            started = Arrays.copyOf(started, n);
            ended = Arrays.copyOf(ended, n);
            consistentAt = Arrays.copyOf(consistentAt, n);
            selfContained = Arrays.copyOf(selfContained, n);
            from = Arrays.copyOf(from, n);
            to = Arrays.copyOf(to, n);
            fromTime = Arrays.copyOf(fromTime, n);
            toTime = Arrays.copyOf(toTime, n);
            firstCopy = Arrays.copyOf(firstCopy, n + 1);
            lags = lags == null ? null : Arrays.copyOf(lags, n);
        }

        /** Positions of the data backup added last in one more stream; of a stream below 0 they have no effect. */
        public Builder addPositions(int stream, long fromPosition, long toPosition) {
            int row = size - 1;
            if (stream == 0) {
                from[row] = fromPosition;
                to[row] = toPosition;
            } else if (stream > 0) {
                if (moreFrom == null) {
                    moreFrom = new long[database.streams().size()][0];
                    moreTo = new long[database.streams().size()][0];
                }
                int known = moreFrom[stream].length;
                if (row >= known) {
                    moreFrom[stream] = Arrays.copyOf(moreFrom[stream], Math.max(row + 1, 2 * known));
                    moreTo[stream] = Arrays.copyOf(moreTo[stream], Math.max(row + 1, 2 * known));
                    Arrays.fill(moreFrom[stream], known, moreFrom[stream].length, -1);
                    Arrays.fill(moreTo[stream], known, moreTo[stream].length, -1);
                }
                moreFrom[stream][row] = fromPosition;
                moreTo[stream][row] = toPosition;
            }
            return this;
        }

        private long more(long[][] positions, int row, int stream) {
            return positions == null || row >= positions[stream].length ? -1 : positions[stream][row];
        }

        /** Says that the log added last was received continuously, that far behind. */
        public Builder streamed(long lagMs) {
            if (lags == null) {
                lags = new long[kinds.length];
                Arrays.fill(lags, -1);
            }
            lags[size - 1] = lagMs;
            return this;
        }

        /**
         * Adds a copy of the backup added last. A streamed log's copy is whole when its end was received, unless it is
         * said to have landed later than that.
         */
        public Builder addCopy(
                String store,
                long landedMs,
                boolean statedLanding,
                long lockedUntilMs,
                long goneMs,
                long foundMs,
                long sinceMs,
                double bytes) {
            return addCopy(storeIndex(store), landedMs, statedLanding, lockedUntilMs, goneMs, foundMs, sinceMs, bytes);
        }

        /** As the other, with the store as {@link #storeIndex} gives it. */
        public Builder addCopy(
                int store,
                long landedMs,
                boolean statedLanding,
                long lockedUntilMs,
                long goneMs,
                long foundMs,
                long sinceMs,
                double bytes) {
            int c = firstCopy[size];
            if (c == landed.length) {
                growCopies(c * 2);
            }
            if (foundMs != NEVER && found == null) {
                found = new long[landed.length];
                since = new long[landed.length];
                Arrays.fill(found, NEVER);
                Arrays.fill(since, ALWAYS);
            }
            copyStore[c] = store;
            long lag = lags == null ? -1 : lags[size - 1];
            long whole = lag < 0 ? landedMs : toTime[size - 1] + lag;
            landed[c] = lag >= 0 && statedLanding ? Math.max(landedMs, whole) : whole;
            lockedUntil[c] = lockedUntilMs;
            gone[c] = goneMs;
            if (found != null) {
                found[c] = foundMs;
                since[c] = sinceMs;
            }
            copyBytes[c] = bytes;
            firstCopy[size] = c + 1;
            return this;
        }

        /** Called after each row taken over, while copies may still be added to it. */
        public interface Taken {
            void row(int i);
        }

        /** Takes over every row, copy and run of a history of the same database. */
        public Builder addAll(History other, Taken taken) {
            return addAll(other, copy -> true, taken);
        }

        /** Takes over every row and run of a history of the same database, and those of its copies that are kept. */
        public Builder addAll(History other, IntPredicate kept, Taken taken) {
            expect(size + other.size());
            for (int i = 0; i < other.size(); i++) {
                addRowOf(other, i, kept, NEVER);
                taken.row(i);
            }
            other.runs().forEach(this::add);
            return this;
        }

        /**
         * Takes over what of a history of the same database was known at a moment: what began, landed, went or was found later is not.
         * Of data backups that began later the record stays, for others may name it as their parent.
         */
        public Builder addKnown(History other, long nowMs) {
            for (int i = 0; i < other.size(); i++) {
                int row = i;
                IntPredicate arrived = c -> other.arrivesMs(row, c) <= nowMs;
                if (other.kind(i).isData()
                        || other.startedMs(i) <= nowMs
                        || IntStream.range(other.firstCopy(i), other.firstCopy(i + 1))
                                .anyMatch(arrived)) {
                    addRowOf(other, i, arrived, nowMs);
                }
            }
            other.runs().stream()
                    .filter(r -> r.started().toEpochMilli() <= nowMs)
                    .forEach(this::add);
            return this;
        }

        /** One row with those of its copies that are kept; what befell them after a moment is left out. */
        private void addRowOf(History other, int i, IntPredicate kept, long nowMs) {
            boolean log = other.stream(i) >= 0;
            addRow(
                    other.id(i),
                    other.kind(i),
                    other.lineage(i),
                    other.stream(i),
                    other.parentId(i).orElse(null),
                    other.runId(i).orElse(""),
                    other.startedMs(i),
                    other.endedMs(i),
                    other.consistentAtMs(i),
                    other.selfContained(i),
                    log ? other.logFrom(i) : other.from(i, 0),
                    log ? other.logTo(i) : other.to(i, 0),
                    other.fromTimeMs(i),
                    other.toTimeMs(i));
            for (int s = 1; s < database.streams().size() && !log; s++) {
                if (other.positioned(i, s)) {
                    addPositions(s, other.from(i, s), other.to(i, s));
                }
            }
            if (other.streamed(i)) {
                streamed(other.lagMs(i));
            }
            for (int c = other.firstCopy(i); c < other.firstCopy(i + 1); c++) {
                if (kept.test(c)) {
                    addCopy(
                            other.store(c),
                            other.landedMs(c),
                            true,
                            other.lockedUntilMs(c),
                            other.goneMs(c) <= nowMs ? other.goneMs(c) : NEVER,
                            other.foundMs(c) <= nowMs ? other.foundMs(c) : NEVER,
                            other.foundMs(c) <= nowMs ? other.sinceMs(c) : ALWAYS,
                            other.bytes(c));
                }
            }
        }

        public Builder add(Run run) {
            runs.add(run);
            if (run.outcome() == Outcome.FAILED) {
                (run.kind() == Kind.LOG ? failedLogRuns : failedDataRuns).add(run);
            }
            return this;
        }

        private int[] notLogs() {
            int[] out = new int[16];
            int n = 0;
            for (int i = 0; i < size; i++) {
                if (kinds[i] != Kind.LOG) {
                    out = n == out.length ? Arrays.copyOf(out, 2 * n) : out;
                    out[n++] = i;
                }
            }
            return Arrays.copyOf(out, n);
        }

        public History build() {
            others = notLogs();
            Map<String, Integer> byId = new HashMap<>();
            for (int i : others) {
                byId.put(ids.get(i), i);
            }
            parents = new int[size];
            Arrays.fill(parents, NO_PARENT);
            parentIds.forEach((i, parent) -> parents[i] = byId.getOrDefault(parent, UNKNOWN_PARENT));
            runs.sort(java.util.Comparator.comparing(Run::started).thenComparing(Run::id));
            failedLogRuns.sort(java.util.Comparator.comparing(Run::started));
            failedDataRuns.sort(java.util.Comparator.comparing(Run::started));
            return new History(this);
        }
    }
}
