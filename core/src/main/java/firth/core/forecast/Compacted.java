package firth.core.forecast;

import firth.core.cover.Availability;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Database;
import firth.core.model.Kind;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

/**
 * A history as it stands now with the unbroken logs of each day taken together, those that a data backup needs apart from
 * the others: small enough to be judged again for every day to come. Copies that are gone, spoiled or not there yet are left out (docs/forecast.md, "Forecast").
 */
final class Compacted {

    private static final long DAY_MS = 24L * 3_600_000;
    private static final int PATIENCE = 3;

    private final Database database;
    private final History history;
    private final Availability availability;
    private final List<Piece> pieces = new ArrayList<>();
    /** By lineage and stream, where data backups begin and where they end, ascending. */
    private final long[][][] begins;

    private final long[][][] ends;

    /** Logs of one day that follow one another and lie in the same stores. */
    @SuppressWarnings("ArrayRecordComponent")
    private record Piece(int[] rows, BitSet stores) {}

    Compacted(Database database, History history, Availability availability) {
        this.database = database;
        this.history = history;
        this.availability = availability;
        int lineages = database.lineages().size();
        int streams = database.streams().size();
        this.begins = new long[lineages][streams][];
        this.ends = new long[lineages][streams][];
        for (int l = 0; l < lineages; l++) {
            for (int s = 0; s < streams; s++) {
                int lineage = l;
                int stream = s;
                int[] data = history.others().stream()
                        .filter(i -> history.lineage(i) == lineage && history.from(i, stream) >= 0)
                        .toArray();
                begins[l][s] = Arrays.stream(data)
                        .mapToLong(i -> history.from(i, stream))
                        .sorted()
                        .toArray();
                ends[l][s] = Arrays.stream(data)
                        .mapToLong(i -> history.to(i, stream))
                        .sorted()
                        .toArray();
            }
        }
        cut();
    }

    private void cut() {
        int[] logs = IntStream.range(0, history.size())
                .filter(i -> history.kind(i) == Kind.LOG
                        && availability.exists(i)
                        && !storesOf(i).isEmpty())
                .boxed()
                .sorted(Comparator.<Integer>comparingInt(history::lineage)
                        .thenComparingInt(history::stream)
                        .thenComparingLong(history::logFrom)
                        .thenComparingLong(history::logTo))
                .mapToInt(Integer::intValue)
                .toArray();
        int begin = 0;
        BitSet stores = new BitSet();
        for (int k = 0; k <= logs.length; k++) {
            BitSet own = k < logs.length ? storesOf(logs[k]) : null;
            if (k > begin && (own == null || !follows(logs[begin], logs[k - 1], logs[k]) || !own.equals(stores))) {
                pieces.add(new Piece(Arrays.copyOfRange(logs, begin, k), stores));
                begin = k;
            }
            stores = own == null ? stores : own;
        }
    }

    private boolean follows(int first, int last, int next) {
        return history.lineage(last) == history.lineage(next)
                && history.stream(last) == history.stream(next)
                && history.logFrom(next) <= history.logTo(last)
                && Math.floorDiv(history.toTimeMs(first), DAY_MS) == Math.floorDiv(history.toTimeMs(next), DAY_MS)
                && neededAlike(last, next);
    }

    /** Whether two logs of a stream lie in the same data backups. */
    private boolean neededAlike(int one, int other) {
        long[] begin = begins[history.lineage(one)][history.stream(one)];
        long[] end = ends[history.lineage(one)][history.stream(one)];
        return below(begin, history.logTo(one)) == below(begin, history.logTo(other))
                && below(end, history.logFrom(one) + 1) == below(end, history.logFrom(other) + 1);
    }

    /** How many of some ascending values are below a bound. */
    private static int below(long[] values, long bound) {
        int low = 0;
        int high = values.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (values[middle] < bound) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    private BitSet storesOf(int i) {
        BitSet out = new BitSet();
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (availability.copyAvailableNow(c)) {
                out.set(history.storeIndex(c));
            }
        }
        return out;
    }

    /** Starts a history with all this in it, and with the copies that are on their way to where those of their kind usually lie. */
    HistoryBuilder begin(Habits habits) {
        HistoryBuilder out = History.of(database);
        for (int i : history.others()) {
            if (availability.exists(i)) {
                other(out, i);
                coming(out, habits, i);
            }
        }
        for (Piece p : pieces) {
            log(out, p);
            coming(out, habits, p.rows);
        }
        return out;
    }

    /** Copies of backups that follow one another, to wherever none of them has been and all of them may still come. */
    private void coming(HistoryBuilder out, Habits habits, int... rows) {
        long now = availability.nowMs();
        for (Landing place : habits.landings(history.kind(rows[0]))) {
            long after = place.after().toMillis();
            // What is three times as old as copies usually are when they come has been given up.
            boolean comes = place.firstOf().isEmpty()
                    && Arrays.stream(rows)
                            .allMatch(
                                    i -> habits.readyMs(i) + PATIENCE * after >= now && isElsewhere(i, place.store()));
            if (comes) {
                long landed = Math.max(now, habits.readyMs(rows[rows.length - 1]) + after);
                long locked = place.locked().map(l -> landed + l.toMillis()).orElse(History.ALWAYS);
                copy(
                        out,
                        place.store(),
                        landed,
                        locked,
                        Arrays.stream(rows).mapToDouble(this::known).sum());
            }
        }
    }

    /** Whether a backup has landed somewhere, and never in a store. */
    private boolean isElsewhere(int i, String store) {
        boolean any = false;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            boolean landed = history.landedMs(c) <= availability.nowMs();
            if (landed && history.store(c).equals(store)) {
                return false;
            }
            any |= landed;
        }
        return any;
    }

    /** The size of a backup as it is known now. */
    private double known(int i) {
        double out = 0;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            boolean counts = history.landedMs(c) <= availability.nowMs() && !Double.isNaN(history.bytes(c));
            out = counts ? Math.max(out, history.bytes(c)) : out;
        }
        return out;
    }

    private void other(HistoryBuilder out, int i) {
        row(out, database, history, i);
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (availability.copyAvailableNow(c)) {
                copy(out, history.store(c), history.landedMs(c), history.lockedUntilMs(c), history.bytes(c));
            }
        }
    }

    private void log(HistoryBuilder out, Piece piece) {
        int first = piece.rows[0];
        long to = history.logTo(first);
        long toTime = history.toTimeMs(first);
        for (int i : piece.rows) {
            to = Math.max(to, history.logTo(i));
            toTime = Math.max(toTime, history.toTimeMs(i));
        }
        BackupRow.Extent extent = new BackupRow.Extent(history.logFrom(first), to, history.fromTimeMs(first), toTime);
        out.add(BackupRow.log(history.id(first), history.stream(first), extent)
                .of(history.lineage(first))
                .taken(history.startedMs(first), toTime));
        for (int s = piece.stores.nextSetBit(0); s >= 0; s = piece.stores.nextSetBit(s + 1)) {
            together(out, piece, s);
        }
    }

    private void together(HistoryBuilder out, Piece piece, int store) {
        long landed = Long.MIN_VALUE;
        long locked = History.ALWAYS;
        double bytes = 0;
        String name = "";
        for (int i : piece.rows) {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (history.storeIndex(c) == store) {
                    name = history.store(c);
                    landed = Math.max(landed, history.landedMs(c));
                    locked = Math.max(locked, history.lockedUntilMs(c));
                    bytes += Double.isNaN(history.bytes(c)) ? 0 : history.bytes(c);
                }
            }
        }
        copy(out, name, landed, locked, bytes);
    }

    /** Writes a row of a history into another, without its copies. */
    static void row(HistoryBuilder out, Database database, History history, int i) {
        out.add(history.row(i));
        for (int s = 1; s < database.streams().size() && history.kind(i) != Kind.LOG; s++) {
            if (history.positioned(i, s)) {
                out.addPositions(s, history.from(i, s), history.to(i, s));
            }
        }
    }

    static void copy(HistoryBuilder out, String store, long landed, long locked, double bytes) {
        out.addCopy(store, CopyRow.landed(landed, bytes).locked(locked));
    }
}
