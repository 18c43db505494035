package firth.core.cover;

import firth.core.history.History;
import java.util.Arrays;

/**
 * What can be restored while copies land and go, kept up to date one event at a time. A lineage that no event touched
 * keeps its answer; in one that was touched, data backups are asked from the newest on until no older one can do better.
 */
final class CoverState implements Standing {

    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final int streams;
    private final StrandState[][] strands;
    private final boolean[] usable;
    private final int[] age;
    private final IndexSet[] usableByAge;
    private final boolean[] touched;
    private final boolean[] entered;
    private final long[] latest;

    CoverState(History history, Lines lines) {
        this.history = history;
        this.lines = lines;
        this.lineages = lines.lineages();
        this.streams = lines.streams();
        int n = lineages.count();
        strands = new StrandState[n][streams];
        usable = new boolean[history.size()];
        age = new int[history.size()];
        usableByAge = new IndexSet[n];
        touched = new boolean[n];
        entered = new boolean[n];
        latest = new long[n];
        Arrays.fill(latest, NOTHING);
        for (int l = 0; l < n; l++) {
            int[] data = lines.dataByAge(l);
            usableByAge[l] = new IndexSet(data.length);
            for (int o = 0; o < data.length; o++) {
                age[data[o]] = o;
            }
            for (int s = 0; s < streams; s++) {
                strands[l][s] = new StrandState(history, lines.segments(l, s));
            }
        }
    }

    void logBecomes(int log, boolean whole) {
        touched[history.lineage(log)] = true;
        strandOf(log).become(log, whole);
    }

    void partBecomes(int log, boolean there) {
        touched[history.lineage(log)] = true;
        strandOf(log).becomePart(log, there);
    }

    void lentBecomes(int guest, boolean there) {
        Guests guests = lines.guests();
        int host = guests.host(guest);
        touched[host] = true;
        strands[host][history.stream(guests.row(guest))].lentBecomes(guests.from(guest), guests.to(guest), there);
    }

    void dataBecomes(int b, boolean isUsable) {
        int lineage = history.lineage(b);
        touched[lineage] = true;
        usable[b] = isUsable;
        if (isUsable) {
            usableByAge[lineage].add(age[b]);
        } else {
            usableByAge[lineage].remove(age[b]);
        }
    }

    /** A lineage opens, or what was received of a stream reaches a moment that matters. */
    void touch(int lineage) {
        touched[lineage] = true;
    }

    private StrandState strandOf(int log) {
        return strands[history.lineage(log)][history.stream(log)];
    }

    @Override
    public long extendsTo(int lineage, int stream, long position) {
        Segments line = lines.segments(lineage, stream);
        return line.position(strands[lineage][stream].endFrom(line.boundaryOf(position)));
    }

    /** Whether the answer may grow with time by itself, as parts of streamed logs do. */
    boolean flows() {
        for (StrandState[] lineage : strands) {
            if (flows(lineage)) {
                return true;
            }
        }
        return false;
    }

    private static boolean flows(StrandState[] lineage) {
        for (StrandState strand : lineage) {
            if (strand.hasParts()) {
                return true;
            }
        }
        return false;
    }

    /**
     * The latest instant restored, as if nothing later than the logs' own times mattered.
     *
     * @param at the moment of the last event: what is there, and what has been reached since is judged by it
     * @param moment up to when streamed logs were received, not before {@code at} nor after the next event
     */
    long latest(long at, long moment) {
        long out = NOTHING;
        for (int l = 0; l < touched.length; l++) {
            int parent = lineages.parent(l);
            if (parent >= 0 && (touched[parent] || touched[l] || flows(strands[parent]))) {
                boolean before = entered[l];
                entered[l] = enters(l, parent, at);
                touched[l] |= before != entered[l];
            }
            if (touched[l] || flows(strands[l])) {
                latest[l] = latestIn(l, at, moment);
            }
            out = Math.max(out, latest[l]);
        }
        Arrays.fill(touched, false);
        return out;
    }

    private long latestIn(int l, long at, long moment) {
        long opened = lineages.openedAtMs(l);
        long until = lineages.untilMs(l);
        if (!lineages.isKnown(l) || opened > at || until <= opened) {
            return NOTHING;
        }
        long best = entered[l] ? entryRestoresUpTo(l, moment) : NOTHING;
        long bound = Long.MAX_VALUE;
        for (StrandState strand : strands[l]) {
            bound = Math.min(bound, strand.bound(moment));
        }
        int[] data = lines.dataByAge(l);
        for (int o = usableByAge[l].previous(data.length - 1); o >= 0; o = usableByAge[l].previous(o - 1)) {
            int b = data[o];
            long own = history.consistentAtMs(b);
            if (best >= Math.max(own, bound)) {
                break;
            }
            if (own < until && !torn(b, at)) {
                best = Math.max(best, restoresUpTo(b, moment));
            }
        }
        return best < opened ? NOTHING : Math.min(best, until);
    }

    @Override
    public int streams() {
        return streams;
    }

    @Override
    public boolean usable(int b) {
        return usable[b];
    }

    @Override
    public boolean tornIn(int b, int stream, long at) {
        if (history.selfContained(b) || !history.positioned(b, stream)) {
            return false;
        }
        Segments line = lines.segments(history.lineage(b), stream);
        int from = line.fromIndex(b);
        int to = line.toIndex(b);
        return from < to && !strands[history.lineage(b)][stream].extendsTo(from, to, at, history.consistentAtMs(b));
    }

    @Override
    public long restoresUpTo(int b, long moment) {
        int lineage = history.lineage(b);
        long own = history.consistentAtMs(b);
        long out = Long.MAX_VALUE;
        for (int s = 0; s < streams; s++) {
            if (!history.positioned(b, s)) {
                return own;
            }
            out = Math.min(
                    out,
                    strands[lineage][s].reachedFrom(lines.segments(lineage, s).toIndex(b), moment));
        }
        return Math.max(own, out);
    }

    @Override
    public boolean entered(int lineage) {
        return entered[lineage];
    }

    private boolean enters(int child, int parent, long at) {
        if (!opened(child, at) || !opened(parent, at)) {
            return false;
        }
        if (entered[parent] && forkReaches(child, at)) {
            return true;
        }
        int[] data = lines.dataByAge(parent);
        for (int o = usableByAge[parent].previous(data.length - 1); o >= 0; o = usableByAge[parent].previous(o - 1)) {
            if (carries(data[o], child, at) && !torn(data[o], at)) {
                return true;
            }
        }
        return false;
    }

    private boolean opened(int lineage, long at) {
        return lineages.isKnown(lineage) && lineages.openedAtMs(lineage) <= at;
    }

    @Override
    public boolean carries(int b, int child, long at) {
        int lineage = history.lineage(b);
        for (int s = 0; s < streams; s++) {
            long fork = lineages.fork(child, s);
            if (!history.positioned(b, s)
                    || history.to(b, s) > fork
                    || !reachesFork(lineage, s, lines.segments(lineage, s).toIndex(b), child, at)) {
                return false;
            }
        }
        return true;
    }

    @Override
    public boolean forkReaches(int child, long at) {
        int parent = lineages.parent(child);
        for (int s = 0; s < streams; s++) {
            long begin = lineages.fork(parent, s);
            if (begin < 0
                    || begin > lineages.fork(child, s)
                    || !reachesFork(parent, s, lines.segments(parent, s).boundaryOf(begin), child, at)) {
                return false;
            }
        }
        return true;
    }

    private boolean reachesFork(int lineage, int stream, int from, int child, long at) {
        int target = lines.segments(lineage, stream).boundaryOf(lineages.fork(child, stream));
        return strands[lineage][stream].extendsTo(from, target, at, lineages.openedAtMs(child));
    }

    @Override
    public long entryRestoresUpTo(int lineage, long moment) {
        long out = Long.MAX_VALUE;
        for (int s = 0; s < streams; s++) {
            int fork = lines.segments(lineage, s).boundaryOf(lineages.fork(lineage, s));
            out = Math.min(out, strands[lineage][s].reachedFrom(fork, moment));
        }
        return Math.max(lineages.openedAtMs(lineage), out);
    }
}
