package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.time.LongOrder;
import firth.core.time.Spans;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The quick way through a history that behaves: one lineage, one stream, and logs that follow each other without overlap,
 * each there once. Logs that hang together, come in order, go in order and reach in order form a train, of which at any
 * moment those there are a single stretch; a landing then moves one end and costs no search. Histories that do not behave go
 * through {@link CoverState}, which gives the same answers.
 */
final class Trains implements Standing {

    private final History history;
    private final TrainBlocks logs;
    private final int count;
    private final long inService;
    private final int[] data;
    /** By train: the places of those there, as far as {@link #low(int)} has followed them. */
    private final int[] low;

    private final int[] high;
    /** Trains of which some logs are gone by now. */
    private final BitSet leaving = new BitSet();
    /** Where data backups end, ascending, and the least start of those that end there or beyond. */
    private final long[] dataTo;

    private final long[] leastStart;
    /** By number among the rows that are no logs. */
    private final boolean[] usable;

    private final int[] age;
    private final IndexSet usableByAge;

    private long moment = Long.MIN_VALUE;
    /** Absent where how it came to be is left out. */
    private @Nullable Landings landings;

    private long latest = NOTHING;
    private long boundReached = NOTHING;
    private int leadTrain = -1;
    private long needsFrom = Long.MAX_VALUE;
    private boolean stale;
    private long nextGoing = Spans.FOREVER;
    private int nextGoingRow = -1;
    private int moved;

    private long extensionEnd;
    private long extensionReached;
    private int extensionTrain;
    /** The last place on the way that reaches as far as that. */
    private int bestPlace;
    /** The places the extension looked at before went through while one moment is judged, none where the last is below 0. */
    private int passedFrom;

    private int passedTo = -1;
    private long passedEnd;
    private long passedReached;
    /** The last place on that way that reached as far. */
    private int passedBest;

    private int passedTrain;

    private Trains(History history, Lines lines, TrainBlocks logs, long now) {
        this.history = history;
        this.logs = logs;
        this.count = logs.places();
        this.inService = lines.lineages().openedAtMs(0);
        this.data = lines.dataByAge(0);
        this.low = new int[logs.trains()];
        Arrays.setAll(low, logs::first);
        this.high = low.clone();
        for (int t = 0; t < low.length; t++) {
            leaving.set(t, logs.goes(logs.first(t)) <= now);
        }
        int[] positioned = LongOrder.by(
                Arrays.stream(data).filter(b -> history.positioned(b, 0)).toArray(), b -> history.to(b, 0));
        this.dataTo = Arrays.stream(positioned).mapToLong(b -> history.to(b, 0)).toArray();
        this.leastStart =
                Arrays.stream(positioned).mapToLong(b -> history.start(b, 0)).toArray();
        for (int d = dataTo.length - 2; d >= 0; d--) {
            leastStart[d] = Math.min(leastStart[d], leastStart[d + 1]);
        }
        this.usable = new boolean[history.others().size()];
        this.usableByAge = new IndexSet(data.length);
        this.age = new int[history.others().size()];
        for (int o = 0; o < data.length; o++) {
            age[number(data[o])] = o;
        }
    }

    /** The logs as trains; empty where they do not behave. */
    static Optional<Trains> of(History history, Lines lines, Windows windows, long now) {
        if (lines.lineages().count() > 1 || lines.streams() > 1 || history.anyStreamed() || !windows.simple()) {
            return Optional.empty();
        }
        return TrainBlocks.of(history, lines.line(0, 0), windows).map(logs -> new Trains(history, lines, logs, now));
    }

    private int number(int b) {
        return history.others().place(b);
    }

    /** Passes through everything that came and went up to now. */
    void run(Map<Integer, Spans> usableWhen, long now, RecoveryTimeline timeline) {
        Events others = new Events(data.length);
        others.look(inService, 0);
        for (int b : data) {
            others.add(Events.Turn.WHOLE, b, Objects.requireNonNull(usableWhen.get(b)), history.consistentAtMs(b));
        }
        int[] otherOrder = others.inOrder();
        landings = new Landings(logs);
        int o = 0;
        while (true) {
            long nextOther = o < otherOrder.length ? others.at(otherOrder[o]) : Spans.FOREVER;
            long besides = Math.min(nextGoing, Math.min(nextOther, landings.nextBeside(leadTrain)));
            passLanding(landings, Math.min(besides, now + 1), timeline);
            long at = Math.min(besides, landings.nextOf(leadTrain));
            if (at > now) {
                moment = now;
                return;
            }
            moment = at;
            moved = -1;
            landings.takeAt(at, this::lands);
            if (nextGoing == at) {
                stale = true;
                moved = moved < 0 ? nextGoingRow : moved;
            }
            for (; o < otherOrder.length && others.at(otherOrder[o]) == at; o++) {
                dataBecomes(others, otherOrder[o]);
            }
            if (stale) {
                judge(at);
                stale = false;
                lookAgain();
            }
            timeline.add(at, at < inService || latest < inService ? NOTHING : latest, moved);
        }
    }

    /** What was passed over is to be looked at again. */
    private void lookAgain() {
        Landings all = Objects.requireNonNull(landings);
        all.eachOpen(t -> all.moveTo(t, high(t)));
    }

    /** The lead's logs land one after another while nothing else happens; those from which the way may lead on are left to be looked at. */
    private void passLanding(Landings landings, long before, RecoveryTimeline timeline) {
        if (leadTrain < 0) {
            return;
        }
        int from = landings.place(leadTrain);
        int to = logs.land(from, Math.max(from, logs.tail(leadTrain)), before, inService, latest, timeline);
        if (to > from) {
            high[leadTrain] = to;
            latest = Math.max(latest, logs.reaches(to - 1));
            boundReached = Math.max(boundReached, logs.reaches(to - 1));
            landings.moveTo(leadTrain, to);
        }
    }

    /** Goes straight to what is there now; how it came to be is left out. */
    void stand(BitSet usableNow, long now, RecoveryTimeline timeline) {
        for (int b : data) {
            if (history.consistentAtMs(b) <= now && usableNow.get(b)) {
                usable[number(b)] = true;
                usableByAge.add(age[number(b)]);
            }
        }
        for (int t = 0; t < high.length; t++) {
            high[t] = logs.end(t);
            boundReached = Math.max(boundReached, logs.reaches(high[t] - 1));
        }
        moment = now;
        judge(now);
        timeline.add(now, now < inService || latest < inService ? NOTHING : latest, -1);
    }

    private void lands(int k, int t) {
        high[t] = k + 1;
        long reaches = logs.reaches(k);
        boundReached = Math.max(boundReached, reaches);
        moved = logs.row(k);
        if (t != leadTrain) {
            landsBeside(k, t);
        } else if (k >= logs.tail(t)) {
            stale = true;
        } else {
            latest = Math.max(latest, reaches);
        }
    }

    /**
     * A log that lands beside the lead changes something where a backup that is usable leads to it. Before the position at which
     * any backup may lead into its train the others may land without changing anything: they are passed over, and how many have
     * landed is looked up when it is asked.
     */
    private void landsBeside(int k, int t) {
        int first = chainBegin(Math.min(low(t), k));
        int after = firstAtLeast(dataTo, logs.from(first));
        long entry = after < dataTo.length ? leastStart[after] : Long.MAX_VALUE;
        if (entry <= logs.to(k)) {
            stale |= led(first, k);
            return;
        }
        int to = Math.min(logs.firstEndingAt(entry), logs.end(t) - 1);
        if (to > k + 1) {
            boundReached = Math.max(boundReached, logs.reaches(to - 1));
            Objects.requireNonNull(landings).moveTo(t, to);
        }
    }

    /** The place after the last of a train whose log has landed. */
    private int high(int t) {
        if (landings != null && high[t] < landings.place(t)) {
            high[t] = Stretches.firstWhere(high[t], landings.place(t), k -> logs.comes(k) > moment);
        }
        return high[t];
    }

    /** The first place of a train whose log is not gone. */
    private int low(int t) {
        int from = low[t];
        int end = logs.end(t);
        if (!leaving.get(t) || from == end || logs.goes(from) > moment) {
            return from;
        }
        int step = 1;
        while (from + step < end && logs.goes(from + step - 1) <= moment) {
            from += step;
            step *= 2;
        }
        low[t] = Stretches.firstWhere(from, Math.min(end, from + step), k -> logs.goes(k) > moment);
        return low[t];
    }

    /** The first place from which those there lead on to another without a hole. */
    private int chainBegin(int place) {
        int begin = place;
        for (int before = thereBefore(begin); before >= 0; before = thereBefore(begin)) {
            begin = low(logs.train(before));
        }
        return begin;
    }

    /** A place that is there and ends where another begins, -1 where there is none. */
    private int thereBefore(int k) {
        long from = logs.from(k);
        for (int before = k - 1; before >= 0 && logs.to(before) == from; before--) {
            if (there(before)) {
                return before;
            }
        }
        return -1;
    }

    /** Whether a data backup that is usable leads into the logs from one place to another. */
    private boolean led(int first, int last) {
        long from = logs.from(first);
        long to = logs.to(last);
        for (int o = usableByAge.previous(data.length - 1); o >= 0; o = usableByAge.previous(o - 1)) {
            int b = data[o];
            if (history.positioned(b, 0) && history.to(b, 0) >= from && history.start(b, 0) <= to) {
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

    private void dataBecomes(Events events, int event) {
        stale = true;
        if (events.what(event) == Events.Turn.WHOLE) {
            int b = events.row(event);
            int n = number(b);
            usable[n] = events.begins(event);
            if (usable[n]) {
                usableByAge.add(age[n]);
            } else {
                usableByAge.remove(age[n]);
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
        passedTo = -1;
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
        passedTo = -1;
        foresee();
    }

    /** Works out when a log that matters goes next. */
    private void foresee() {
        nextGoing = Spans.FOREVER;
        int needed = logs.firstEndingAt(needsFrom);
        int first = needed < count ? logs.train(needed) : high.length;
        for (int t = leaving.nextSetBit(first); t >= 0; t = leaving.nextSetBit(t + 1)) {
            int k = Math.max(needed, low(t));
            if (k < logs.end(t) && logs.goes(k) < nextGoing) {
                nextGoing = logs.goes(k);
                nextGoingRow = logs.row(k);
            }
        }
    }

    private boolean there(int k) {
        int t = logs.train(k);
        return k < high(t) && low(t) <= k;
    }

    /** Follows the logs from a position on; whether some extend it. */
    private boolean extend(long position) {
        int k = logs.firstEndingAt(position);
        bestPlace = -1;
        extensionReached = NOTHING;
        for (; k < count && logs.to(k) == position; k++) {
            if (logs.from(k) == position && there(k)) {
                reach(k);
            }
        }
        boolean empty = bestPlace >= 0;
        extensionEnd = position;
        extensionTrain = -1;
        if (k == count || logs.from(k) > position || !there(k)) {
            return empty;
        }
        int begin = k;
        int last = k;
        while (k < count && logs.from(k) <= extensionEnd && there(k)) {
            last = high(logs.train(k)) - 1;
            if (k <= passedTo && last >= passedFrom && k <= passedBest) {
                boolean further = passedReached >= extensionReached;
                bestPlace = further ? passedBest : bestPlace;
                extensionReached = further ? passedReached : extensionReached;
                extensionEnd = passedEnd;
                extensionTrain = passedTrain;
                passed(Math.min(passedFrom, begin), passedTo);
                return true;
            }
            reach(last);
            extensionEnd = logs.to(last);
            for (k = last + 1; k < count && logs.to(k) == extensionEnd; k++) {
                if (there(k)) {
                    reach(k);
                }
            }
        }
        extensionTrain = logs.train(last);
        passed(begin, last);
        return true;
    }

    /** The logs of a place are on the way; those of a train reach no further than its last that is there. */
    private void reach(int place) {
        if (logs.reaches(place) >= extensionReached) {
            extensionReached = logs.reaches(place);
            bestPlace = place;
        }
    }

    private void passed(int from, int to) {
        passedFrom = from;
        passedTo = to;
        passedEnd = extensionEnd;
        passedReached = extensionReached;
        passedBest = bestPlace;
        passedTrain = extensionTrain;
    }

    @Override
    public int streams() {
        return 1;
    }

    @Override
    public boolean usable(int b) {
        int n = number(b);
        return n >= 0 && usable[n];
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
