package firth.core.history;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The columns of a history while rows are added to them and when they are read; they grow as they must. */
final class Columns {

    final int streamCount;
    int size;
    final Ids ids = new Ids();
    Kind[] kinds = new Kind[64];
    final Map<Integer, String> parentIds = new HashMap<>();
    final Ids runIds = new Ids();
    short[] lineages = new short[64];
    short[] streams = new short[64];
    long @Nullable [] lags;

    @SuppressWarnings("NullAway.Init")
    long[][] moreFrom;

    @SuppressWarnings("NullAway.Init")
    long[][] moreTo;

    @SuppressWarnings("NullAway.Init")
    int[] parents;

    @SuppressWarnings("NullAway.Init")
    RowSet others;

    long[] started = new long[64];
    long[] ended = new long[64];
    long[] consistentAt = new long[64];
    boolean[] selfContained = new boolean[64];
    long[] from = new long[64];
    long[] to = new long[64];
    long[] fromTime = new long[64];
    long[] toTime = new long[64];
    int[] firstCopy = new int[65];
    int[] copyStore = new int[64];
    long[] landed = new long[64];
    long[] lockedUntil = new long[64];
    long[] gone = new long[64];
    /** Absent until a copy is known to be spoiled, as most never are. */
    long @Nullable [] found;

    long @Nullable [] since;
    double[] copyBytes = new double[64];

    /** Absent until one is known by more than a word. */
    byte @Nullable [] evidence;

    final List<String> storeIds = new ArrayList<>();
    final Map<String, Integer> storeIndex = new HashMap<>();
    List<Run> runs = new ArrayList<>();
    List<Run> failedLogRuns = new ArrayList<>();
    List<Run> failedDataRuns = new ArrayList<>();

    /** @param streamCount how many streams the database has */
    Columns(int streamCount) {
        this.streamCount = streamCount;
    }

    /** Makes room for that many backups with two copies each. */
    void expect(int backups) {
        if (backups > kinds.length) {
            grow(backups);
            growCopies(Math.max(2 * backups, landed.length));
        }
    }

    void add(BackupRow row) {
        if (size == kinds.length) {
            grow(size * 2);
        }
        ids.add(row.id());
        runIds.add(row.run());
        kinds[size] = row.kind();
        lineages[size] = (short) row.lineage();
        streams[size] = (short) row.stream();
        if (!row.parent().isEmpty()) {
            parentIds.put(size, row.parent());
        }
        started[size] = row.during().startedMs();
        ended[size] = row.during().endedMs();
        consistentAt[size] = row.during().consistentAtMs();
        selfContained[size] = row.selfContained();
        from[size] = row.extent().from();
        to[size] = row.extent().to();
        fromTime[size] = row.extent().fromTimeMs();
        toTime[size] = row.extent().toTimeMs();
        if (lags != null) {
            lags[size] = -1;
        }
        size++;
        firstCopy[size] = firstCopy[size - 1];
    }

    /** Positions of the data backup added last in one more stream; of a stream below 0 they have no effect. */
    void addPositions(int stream, long begin, long end) {
        int row = size - 1;
        if (stream == 0) {
            from[row] = begin;
            to[row] = end;
        } else if (stream > 0) {
            if (moreFrom == null) {
                moreFrom = new long[streamCount][0];
                moreTo = new long[streamCount][0];
            }
            int known = moreFrom[stream].length;
            if (row >= known) {
                moreFrom[stream] = Arrays.copyOf(moreFrom[stream], Math.max(row + 1, 2 * known));
                moreTo[stream] = Arrays.copyOf(moreTo[stream], Math.max(row + 1, 2 * known));
                Arrays.fill(moreFrom[stream], known, moreFrom[stream].length, -1);
                Arrays.fill(moreTo[stream], known, moreTo[stream].length, -1);
            }
            moreFrom[stream][row] = begin;
            moreTo[stream][row] = end;
        }
    }

    long more(long[][] positions, int row, int stream) {
        return positions == null || row >= positions[stream].length ? -1 : positions[stream][row];
    }

    /** Says that the log added last was received continuously, that far behind. */
    void streamed(long lagMs) {
        if (lags == null) {
            lags = new long[kinds.length];
            Arrays.fill(lags, -1);
        }
        lags[size - 1] = lagMs;
    }

    /** The number that copies in a store share. */
    int storeIndex(String store) {
        Integer known = storeIndex.get(store);
        if (known != null) {
            return known;
        }
        storeIds.add(store);
        storeIndex.put(store, storeIds.size() - 1);
        return storeIds.size() - 1;
    }

    /** A copy of the backup added last, in the store of that number. */
    void add(int store, CopyRow copy) {
        int c = firstCopy[size];
        if (c == landed.length) {
            growCopies(c * 2);
        }
        if (copy.foundMs() != History.NEVER && found == null) {
            found = new long[landed.length];
            since = new long[landed.length];
            Arrays.fill(found, History.NEVER);
            Arrays.fill(since, History.ALWAYS);
        }
        copyStore[c] = store;
        long lag = lags == null ? -1 : lags[size - 1];
        long whole = lag < 0 ? copy.landedMs() : toTime[size - 1] + lag;
        landed[c] = lag >= 0 && copy.statedLanding() ? Math.max(copy.landedMs(), whole) : whole;
        lockedUntil[c] = copy.lockedUntilMs();
        gone[c] = copy.goneMs();
        if (found != null) {
            found[c] = copy.foundMs();
            Objects.requireNonNull(since)[c] = copy.sinceMs();
        }
        copyBytes[c] = copy.bytes();
        firstCopy[size] = c + 1;
        known(copy.evidence());
    }

    /** How the copy added last is known. */
    void known(Evidence how) {
        if (how != Evidence.TOLD && evidence == null) {
            evidence = new byte[landed.length];
        }
        if (evidence != null) {
            evidence[firstCopy[size] - 1] = (byte) how.ordinal();
        }
    }

    void add(Run run) {
        runs.add(run);
        if (run.outcome() == Outcome.FAILED) {
            (run.kind() == Kind.LOG ? failedLogRuns : failedDataRuns).add(run);
        }
    }

    /** Works out what rests on all rows together. */
    void complete() {
        int[] own = notLogs();
        others = new RowSet(own);
        Map<String, Integer> byId = new HashMap<>();
        for (int i : own) {
            byId.put(ids.get(i), i);
        }
        parents = new int[size];
        Arrays.fill(parents, History.NO_PARENT);
        parentIds.forEach((i, parent) -> parents[i] = byId.getOrDefault(parent, History.UNKNOWN_PARENT));
        runs = runs.stream()
                .sorted(Comparator.comparing(Run::started).thenComparing(Run::id))
                .toList();
        failedLogRuns = failedLogRuns.stream()
                .sorted(Comparator.comparing(Run::started))
                .toList();
        failedDataRuns = failedDataRuns.stream()
                .sorted(Comparator.comparing(Run::started))
                .toList();
    }

    private void growCopies(int n) {
        copyStore = Arrays.copyOf(copyStore, n);
        landed = Arrays.copyOf(landed, n);
        lockedUntil = Arrays.copyOf(lockedUntil, n);
        gone = Arrays.copyOf(gone, n);
        copyBytes = Arrays.copyOf(copyBytes, n);
        evidence = evidence == null ? null : Arrays.copyOf(evidence, n);
        if (found != null) {
            int known = found.length;
            found = Arrays.copyOf(found, n);
            since = Arrays.copyOf(since, n);
            Arrays.fill(found, known, n, History.NEVER);
            Arrays.fill(since, known, n, History.ALWAYS);
        }
    }

    /** How far behind a log that was received continuously came, of which there is at least one. */
    long lag(int i) {
        return Objects.requireNonNull(lags)[i];
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
}
