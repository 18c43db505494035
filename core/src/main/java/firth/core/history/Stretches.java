package firth.core.history;

import java.util.Arrays;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;

/**
 * The stretches of rows that behave: logs of one lineage and stream that follow each other without a hole, reach ever later,
 * and whose copies lie in the same stores, land and go in order, are not spoiled, are locked all or none, and hand over without a
 * break. Of such a stretch most questions are answered by looking at its ends, or by halving. Every other row is loose.
 */
public final class Stretches {

    /** Shorter ones gain nothing. */
    private static final int LEAST = 4;

    private final History history;
    private int[] first = new int[16];
    private int[] end = new int[16];
    /** Loose rows before each stretch. */
    private int[] looseBefore = new int[16];

    /** Most copies of a log for which it is noted which lands before which. */
    private static final int NOTED = 8;

    /** Whether some copy of each stretch's logs landed before the time it reaches. */
    private boolean[] ahead = new boolean[16];
    /** Whether each stretch's logs land one after another, in every store, and each reaches beyond the one before. */
    private boolean[] strict = new boolean[16];
    /** The longest time between two logs' landings in one store, by stretch. */
    private long[] longestPause = new long[16];
    /** Bit {@code a * NOTED + b} is set where copy a of no log landed after copy b. */
    private long[] notAfter = new long[16];

    /** By stretch and copy, once asked for; whoever asks first works it out, and two who do find the same. */
    private final Known[][] ages;

    /** Parts that any thread may see as soon as it sees this. */
    @SuppressWarnings("ArrayRecordComponent")
    private record Known(LandingAges[] parts) {}

    private int count;
    private final int loose;

    Stretches(History history) {
        this.history = history;
        int size = history.size();
        int covered = 0;
        for (int begin = 0; begin < size; ) {
            int after = begin + 1;
            if (isSound(begin)) {
                while (after < size && follows(after)) {
                    after++;
                }
                if (after - begin >= LEAST) {
                    add(begin, after, begin - covered);
                    covered += after - begin;
                }
            }
            begin = after;
        }
        loose = size - covered;
        ages = new Known[count][];
        Arrays.setAll(ages, s -> new Known[copies(s)]);
    }

    /**
     * The ages while the logs of a stretch landed one after another in one store, in parts that follow each other; none where
     * they did not.
     *
     * @param copy its number among a log's
     */
    public LandingAges[] ages(int stretch, int copy) {
        Known known = ages[stretch][copy];
        if (known == null) {
            known = new Known(
                    strict[stretch]
                            ? LandingAges.of(history, first[stretch], end[stretch], copies(stretch), copy)
                            : new LandingAges[0]);
            ages[stretch][copy] = known;
        }
        return known.parts;
    }

    private void add(int begin, int after, int looseSoFar) {
        if (count == first.length) {
            first = Arrays.copyOf(first, 2 * count);
            end = Arrays.copyOf(end, 2 * count);
            looseBefore = Arrays.copyOf(looseBefore, 2 * count);
            ahead = Arrays.copyOf(ahead, 2 * count);
            strict = Arrays.copyOf(strict, 2 * count);
            longestPause = Arrays.copyOf(longestPause, 2 * count);
            notAfter = Arrays.copyOf(notAfter, 2 * count);
        }
        first[count] = begin;
        end[count] = after;
        looseBefore[count] = looseSoFar;
        describe(count++);
    }

    private void describe(int s) {
        int copies = copies(s);
        boolean isStrict = true;
        boolean isAhead = false;
        long pause = 0;
        long early = copies <= NOTED ? -1 : 0;
        for (int i = first[s]; i < end[s]; i++) {
            int c = history.firstCopy(i);
            long reached = history.toTimeMs(i);
            isStrict &= i == first[s] || reached > history.toTimeMs(i - 1);
            for (int a = 0; a < copies; a++) {
                long landed = history.landedMs(c + a);
                isAhead |= reached > landed;
                long since = i == first[s] ? 1 : landed - history.landedMs(c + a - copies);
                isStrict &= since > 0;
                pause = Math.max(pause, since);
                for (int b = 0; b < copies && early != 0; b++) {
                    early &= landed > history.landedMs(c + b) ? ~(1L << a * NOTED + b) : -1;
                }
            }
        }
        ahead[s] = isAhead;
        strict[s] = isStrict;
        longestPause[s] = pause;
        notAfter[s] = early;
    }

    /** Whether some copy of a stretch's logs landed before the time the log reaches. */
    public boolean reachesAhead(int stretch) {
        return ahead[stretch];
    }

    /** The longest time between the landings of two logs of a stretch that follow each other, in any one store; milliseconds. */
    public long longestPauseMs(int stretch) {
        return longestPause[stretch];
    }

    /**
     * Which of some copies of each log lands first in a stretch whose logs land one after another and reach ever later; -1 where
     * it is not so, or not the same copy for all.
     *
     * @param copies by their number among a log's
     */
    public int firstToLand(int stretch, int[] copies) {
        for (int a : copies) {
            boolean least = strict[stretch] && a < NOTED;
            for (int b : copies) {
                least = least && (notAfter[stretch] >>> a * NOTED + b & 1) == 1;
            }
            if (least) {
                return a;
            }
        }
        return -1;
    }

    /** Whether a row is a log that could begin a stretch. */
    private boolean isSound(int i) {
        return history.stream(i) >= 0
                && !history.streamed(i)
                && history.logFrom(i) <= history.logTo(i)
                && history.firstCopy(i) < history.firstCopy(i + 1)
                && copiesAreSound(history.firstCopy(i), history.firstCopy(i + 1));
    }

    /** Whether each copy is there for a while, and any two hand over without a break, under lock too. */
    private boolean copiesAreSound(int from, int to) {
        for (int a = from; a < to; a++) {
            if (history.foundMs(a) != History.NEVER) {
                return false;
            }
            long leaves = lastsUntil(a);
            for (int b = from; b < to; b++) {
                if (leaves < history.landedMs(b) + (a == b ? 1 : 0)) {
                    return false;
                }
            }
        }
        return true;
    }

    /** When a copy goes, or its lock ends where it has one and that is sooner. */
    private long lastsUntil(int copy) {
        long lock = history.lockedUntilMs(copy);
        return lock == History.ALWAYS ? history.goneMs(copy) : Math.min(history.goneMs(copy), lock);
    }

    /** Whether a row goes on with the stretch that the row before belongs to. */
    private boolean follows(int i) {
        int before = i - 1;
        if (history.logFrom(i) != history.logTo(before)
                || history.stream(i) != history.stream(before)
                || history.lineage(i) != history.lineage(before)
                || history.logTo(i) < history.logFrom(i)
                || history.toTimeMs(i) < history.toTimeMs(before)
                || history.fromTimeMs(i) < history.fromTimeMs(before)
                || history.startedMs(i) < history.startedMs(before)
                || history.streamed(i)) {
            return false;
        }
        int copies = history.firstCopy(i) - history.firstCopy(before);
        if (history.firstCopy(i + 1) - history.firstCopy(i) != copies) {
            return false;
        }
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (!copyFollows(c - copies, c)) {
                return false;
            }
        }
        return copiesAreSound(history.firstCopy(i), history.firstCopy(i + 1));
    }

    private boolean copyFollows(int before, int copy) {
        return history.storeIndex(before) == history.storeIndex(copy)
                && history.landedMs(before) <= history.landedMs(copy)
                && history.goneMs(before) <= history.goneMs(copy)
                && history.lockedUntilMs(before) <= history.lockedUntilMs(copy)
                && (history.lockedUntilMs(before) == History.ALWAYS) == (history.lockedUntilMs(copy) == History.ALWAYS);
    }

    public int count() {
        return count;
    }

    /** The first row of a stretch. */
    public int first(int stretch) {
        return first[stretch];
    }

    /** The row after the last of a stretch. */
    public int end(int stretch) {
        return end[stretch];
    }

    /** How many copies each log of a stretch has. */
    public int copies(int stretch) {
        return history.firstCopy(first[stretch] + 1) - history.firstCopy(first[stretch]);
    }

    /** The stretch a row belongs to, -1 where it is loose. */
    public int of(int row) {
        int at = lastFrom(row);
        return at >= 0 && row < end[at] ? at : -1;
    }

    private int lastFrom(int row) {
        int at = Arrays.binarySearch(first, 0, count, row);
        return at >= 0 ? at : -at - 2;
    }

    /** How many rows are loose. */
    public int looseRows() {
        return loose;
    }

    /** The number of a loose row among the loose. */
    public int looseNumber(int row) {
        int at = lastFrom(row);
        return at < 0 ? row : looseBefore[at] + row - end[at];
    }

    /** Calls with every loose row, ascending. */
    public void eachLoose(IntConsumer action) {
        int row = 0;
        for (int s = 0; s <= count; s++) {
            for (int until = s < count ? first[s] : history.size(); row < until; row++) {
                action.accept(row);
            }
            row = s < count ? end[s] : row;
        }
    }

    /** The first number in {@code [from, to)} that passes a test which, once passed, all later ones pass; else {@code to}. */
    public static int firstWhere(int from, int to, IntPredicate test) {
        int low = from;
        int high = to;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (test.test(middle)) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        return low;
    }
}
