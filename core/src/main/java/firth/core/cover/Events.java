package firth.core.cover;

import firth.core.time.Spans;
import java.util.Arrays;

/** Beginnings and ends of the use of rows, to be passed through in the order they happened. */
final class Events {

    private long[] at;
    private int[] what;
    private int size;

    Events(int rows) {
        at = new long[2 * rows + 2];
        what = new int[2 * rows + 2];
    }

    /** Takes when a row is in use, from {@code notBefore} on. */
    void add(int row, Spans spans, long notBefore) {
        for (int s = 0; s < spans.count(); s++) {
            long from = Math.max(spans.from(s), notBefore);
            if (from < spans.to(s)) {
                add(from, row << 1 | 1);
                if (spans.to(s) != Spans.FOREVER) {
                    add(spans.to(s), row << 1);
                }
            }
        }
    }

    private void add(long moment, int code) {
        if (size == at.length) {
            at = Arrays.copyOf(at, 2 * size);
            what = Arrays.copyOf(what, 2 * size);
        }
        at[size] = moment;
        what[size++] = code;
    }

    int[] inOrder() {
        return LongOrder.of(at, size);
    }

    long at(int event) {
        return at[event];
    }

    int row(int event) {
        return what[event] >>> 1;
    }

    boolean begins(int event) {
        return (what[event] & 1) == 1;
    }
}
