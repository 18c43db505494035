package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.history.History;
import firth.core.history.Stretches;
import java.util.Arrays;
import java.util.function.IntPredicate;

/**
 * The copies available now, as runs: the copies in one store of logs that behave and follow each other, or one copy alone.
 * They are numbered from 0 on, run by run.
 */
final class CopyRuns {

    private final History history;
    private int[] row = new int[64];
    private int[] copy = new int[64];
    private int[] stride = new int[64];
    private int[] base = new int[65];
    private int count;
    /** What is noted of runs: from which number on, which reasons, and what was noted of the same run before, plus 1. */
    private int[] markFrom = new int[16];

    private int[] markReasons = new int[16];
    private int[] markBefore = new int[16];
    private int marks;
    /** By run: what was noted of it last, plus 1. */
    private int[] lastMark = {};
    /** The run looked at last, where the next look most likely goes; any value is right. */
    private int hint;

    CopyRuns(History history, Availability availability) {
        this.history = history;
        long now = availability.nowMs();
        Stretches stretches = history.stretches();
        stretches.eachLoose(i -> addLoose(i, availability));
        for (int s = 0; s < stretches.count(); s++) {
            addStretch(s, availability, now);
        }
    }

    private void addLoose(int i, Availability availability) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1) && availability.exists(i); c++) {
            if (availability.copyAvailableNow(c)) {
                add(i, c, 1, 1);
            }
        }
    }

    /** Copies of a stretch land in order and go in order, so that those available are a part of it. */
    private void addStretch(int s, Availability availability, long now) {
        int first = history.stretches().first(s);
        int copies = history.stretches().copies(s);
        int begun = Stretches.firstWhere(first, history.stretches().end(s), i -> !availability.exists(i));
        for (int n = 0; n < copies; n++) {
            int slot = history.firstCopy(first) + n;
            int high = Stretches.firstWhere(first, begun, i -> !availability.landed(slot + (i - first) * copies));
            int low = Stretches.firstWhere(first, high, i -> history.goneMs(slot + (i - first) * copies) > now);
            if (low < high) {
                add(low, slot + (low - first) * copies, copies, high - low);
            }
        }
    }

    private void add(int ofRow, int ofCopy, int copies, int length) {
        if (count == row.length) {
            row = Arrays.copyOf(row, 2 * count);
            copy = Arrays.copyOf(copy, 2 * count);
            stride = Arrays.copyOf(stride, 2 * count);
            base = Arrays.copyOf(base, 2 * count + 1);
        }
        row[count] = ofRow;
        copy[count] = ofCopy;
        stride[count] = copies;
        base[count + 1] = base[count] + length;
        count++;
    }

    /**
     * Notes reasons for the copies of a run from a number on.
     *
     * @param ofReasons as bits
     */
    void mark(int run, int from, int ofReasons) {
        if (marks == markFrom.length) {
            markFrom = Arrays.copyOf(markFrom, 2 * marks);
            markReasons = Arrays.copyOf(markReasons, 2 * marks);
            markBefore = Arrays.copyOf(markBefore, 2 * marks);
        }
        if (lastMark.length < count) {
            lastMark = new int[count];
        }
        markFrom[marks] = from;
        markReasons[marks] = ofReasons;
        markBefore[marks++] = lastMark[run];
        lastMark[run] = marks;
    }

    /** The reasons noted for the copy of a number by its run. */
    int marked(int n) {
        if (marks == 0) {
            return 0;
        }
        int out = 0;
        for (int m = lastMark[run(n)]; m > 0; m = markBefore[m - 1]) {
            out |= n >= markFrom[m - 1] ? markReasons[m - 1] : 0;
        }
        return out;
    }

    /** How many copies are available. */
    int size() {
        return base[count];
    }

    int runs() {
        return count;
    }

    /** The number of a run's first copy; that of the run after the last is {@link #size}. */
    int first(int run) {
        return base[run];
    }

    private int run(int n) {
        int at = hint;
        if (at < count && n >= base[at]) {
            if (n < base[at + 1]) {
                return at;
            }
            if (at + 1 < count && n < base[at + 2]) {
                hint = at + 1;
                return at + 1;
            }
        }
        int found = Arrays.binarySearch(base, 0, count, n);
        at = found >= 0 ? found : -found - 2;
        hint = at;
        return at;
    }

    /** The backup the copy of a number is of. */
    int backup(int n) {
        int r = run(n);
        return row[r] + n - base[r];
    }

    /** The copy of a number. */
    int copy(int n) {
        int r = run(n);
        return copy[r] + (n - base[r]) * stride[r];
    }

    /** The numbers from a run's first that passes a test on, which all after it in the run pass too. */
    int firstWhere(int run, IntPredicate test) {
        int last = base[run + 1] - 1;
        return test.test(last) ? Stretches.firstWhere(base[run], last, test) : last + 1;
    }
}
