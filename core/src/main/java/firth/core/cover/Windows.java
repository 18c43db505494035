package firth.core.cover;

import firth.core.time.Spans;
import java.util.HashMap;
import java.util.Map;

/**
 * When each backup is there under a hazard, as columns: mostly one stretch {@code [from, to)} each, which is empty where it
 * never is. The few that come and go more than once are kept aside.
 */
final class Windows {

    private final long[] from;
    private final long[] to;
    private final Map<Integer, Spans> several = new HashMap<>();

    Windows(int rows) {
        from = new long[rows];
        to = new long[rows];
    }

    void set(int row, long fromMs, long toMs) {
        from[row] = fromMs;
        to[row] = toMs;
    }

    void set(int row, Spans spans) {
        if (!spans.isEmpty()) {
            from[row] = spans.from(0);
            to[row] = spans.to(spans.count() - 1);
        }
        if (spans.count() > 1) {
            several.put(row, spans);
        }
    }

    /** Whether every backup comes and goes at most once. */
    boolean simple() {
        return several.isEmpty();
    }

    boolean isEmpty(int row) {
        return from[row] >= to[row];
    }

    /** When it comes first. */
    long fromMs(int row) {
        return from[row];
    }

    /** When it goes last; {@link Spans#FOREVER} where it does not. */
    long toMs(int row) {
        return to[row];
    }

    Spans spans(int row) {
        Spans own = several.get(row);
        return own == null ? Spans.of(from[row], to[row]) : own;
    }

    boolean contains(int row, long moment) {
        return from[row] <= moment
                && moment < to[row]
                && (several.isEmpty() || spans(row).contains(moment));
    }
}
