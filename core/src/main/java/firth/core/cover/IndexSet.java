package firth.core.cover;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * A set of small numbers that finds the next and the previous member in a few steps however large and sparse it is:
 * a bit per number, and above it a bit per word that has any, and so on up to a single word.
 */
final class IndexSet {

    private final long[][] levels;

    IndexSet(int capacity) {
        List<long[]> built = new ArrayList<>();
        int words = Math.max(1, (capacity + 63) >>> 6);
        built.add(new long[words]);
        while (words > 1) {
            words = (words + 63) >>> 6;
            built.add(new long[words]);
        }
        levels = built.toArray(long[][]::new);
    }

    /** All numbers below {@code capacity}. */
    static IndexSet full(int capacity) {
        IndexSet out = new IndexSet(capacity);
        int left = capacity;
        for (long[] level : out.levels) {
            Arrays.fill(level, 0, left >>> 6, -1L);
            if ((left & 63) != 0) {
                level[left >>> 6] = (1L << (left & 63)) - 1;
            }
            left = (left + 63) >>> 6;
        }
        return out;
    }

    void add(int i) {
        int at = i;
        for (long[] level : levels) {
            boolean wasEmpty = level[at >>> 6] == 0;
            level[at >>> 6] |= 1L << at;
            if (!wasEmpty) {
                return;
            }
            at >>>= 6;
        }
    }

    void remove(int i) {
        int at = i;
        for (long[] level : levels) {
            level[at >>> 6] &= ~(1L << at);
            if (level[at >>> 6] != 0) {
                return;
            }
            at >>>= 6;
        }
    }

    /** The least member at or above {@code i}, or -1. */
    int next(int i) {
        int at = i;
        for (int l = 0; l < levels.length; l++) {
            if (at >>> 6 >= levels[l].length) {
                return -1;
            }
            long word = levels[l][at >>> 6] & -1L << at;
            if (word != 0) {
                int found = (at & ~63) + Long.numberOfTrailingZeros(word);
                for (int d = l - 1; d >= 0; d--) {
                    found = (found << 6) + Long.numberOfTrailingZeros(levels[d][found]);
                }
                return found;
            }
            at = (at >>> 6) + 1;
        }
        return -1;
    }

    /** The greatest member at or below {@code i}, or -1. */
    int previous(int i) {
        int at = i;
        for (int l = 0; l < levels.length && at >= 0; l++) {
            long word = levels[l][at >>> 6] & -1L >>> (63 - (at & 63));
            if (word != 0) {
                int found = (at & ~63) + 63 - Long.numberOfLeadingZeros(word);
                for (int d = l - 1; d >= 0; d--) {
                    found = (found << 6) + 63 - Long.numberOfLeadingZeros(levels[d][found]);
                }
                return found;
            }
            at = (at >>> 6) - 1;
        }
        return -1;
    }
}
