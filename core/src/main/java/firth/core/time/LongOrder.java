package firth.core.time;

import java.util.Arrays;
import java.util.function.IntToLongFunction;

/**
 * The stable ascending order of a column, as row numbers. Parts that are in order already are merged as they are, and of two
 * parts only what overlaps is touched.
 */
public final class LongOrder {

    private final long[] keys;
    private final int[] order;
    private int[] aside = new int[16];

    private LongOrder(long[] keys, int size) {
        this.keys = keys;
        this.order = new int[size];
        for (int i = 0; i < size; i++) {
            order[i] = i;
        }
    }

    /** Rows in the ascending order of a key, those of one key as they were. */
    public static int[] by(int[] rows, IntToLongFunction key) {
        long[] keys = new long[rows.length];
        for (int r = 0; r < rows.length; r++) {
            keys[r] = key.applyAsLong(rows[r]);
        }
        int[] order = of(keys, rows.length);
        int[] out = new int[rows.length];
        for (int r = 0; r < rows.length; r++) {
            out[r] = rows[order[r]];
        }
        return out;
    }

    public static int[] of(long[] keys, int size) {
        LongOrder sorting = new LongOrder(keys, size);
        sorting.merge();
        return sorting.order;
    }

    /** Merges neighbouring parts that ascend, two and two, until one is left. */
    private void merge() {
        int[] begins = new int[16];
        int parts = 0;
        for (int i = 0; i < order.length; i++) {
            if (i == 0 || keys[i - 1] > keys[i]) {
                begins = parts == begins.length ? Arrays.copyOf(begins, 2 * parts) : begins;
                begins[parts++] = i;
            }
        }
        while (parts > 1) {
            int merged = 0;
            for (int p = 0; p < parts; p += 2) {
                if (p + 1 < parts) {
                    merge(begins[p], begins[p + 1], p + 2 < parts ? begins[p + 2] : order.length);
                }
                begins[merged++] = begins[p];
            }
            parts = merged;
        }
    }

    /** Merges {@code [low, middle)} with {@code [middle, high)}, each in order. */
    private void merge(int low, int middle, int high) {
        int from = firstAfter(low, middle, keys[order[middle]]);
        int kept = middle - from;
        if (kept == 0) {
            return;
        }
        if (aside.length < kept) {
            aside = new int[Math.max(kept, 2 * aside.length)];
        }
        System.arraycopy(order, from, aside, 0, kept);
        int one = 0;
        int other = middle;
        int at = from;
        while (one < kept) {
            if (other == high || keys[aside[one]] <= keys[order[other]]) {
                order[at++] = aside[one++];
            } else {
                order[at++] = order[other++];
            }
        }
    }

    private int firstAfter(int from, int to, long key) {
        int low = from;
        int high = to;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (keys[order[middle]] > key) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        return low;
    }
}
