package firth.core.cover;

import firth.core.time.LongOrder;
import firth.core.time.Spans;
import java.util.Arrays;

/** What happens to the rows of a history, to be passed through in the order it happens. */
final class Events {

    /** What begins or ends. */
    enum Turn {
        /** A backup is there, or usable. */
        WHOLE,
        /** A part of a streamed log is there. */
        PART,
        /** A part of a log that another lineage lends is there; the row is its number among the guests. */
        LENT,
        /** Something is to be judged anew; the row is a lineage. */
        LOOK
    }

    private static final Turn[] WHAT = Turn.values();

    private long[] at;
    private int[] code;
    private int size;

    Events(int rows) {
        at = new long[2 * rows + 2];
        code = new int[2 * rows + 2];
    }

    /** Takes when a row is there, from {@code notBefore} on. */
    void add(Turn what, int row, Spans spans, long notBefore) {
        for (int s = 0; s < spans.count(); s++) {
            long from = Math.max(spans.from(s), notBefore);
            if (from < spans.to(s)) {
                add(from, what, row, true);
                if (spans.to(s) != Spans.FOREVER) {
                    add(spans.to(s), what, row, false);
                }
            }
        }
    }

    void look(long moment, int lineage) {
        add(moment, Turn.LOOK, lineage, true);
    }

    private void add(long moment, Turn what, int row, boolean begins) {
        if (size == at.length) {
            at = Arrays.copyOf(at, 2 * size);
            code = Arrays.copyOf(code, 2 * size);
        }
        at[size] = moment;
        code[size++] = row << 3 | what.ordinal() << 1 | (begins ? 1 : 0);
    }

    int[] inOrder() {
        return LongOrder.of(at, size);
    }

    long at(int event) {
        return at[event];
    }

    Turn what(int event) {
        return WHAT[code[event] >>> 1 & 3];
    }

    int row(int event) {
        return code[event] >>> 3;
    }

    boolean begins(int event) {
        return (code[event] & 1) == 1;
    }
}
