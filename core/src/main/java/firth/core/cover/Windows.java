package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.time.Spans;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;

/**
 * When each backup is there under a hazard: mostly one stretch of time {@code [from, to)} each, which is empty where it never
 * is. Of logs that behave it is read off their copies when asked for; the others are columns, and the few that come and go
 * more than once are kept aside.
 */
final class Windows {

    private final History history;
    private final Stretches stretches;
    private final boolean locked;
    /** By stretch: which of its logs' copies count, and the row after the last that had come. */
    private final int[][] counting;

    private final int[] end;
    /** By stretch: the copy of each log that lands first, -1 where it is not the same for all. */
    private final int[] leading;

    private final long[] from;
    private final long[] to;
    private final Map<Integer, Spans> several = new HashMap<>();

    /** @param locked whether copies are there only while they are locked */
    Windows(History history, boolean locked) {
        this.history = history;
        this.stretches = history.stretches();
        this.locked = locked;
        counting = new int[stretches.count()][];
        end = new int[stretches.count()];
        leading = new int[stretches.count()];
        from = new long[stretches.looseRows()];
        to = new long[stretches.looseRows()];
    }

    /** Says which of each log's copies count in a stretch, by their number among them, and what had come by now. */
    void set(int stretch, int[] copies, long now) {
        counting[stretch] = copies;
        leading[stretch] = stretches.firstToLand(stretch, copies);
        end[stretch] = copies.length == 0
                ? stretches.first(stretch)
                : Stretches.firstWhere(
                        stretches.first(stretch), stretches.end(stretch), row -> comes(stretch, row) > now);
    }

    void set(int looseRow, long fromMs, long toMs) {
        int n = stretches.looseNumber(looseRow);
        from[n] = fromMs;
        to[n] = toMs;
    }

    void set(int looseRow, Spans spans) {
        if (!spans.isEmpty()) {
            set(looseRow, spans.from(0), spans.to(spans.count() - 1));
        }
        if (spans.count() > 1) {
            several.put(looseRow, spans);
        }
    }

    /** When a log of a stretch is there first. */
    long comes(int stretch, int row) {
        int c = history.firstCopy(row);
        if (leading[stretch] >= 0) {
            return history.landedMs(c + leading[stretch]);
        }
        long least = Long.MAX_VALUE;
        for (int copy : counting[stretch]) {
            least = Math.min(least, history.landedMs(c + copy));
        }
        return least;
    }

    /**
     * The copy of each log of a stretch that lands first, by its number among them, where its logs land one after another and
     * reach ever later; -1 where not.
     */
    int leading(int stretch) {
        return leading[stretch];
    }

    /** When a log of a stretch is no longer there; later than now means not yet. */
    long goes(int stretch, int row) {
        int c = history.firstCopy(row);
        long last = Long.MIN_VALUE;
        for (int copy : counting[stretch]) {
            long until = history.goneMs(c + copy);
            last = Math.max(last, locked ? Math.min(until, history.lockedUntilMs(c + copy)) : until);
        }
        return last;
    }

    /** The row after the last of a stretch that had come by now. */
    int end(int stretch) {
        return end[stretch];
    }

    /**
     * Whether up to now each backup was there when it was by the other. May say no where that would take a look at every log.
     *
     * @param other windows over the same history
     */
    boolean sameAs(Windows other, long now) {
        if (!simple() || !other.simple()) {
            return false;
        }
        for (int s = 0; s < counting.length; s++) {
            boolean none = end[s] == stretches.first(s);
            if (end[s] != other.end[s]
                    || !none
                            && (!Arrays.equals(counting[s], other.counting[s]) || lost(s, now) || other.lost(s, now))) {
                return false;
            }
        }
        for (int n = 0; n < from.length; n++) {
            boolean none = from[n] >= to[n];
            if (none != other.from[n] >= other.to[n]
                    || !none
                            && (from[n] != other.from[n]
                                    || Math.min(to[n], now + 1) != Math.min(other.to[n], now + 1))) {
                return false;
            }
        }
        return true;
    }

    /** Whether a log of a stretch is gone by now. */
    private boolean lost(int stretch, long now) {
        return goes(stretch, stretches.first(stretch)) <= now;
    }

    /** Whether every backup comes and goes at most once. */
    boolean simple() {
        return several.isEmpty();
    }

    boolean isEmpty(int row) {
        int stretch = stretches.of(row);
        if (stretch >= 0) {
            return row >= end[stretch];
        }
        int n = stretches.looseNumber(row);
        return from[n] >= to[n];
    }

    /** When it comes first. */
    long fromMs(int row) {
        int stretch = stretches.of(row);
        return stretch >= 0 ? row < end[stretch] ? comes(stretch, row) : 0 : from[stretches.looseNumber(row)];
    }

    /** When it goes last; {@link Spans#FOREVER} where it does not. */
    long toMs(int row) {
        int stretch = stretches.of(row);
        return stretch >= 0 ? row < end[stretch] ? goes(stretch, row) : 0 : to[stretches.looseNumber(row)];
    }

    Spans spans(int row) {
        Spans own = several.get(row);
        return own == null ? Spans.of(fromMs(row), toMs(row)) : own;
    }

    boolean contains(int row, long moment) {
        return fromMs(row) <= moment
                && moment < toMs(row)
                && (several.isEmpty() || spans(row).contains(moment));
    }
}
