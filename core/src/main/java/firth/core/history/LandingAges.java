package firth.core.history;

import firth.core.time.Buckets;
import java.util.Arrays;

/**
 * What the age of the recovery point was while logs that follow each other in a stretch landed in one store, each from its
 * own landing until the next: worked out once, as it depends on nothing but the columns. Milliseconds
 * (docs/semantics.md, "Recovery point, age, achieved RPO").
 *
 * <p>The ages at which the logs' times begin and end are counted, each age by itself where there are few different ones, else
 * those of a bucket ({@link Buckets}) together.
 */
public final class LandingAges {

    /** The most logs that are taken together. */
    public static final int ROOM = 256;

    /** With more different ages than this they are counted by buckets. */
    private static final int DIFFERENT = 128;

    private final int first;
    private final int end;
    private final double area;
    private final long most;
    private final boolean exact;
    private final short[] bucket;
    private final int[] pace;
    private final long[] sum;

    private LandingAges(int first, int end, double area, long most, boolean exact, Tally tally) {
        this.first = first;
        this.end = end;
        this.area = area;
        this.most = most;
        this.exact = exact;
        int[] slots = tally.used(exact);
        bucket = new short[slots.length];
        pace = new int[slots.length];
        sum = new long[slots.length];
        for (int i = 0; i < slots.length; i++) {
            long key = tally.key[slots[i]];
            bucket[i] = (short) (exact ? Buckets.of(key) : key);
            pace[i] = tally.pace[slots[i]];
            sum[i] = exact ? key : tally.sum[slots[i]];
        }
    }

    /** Of all logs of a stretch but its last, in store number {@code copy} of each. */
    static LandingAges[] of(History history, int first, int end, int copies, int copy) {
        LandingAges[] out = new LandingAges[(end - first - 2) / ROOM + 1];
        long[] landed = new long[ROOM + 1];
        long[] reached = new long[ROOM + 1];
        for (int b = 0; b < out.length; b++) {
            int begin = first + b * ROOM;
            int after = Math.min(begin + ROOM, end - 1);
            history.readLandings(begin, history.firstCopy(begin) + copy, copies, after - begin + 1, landed, reached, 0);
            out[b] = of(begin, after, landed, reached);
        }
        return out;
    }

    private static LandingAges of(int begin, int after, long[] landed, long[] reached) {
        double twice = 0;
        long most = 0;
        for (int i = 0; i < after - begin; i++) {
            long youngest = landed[i] - reached[i];
            long oldest = landed[i + 1] - reached[i];
            twice += (double) (youngest + oldest) * (oldest - youngest);
            most = Math.max(most, oldest);
        }
        Tally tally = new Tally();
        boolean exact = true;
        for (int i = 0; i < after - begin && exact; i++) {
            long youngest = landed[i] - reached[i];
            long oldest = landed[i + 1] - reached[i];
            exact = tally.add(youngest, 1, 0) && tally.add(oldest, -1, 0);
        }
        if (!exact) {
            tally = new Tally();
            for (int i = 0; i < after - begin; i++) {
                long youngest = landed[i] - reached[i];
                long oldest = landed[i + 1] - reached[i];
                tally.add(Buckets.of(youngest), 1, youngest);
                tally.add(Buckets.of(oldest), -1, -oldest);
            }
        }
        return new LandingAges(begin, after, twice / 2, most, exact, tally);
    }

    /** The first log. */
    public int first() {
        return first;
    }

    /** The log after the last, whose landing ends the last one's time. */
    public int end() {
        return end;
    }

    /** The ages added up over the time they lasted, in square milliseconds. */
    public double area() {
        return area;
    }

    /** The greatest age. */
    public long mostMs() {
        return most;
    }

    /** Whether each age is counted by itself. */
    public boolean exact() {
        return exact;
    }

    /** How many ages, or buckets, are counted. */
    public int count() {
        return bucket.length;
    }

    /** The bucket of an age that is counted. */
    public int bucket(int i) {
        return bucket[i];
    }

    /** Whether an age of a bucket is counted. */
    public boolean touches(int ofBucket) {
        boolean any = false;
        for (short one : bucket) {
            any |= one == ofBucket;
        }
        return any;
    }

    /** An age that is counted by itself. */
    public long ageMs(int i) {
        return sum[i];
    }

    /** How many logs' times begin at an age or in a bucket, less those that end there. */
    public int pace(int i) {
        return pace[i];
    }

    /** The ages at which logs' times begin, less those at which they end, in one place. */
    public long sumMs(int i) {
        return exact ? pace[i] * sum[i] : sum[i];
    }

    /** Counts by age, or bucket. */
    private static final class Tally {
        /** There are at most 64 << 5 buckets, and as many changes in a part. */
        private static final int SLOTS = 4 * ROOM;

        private final long[] key = new long[SLOTS];
        private final int[] pace = new int[SLOTS];
        private final long[] sum = new long[SLOTS];
        private final boolean[] taken = new boolean[SLOTS];
        private int different;

        /** Whether there are few different ones still. */
        boolean add(long ownKey, int by, long bySum) {
            int slot = (int) (ownKey * 0x9E3779B97F4A7C15L >>> Long.numberOfLeadingZeros(SLOTS - 1));
            while (taken[slot] && key[slot] != ownKey) {
                slot = (slot + 1) % SLOTS;
            }
            if (!taken[slot]) {
                taken[slot] = true;
                key[slot] = ownKey;
                different++;
            }
            pace[slot] += by;
            sum[slot] += bySum;
            return different <= DIFFERENT;
        }

        /** All that were counted, or those alone where as many do not begin as end. */
        int[] used(boolean onBalance) {
            int[] out = new int[different];
            int n = 0;
            for (int s = 0; s < SLOTS; s++) {
                if (onBalance ? pace[s] != 0 : taken[s]) {
                    out[n++] = s;
                }
            }
            return Arrays.copyOf(out, n);
        }
    }
}
