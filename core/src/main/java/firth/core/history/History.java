package firth.core.history;

import firth.core.fleet.Database;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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

    private History(Builder rows) {
        this.rows = rows;
    }

    public static Builder of(Database database) {
        return new Builder(database);
    }

    public int size() {
        return rows.size;
    }

    public String id(int i) {
        return rows.ids[i];
    }

    public Kind kind(int i) {
        return rows.kinds[i];
    }

    /** The row of the parent, {@link #NO_PARENT} where none is named, {@link #UNKNOWN_PARENT} where it is not known. */
    public int parent(int i) {
        return rows.parents[i];
    }

    public Optional<String> parentId(int i) {
        return Optional.ofNullable(rows.parentIds[i]);
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

    /** Whether positions in the stream were given. */
    public boolean positioned(int i) {
        return rows.from[i] >= 0;
    }

    public long from(int i) {
        return rows.from[i];
    }

    public long to(int i) {
        return rows.to[i];
    }

    public long fromTimeMs(int i) {
        return rows.fromTime[i];
    }

    public long toTimeMs(int i) {
        return rows.toTime[i];
    }

    /** The position from which on a data backup's restore needs logs (docs/semantics.md, "Retention"). */
    public long start(int i) {
        return rows.selfContained[i] ? rows.to[i] : rows.from[i];
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

    public long landedMs(int copy) {
        return rows.landed[copy];
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
        return rows.found[copy];
    }

    /** Since when a spoiled copy is, {@link #ALWAYS} where that is not known. */
    public long sinceMs(int copy) {
        return rows.since[copy];
    }

    /** Bytes in the store: the copy's own where stated, else the backup's, else NaN. */
    public double bytes(int copy) {
        return rows.copyBytes[copy];
    }

    /** The run a backup came from, where one is named. */
    public Optional<String> runId(int i) {
        return Optional.ofNullable(rows.runIds[i]);
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

    /** What this history holds that the core does not compute yet, in words; empty when it computes all of it. */
    public List<String> notComputed() {
        return List.copyOf(rows.notComputed);
    }

    /** Takes backups in any order and builds the columns. */
    public static final class Builder {
        private final Database database;
        private int size;
        private String[] ids = new String[64];
        private Kind[] kinds = new Kind[64];
        private String[] parentIds = new String[64];
        private String[] runIds = new String[64];
        private int[] parents;
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
        private long[] found = new long[64];
        private long[] since = new long[64];
        private double[] copyBytes = new double[64];
        private final List<String> storeIds = new ArrayList<>();
        private final Map<String, Integer> storeIndex = new HashMap<>();
        private final List<Run> runs = new ArrayList<>();
        private final List<Run> failedLogRuns = new ArrayList<>();
        private final List<Run> failedDataRuns = new ArrayList<>();
        private final List<String> notComputed = new ArrayList<>();

        private Builder(Database database) {
            this.database = database;
            if (database.streams().size() > 1) {
                notComputed.add("several log streams (" + String.join(", ", database.streams()) + ")");
            }
            if (database.lineages().size() > 1) {
                notComputed.add("several lineages (" + database.lineages().size() + ")");
            }
        }

        /** Whether a backup of a lineage and stream has an effect; one that the database does not list has none. */
        public boolean takes(Kind kind, Optional<String> lineage, Optional<String> stream) {
            boolean ownLineage =
                    lineage.isEmpty() || database.lineages().stream().anyMatch(l -> l.id().equals(lineage.get()));
            return ownLineage
                    && (kind != Kind.LOG
                            || stream.filter(database.streams()::contains).isPresent());
        }

        /** Whether positions of this name are those of the stream that is computed. */
        public boolean isStream(String name) {
            return database.streams().get(0).equals(name);
        }

        /** Notes that there are logs received continuously. */
        public void streamed(boolean any) {
            if (any && !notComputed.contains("streamed logs")) {
                notComputed.add("streamed logs");
            }
        }

        /** Adds a backup with its copies, if it has an effect. */
        public Builder add(Backup backup) {
            Optional<String> logStream = backup.positions().keySet().stream().findFirst();
            if (!takes(backup.kind(), backup.lineage(), logStream)) {
                return this;
            }
            streamed(backup.streamed());
            Positions p = backup.positions().get(database.streams().get(0));
            add(
                    backup.id(),
                    backup.kind(),
                    backup.parent().orElse(null),
                    backup.run().orElse(null),
                    backup.started().toEpochMilli(),
                    backup.ended().toEpochMilli(),
                    backup.consistentAt().toEpochMilli(),
                    backup.selfContained(),
                    p == null ? -1 : p.from(),
                    p == null ? -1 : p.to(),
                    backup.times().map(t -> t.from().toEpochMilli()).orElse(ALWAYS),
                    backup.times().map(t -> t.to().toEpochMilli()).orElse(ALWAYS));
            for (Copy c : backup.copies()) {
                addCopy(
                        c.store(),
                        c.landed().toEpochMilli(),
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

        /** Adds a row; {@code from} below 0 says that no positions are known. Its copies follow. */
        public Builder add(
                String id,
                Kind kind,
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
            if (size == ids.length) {
                int n = size * 2;
                ids = Arrays.copyOf(ids, n);
                kinds = Arrays.copyOf(kinds, n);
                parentIds = Arrays.copyOf(parentIds, n);
                runIds = Arrays.copyOf(runIds, n);
                started = Arrays.copyOf(started, n);
                ended = Arrays.copyOf(ended, n);
                consistentAt = Arrays.copyOf(consistentAt, n);
                selfContained = Arrays.copyOf(selfContained, n);
                from = Arrays.copyOf(from, n);
                to = Arrays.copyOf(to, n);
                fromTime = Arrays.copyOf(fromTime, n);
                toTime = Arrays.copyOf(toTime, n);
                firstCopy = Arrays.copyOf(firstCopy, n + 1);
            }
            ids[size] = id;
            kinds[size] = kind;
            parentIds[size] = parent;
            runIds[size] = run;
            started[size] = startedMs;
            ended[size] = endedMs;
            consistentAt[size] = consistentAtMs;
            selfContained[size] = isSelfContained;
            from[size] = fromPosition;
            to[size] = toPosition;
            fromTime[size] = fromTimeMs;
            toTime[size] = toTimeMs;
            size++;
            firstCopy[size] = firstCopy[size - 1];
            return this;
        }

        /** Adds a copy of the backup added last. */
        public Builder addCopy(
                String store,
                long landedMs,
                long lockedUntilMs,
                long goneMs,
                long foundMs,
                long sinceMs,
                double bytes) {
            int c = firstCopy[size];
            if (c == landed.length) {
                int n = c * 2;
                copyStore = Arrays.copyOf(copyStore, n);
                landed = Arrays.copyOf(landed, n);
                lockedUntil = Arrays.copyOf(lockedUntil, n);
                gone = Arrays.copyOf(gone, n);
                found = Arrays.copyOf(found, n);
                since = Arrays.copyOf(since, n);
                copyBytes = Arrays.copyOf(copyBytes, n);
            }
            copyStore[c] = storeIndex.computeIfAbsent(store, s -> {
                storeIds.add(s);
                return storeIds.size() - 1;
            });
            landed[c] = landedMs;
            lockedUntil[c] = lockedUntilMs;
            gone[c] = goneMs;
            found[c] = foundMs;
            since[c] = sinceMs;
            copyBytes[c] = bytes;
            firstCopy[size] = c + 1;
            return this;
        }

        public Builder add(Run run) {
            runs.add(run);
            if (run.outcome() == Outcome.FAILED) {
                (run.kind() == Kind.LOG ? failedLogRuns : failedDataRuns).add(run);
            }
            return this;
        }

        public History build() {
            Map<String, Integer> byId = new HashMap<>();
            for (int i = 0; i < size; i++) {
                if (kinds[i] != Kind.LOG) {
                    byId.put(ids[i], i);
                }
            }
            parents = new int[size];
            for (int i = 0; i < size; i++) {
                parents[i] = parentIds[i] == null ? NO_PARENT : byId.getOrDefault(parentIds[i], UNKNOWN_PARENT);
            }
            runs.sort(java.util.Comparator.comparing(Run::started).thenComparing(Run::id));
            failedLogRuns.sort(java.util.Comparator.comparing(Run::started));
            failedDataRuns.sort(java.util.Comparator.comparing(Run::started));
            return new History(this);
        }
    }
}
