package firth.core.time;

import java.util.function.IntToLongFunction;

/** The stable ascending order of a column, as row numbers; linear where the column is in order already. */
public final class LongOrder {

    private LongOrder() {}

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
        int[] order = new int[size];
        boolean sorted = true;
        for (int i = 0; i < size; i++) {
            order[i] = i;
            sorted &= i == 0 || keys[i - 1] <= keys[i];
        }
        if (sorted) {
            return order;
        }
        int[] from = order;
        int[] into = new int[size];
        for (int width = 1; width < size; width *= 2) {
            for (int low = 0; low < size; low += 2 * width) {
                merge(keys, from, into, low, Math.min(low + width, size), Math.min(low + 2 * width, size));
            }
            int[] swap = from;
            from = into;
            into = swap;
        }
        return from;
    }

    private static void merge(long[] keys, int[] from, int[] into, int low, int middle, int high) {
        if (middle >= high || keys[from[middle - 1]] <= keys[from[middle]]) {
            System.arraycopy(from, low, into, low, high - low);
            return;
        }
        int i = low;
        int j = middle;
        for (int k = low; k < high; k++) {
            into[k] = j >= high || i < middle && keys[from[i]] <= keys[from[j]] ? from[i++] : from[j++];
        }
    }
}
