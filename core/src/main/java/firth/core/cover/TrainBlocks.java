package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import java.util.Arrays;
import java.util.Optional;

/**
 * The logs of one line that are ever there under a hazard, numbered by place in the order of their positions, and which of them
 * go as one train: logs that hang together, come in order, go in order and reach in order. Places are kept as blocks of rows.
 */
final class TrainBlocks {

    /** More trains than this and one for every so many logs, and there is nothing to gain. */
    private static final int FEW = 64;

    private static final int LOGS_A_TRAIN = 8;

    private final History history;
    private final Windows windows;
    private int[] row = new int[16];
    private int[] base = new int[16];
    /** The stretch a block's rows belong to, -1 where it is a loose log. */
    private int[] stretch = new int[16];

    private int[] train = new int[16];
    private int blocks;
    private int places;
    private int[] trainBase = new int[16];
    /** By train: the first place after which its logs cover nothing more. */
    @SuppressWarnings("NullAway.Init")
    private int[] tail;

    private int trains;
    /** The block looked at last, where the next look most likely goes; any is right. */
    private int hint;

    private TrainBlocks(History history, Windows windows) {
        this.history = history;
        this.windows = windows;
    }

    /** The logs of a line; empty where they overlap, or make too many trains. */
    static Optional<TrainBlocks> of(History history, PositionLine line, Windows windows) {
        TrainBlocks out = new TrainBlocks(history, windows);
        Stretches stretches = history.stretches();
        for (int b = 0; b < line.blocks(); b++) {
            int s = stretches.of(line.first(b));
            int end = s < 0 ? line.end(b) : Math.min(line.end(b), windows.end(s));
            if (line.first(b) < end && (s >= 0 || !windows.isEmpty(line.first(b)))) {
                if (!out.add(s, line.first(b), end)) {
                    return Optional.empty();
                }
            }
        }
        out.close();
        return out.trains > FEW + out.places / LOGS_A_TRAIN ? Optional.empty() : Optional.of(out);
    }

    /** Whether the block begins no earlier than the one before ends. */
    private boolean add(int ofStretch, int first, int end) {
        if (blocks > 0 && history.logFrom(first) < history.logTo(row(places - 1))) {
            return false;
        }
        if (blocks + 1 >= row.length) {
            row = Arrays.copyOf(row, 2 * row.length);
            base = Arrays.copyOf(base, row.length);
            stretch = Arrays.copyOf(stretch, row.length);
            train = Arrays.copyOf(train, row.length);
            trainBase = Arrays.copyOf(trainBase, row.length);
        }
        if (blocks == 0 || !follows(row(places - 1), first)) {
            trainBase[trains++] = places;
        }
        row[blocks] = first;
        base[blocks] = places;
        stretch[blocks] = ofStretch;
        train[blocks] = trains - 1;
        blocks++;
        places += end - first;
        base[blocks] = places;
        return true;
    }

    private void close() {
        trainBase[trains] = places;
        tail = new int[trains];
        for (int t = 0; t < trains; t++) {
            tail[t] = Math.max(first(t), firstEndingAt(to(end(t) - 1)));
        }
    }

    private boolean follows(int one, int other) {
        return history.logTo(one) == history.logFrom(other)
                && windows.fromMs(one) <= windows.fromMs(other)
                && windows.toMs(one) <= windows.toMs(other)
                && history.toTimeMs(one) <= history.toTimeMs(other);
    }

    int places() {
        return places;
    }

    int trains() {
        return trains;
    }

    /** The first place of a train. */
    int first(int train) {
        return trainBase[train];
    }

    /** The place after a train's last. */
    int end(int train) {
        return trainBase[train + 1];
    }

    /**
     * The first place of a train from which on, once it is there, the way may lead on into another: its last that covers something;
     * logs in which nothing happened, which follow it at the same position, are not waited for.
     */
    int tail(int train) {
        return tail[train];
    }

    private int block(int place) {
        int at = hint;
        if (place < base[at] || place >= base[at + 1]) {
            int found = Arrays.binarySearch(base, 0, blocks, place);
            at = found >= 0 ? found : -found - 2;
            hint = at;
        }
        return at;
    }

    int train(int place) {
        return train[block(place)];
    }

    int row(int place) {
        int b = block(place);
        return row[b] + place - base[b];
    }

    long from(int place) {
        return history.logFrom(row(place));
    }

    long to(int place) {
        return history.logTo(row(place));
    }

    long reaches(int place) {
        return history.toTimeMs(row(place));
    }

    /** When a log is there first. */
    long comes(int place) {
        int b = block(place);
        int r = row[b] + place - base[b];
        return stretch[b] < 0 ? windows.fromMs(r) : windows.comes(stretch[b], r);
    }

    /** When a log is no longer there. */
    long goes(int place) {
        int b = block(place);
        int r = row[b] + place - base[b];
        return stretch[b] < 0 ? windows.toMs(r) : windows.goes(stretch[b], r);
    }

    /** The first place whose log ends at a position or beyond. */
    int firstEndingAt(long position) {
        int b = Stretches.firstWhere(0, blocks, n -> history.logTo(row[n] + base[n + 1] - base[n] - 1) >= position);
        return b == blocks
                ? places
                : base[b]
                        + Stretches.firstWhere(
                                row[b], row[b] + base[b + 1] - base[b], r -> history.logTo(r) >= position)
                        - row[b];
    }

    /**
     * Notes that logs of a train land one after another while nothing else happens: from a place on, at most up to another
     * and before a moment. Those that land at one moment are one step.
     *
     * @param latest what could be restored before
     * @return the first place that was not passed
     */
    int land(int from, int to, long before, long inService, long latest, RecoveryTimeline timeline) {
        int place = from;
        long best = latest;
        while (place < to) {
            int b = block(place);
            int end = Math.min(to, base[b + 1]);
            int leading = stretch[b] < 0 ? -1 : windows.leading(stretch[b]);
            int r0 = row[b] + place - base[b];
            if (leading >= 0 && comes(place) >= inService && history.toTimeMs(r0) > Math.max(best, inService - 1)) {
                int copy = history.firstCopy(r0) + leading;
                int copies = history.firstCopy(r0 + 1) - history.firstCopy(r0);
                int last = Stretches.firstWhere(
                        r0, r0 + end - place, r -> history.landedMs(copy + (r - r0) * copies) >= before);
                timeline.addLandings(r0, copy, copies, last - r0);
                place += last - r0;
                if (place < end) {
                    return place;
                }
                best = history.toTimeMs(last - 1);
                continue;
            }
            for (; place < end; place++) {
                int r = row[b] + place - base[b];
                long at = stretch[b] < 0 ? windows.fromMs(r) : windows.comes(stretch[b], r);
                if (at >= before) {
                    return place;
                }
                best = Math.max(best, history.toTimeMs(r));
                timeline.add(at, at < inService || best < inService ? Standing.NOTHING : best, r);
                if (leading >= 0 && place + 1 < end && history.toTimeMs(r) >= best) {
                    place++;
                    break;
                }
            }
        }
        return place;
    }
}
