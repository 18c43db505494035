package firth.core.cover;

import firth.core.history.History;
import firth.core.time.LongOrder;
import firth.core.time.Spans;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Map;
import java.util.Optional;

/**
 * The quick way through a history that behaves: one lineage, one stream, and logs that follow each other without overlap,
 * each there once. Logs that hang together, come in order, go in order and reach in order form a train, of which at any
 * moment those there are a single stretch; a landing then moves one end and costs no search. Histories that do not behave go
 * through {@link CoverState}, which gives the same answers.
 */
final class Trains implements Standing {

    /** More trains than this and one for every so many logs, and there is nothing to gain. */
    private static final int FEW = 64;

    private static final int LOGS_A_TRAIN = 8;

    private final History history;
    private final Windows windows;
    private final long inService;
    private final int[] data;
    /** Rows of the logs that are ever there, in the order of their positions; the others are columns by place in it. */
    private final int[] log;

    private final int[] train;
    /** By train: its places, and those there now. */
    private final int[] end;

    private final int[] low;
    private final int[] high;
    private final int count;
    /** Where data backups end, ascending, and the least start of those that end there or beyond. */
    private final long[] dataTo;

    private final long[] leastStart;
    private final boolean[] usable;
    private final IndexSet usableByAge;
    private final int[] age;

    private long latest = NOTHING;
    private long boundReached = NOTHING;
    private int leadTrain = -1;
    private long needsFrom = Long.MAX_VALUE;
    private boolean stale;
    private int moved;

    private long extensionEnd;
    private long extensionReached;
    private int extensionTrain;

    private Trains(History history, Lines lines, Windows windows, int[] log, int[] train, int trains) {
        this.history = history;
        this.windows = windows;
        this.inService = lines.lineages().openedAtMs(0);
        this.data = lines.dataByAge(0);
        this.log = log;
        this.count = log.length;
        this.train = train;
        this.end = new int[trains];
        this.low = new int[trains];
        for (int k = count - 1; k >= 0; k--) {
            low[train[k]] = k;
            end[train[k]] = Math.max(end[train[k]], k + 1);
        }
        this.high = low.clone();
        int[] positioned = LongOrder.by(
                Arrays.stream(data).filter(b -> history.positioned(b, 0)).toArray(), b -> history.to(b, 0));
        this.dataTo = Arrays.stream(positioned).mapToLong(b -> history.to(b, 0)).toArray();
        this.leastStart =
                Arrays.stream(positioned).mapToLong(b -> history.start(b, 0)).toArray();
        for (int d = dataTo.length - 2; d >= 0; d--) {
            leastStart[d] = Math.min(leastStart[d], leastStart[d + 1]);
        }
        this.usable = new boolean[history.size()];
        this.usableByAge = new IndexSet(data.length);
        this.age = new int[history.size()];
        for (int o = 0; o < data.length; o++) {
            age[data[o]] = o;
        }
    }

    /** The logs as trains; empty where they do not behave. */
    static Optional<Trains> of(History history, Lines lines, Windows windows) {
        if (lines.lineages().count() > 1 || lines.streams() > 1 || history.anyStreamed() || !windows.simple()) {
            return Optional.empty();
        }
        int[] all = lines.line(0, 0).logsByStart();
        int[] log = new int[all.length];
        int[] train = new int[all.length];
        int n = 0;
        int trains = 0;
        for (int row : all) {
            if (!windows.isEmpty(row)) {
                if (n > 0 && history.logFrom(row) < history.logTo(log[n - 1])) {
                    return Optional.empty();
                }
                if (n == 0 || !follows(history, windows, log[n - 1], row)) {
                    trains++;
                }
                train[n] = trains - 1;
                log[n++] = row;
            }
        }
        return trains > FEW + n / LOGS_A_TRAIN
                ? Optional.empty()
                : Optional.of(
                        new Trains(history, lines, windows, Arrays.copyOf(log, n), Arrays.copyOf(train, n), trains));
    }

    private static boolean follows(History history, Windows windows, int one, int other) {
        return history.logTo(one) == history.logFrom(other)
                && windows.fromMs(one) <= windows.fromMs(other)
                && windows.toMs(one) <= windows.toMs(other)
                && history.toTimeMs(one) <= history.toTimeMs(other);
    }

    /** Passes through everything that came and went up to now. */
    void run(Map<Integer, Spans> usableWhen, long now, RecoveryTimeline timeline) {
        Events others = new Events(data.length);
        others.look(inService, 0);
        for (int b : data) {
            others.add(Events.What.WHOLE, b, usableWhen.get(b), history.consistentAtMs(b));
        }
        int[] otherOrder = others.inOrder();
        long[] landing = new long[count];
        long[] going = new long[count];
        for (int k = 0; k < count; k++) {
            landing[k] = windows.fromMs(log[k]);
            going[k] = windows.toMs(log[k]);
        }
        int[] landings = LongOrder.of(landing, count);
        int[] goings = LongOrder.of(going, count);
        timeline.expect(count + 2 * data.length);
        int l = 0;
        int g = 0;
        int o = 0;
        while (true) {
            long nextLanding = l < count ? landing[landings[l]] : Spans.FOREVER;
            long nextGoing = g < count ? going[goings[g]] : Spans.FOREVER;
            long nextOther = o < otherOrder.length ? others.at(otherOrder[o]) : Spans.FOREVER;
            long at = Math.min(nextLanding, Math.min(nextGoing, nextOther));
            if (at > now) {
                return;
            }
            moved = -1;
            for (; l < count && landing[landings[l]] == at; l++) {
                lands(landings[l]);
            }
            for (; g < count && going[goings[g]] == at; g++) {
                goes(goings[g]);
            }
            for (; o < otherOrder.length && others.at(otherOrder[o]) == at; o++) {
                dataBecomes(others, otherOrder[o]);
            }
            if (stale) {
                judge(at);
                stale = false;
            }
            timeline.add(at, at < inService || latest < inService ? NOTHING : latest, moved);
        }
    }

    /** Goes straight to what is there now; how it came to be is left out. */
    void stand(BitSet usableNow, long now, RecoveryTimeline timeline) {
        for (int b : data) {
            if (history.consistentAtMs(b) <= now && usableNow.get(b)) {
                usable[b] = true;
                usableByAge.add(age[b]);
            }
        }
        for (int k = 0; k < count; k++) {
            if (windows.fromMs(log[k]) <= now) {
                high[train[k]] = k + 1;
                boundReached = Math.max(boundReached, history.toTimeMs(log[k]));
            }
            if (windows.toMs(log[k]) <= now) {
                low[train[k]] = k + 1;
            }
        }
        judge(now);
        timeline.add(now, now < inService || latest < inService ? NOTHING : latest, -1);
    }

    private void lands(int k) {
        int t = train[k];
        high[t] = k + 1;
        long reaches = history.toTimeMs(log[k]);
        boundReached = Math.max(boundReached, reaches);
        moved = log[k];
        if (t != leadTrain) {
            stale |= matters(k);
        } else if (k + 1 == end[t]) {
            stale = true;
        } else {
            latest = Math.max(latest, reaches);
        }
    }

    /** Whether a log that lands beside the lead can change anything: a backup leads into its train, or another train does. */
    private boolean matters(int k) {
        int first = low[train[k]];
        int after = firstAtLeast(dataTo, from(first));
        boolean entered = after < dataTo.length && leastStart[after] <= to(k);
        return entered || followsOneThatIsThere(first);
    }

    private boolean followsOneThatIsThere(int k) {
        for (int before = k - 1; before >= 0 && to(before) == from(k); before--) {
            if (there(before)) {
                return true;
            }
        }
        return false;
    }

    private static int firstAtLeast(long[] ascending, long value) {
        int at = Arrays.binarySearch(ascending, value);
        if (at < 0) {
            return -at - 1;
        }
        while (at > 0 && ascending[at - 1] == value) {
            at--;
        }
        return at;
    }

    private void goes(int k) {
        low[train[k]] = k + 1;
        stale |= to(k) >= needsFrom;
        if (moved < 0) {
            moved = log[k];
        }
    }

    private void dataBecomes(Events events, int event) {
        stale = true;
        if (events.what(event) == Events.What.WHOLE) {
            int b = events.row(event);
            usable[b] = events.begins(event);
            if (usable[b]) {
                usableByAge.add(age[b]);
            } else {
                usableByAge.remove(age[b]);
            }
            if (moved < 0 || history.kind(moved).isData() || history.consistentAtMs(b) > history.toTimeMs(moved)) {
                moved = b;
            }
        }
    }

    /** Works out the latest instant anew, from the newest data backup on until no older one can do better. */
    private void judge(long at) {
        latest = NOTHING;
        leadTrain = -1;
        needsFrom = Long.MAX_VALUE;
        long leadReached = NOTHING;
        for (int o = usableByAge.previous(data.length - 1); o >= 0; o = usableByAge.previous(o - 1)) {
            int b = data[o];
            long own = history.consistentAtMs(b);
            if (latest >= Math.max(own, boundReached)) {
                break;
            }
            if (torn(b, at)) {
                continue;
            }
            latest = Math.max(latest, own);
            if (history.positioned(b, 0)) {
                needsFrom = Math.min(needsFrom, history.start(b, 0));
                if (extend(history.to(b, 0)) && extensionReached > leadReached) {
                    leadReached = extensionReached;
                    leadTrain = extensionTrain;
                    latest = Math.max(latest, leadReached);
                }
            }
        }
    }

    private long to(int k) {
        return history.logTo(log[k]);
    }

    private long from(int k) {
        return history.logFrom(log[k]);
    }

    private boolean there(int k) {
        return low[train[k]] <= k && k < high[train[k]];
    }

    /** Follows the logs from a position on; whether some extend it. */
    private boolean extend(long position) {
        int k = firstEndingAt(position);
        boolean empty = false;
        long reached = NOTHING;
        for (; k < count && to(k) == position; k++) {
            if (there(k)) {
                reached = Math.max(reached, history.toTimeMs(log[k]));
                empty |= from(k) == position;
            }
        }
        extensionEnd = position;
        extensionReached = empty ? reached : NOTHING;
        extensionTrain = -1;
        if (k == count || from(k) > position || !there(k)) {
            return empty;
        }
        int last = k;
        while (k < count && from(k) <= extensionEnd && there(k)) {
            last = high[train[k]] - 1;
            extensionEnd = to(last);
            for (k = last + 1; k < count && to(k) == extensionEnd; ) {
                k++;
            }
        }
        extensionTrain = train[last];
        extensionReached = reachedAt(last);
        return true;
    }

    /** The latest time reached by the logs that end where one does. */
    private long reachedAt(int last) {
        long position = to(last);
        long reached = history.toTimeMs(log[last]);
        for (int k = last - 1; k >= 0 && to(k) == position; k--) {
            reached = there(k) ? Math.max(reached, history.toTimeMs(log[k])) : reached;
        }
        for (int k = last + 1; k < count && to(k) == position; k++) {
            reached = there(k) ? Math.max(reached, history.toTimeMs(log[k])) : reached;
        }
        return reached;
    }

    private int firstEndingAt(long position) {
        int below = 0;
        int above = count;
        while (below < above) {
            int middle = (below + above) >>> 1;
            if (to(middle) < position) {
                below = middle + 1;
            } else {
                above = middle;
            }
        }
        return below;
    }

    @Override
    public int streams() {
        return 1;
    }

    @Override
    public boolean usable(int b) {
        return usable[b];
    }

    @Override
    public boolean tornIn(int b, int stream, long at) {
        if (history.selfContained(b) || !history.positioned(b, 0) || history.from(b, 0) == history.to(b, 0)) {
            return false;
        }
        extend(history.from(b, 0));
        return extensionEnd < history.to(b, 0);
    }

    @Override
    public long restoresUpTo(int b, long moment) {
        long own = history.consistentAtMs(b);
        return history.positioned(b, 0) && extend(history.to(b, 0)) ? Math.max(own, extensionReached) : own;
    }

    @Override
    public long extendsTo(int lineage, int stream, long position) {
        extend(position);
        return extensionEnd;
    }

    @Override
    public boolean entered(int lineage) {
        return false;
    }

    @Override
    public boolean carries(int b, int child, long at) {
        return false;
    }

    @Override
    public boolean forkReaches(int child, long at) {
        return false;
    }

    @Override
    public long entryRestoresUpTo(int lineage, long moment) {
        return NOTHING;
    }
}
