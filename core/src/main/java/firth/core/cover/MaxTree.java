package firth.core.cover;

import java.util.Arrays;

/** Values by index of which the greatest is always at hand; {@link #NONE} where there is no value. */
final class MaxTree {

    static final long NONE = Long.MIN_VALUE;

    private final int leaves;
    private final long[] nodes;

    MaxTree(int size) {
        leaves = Math.max(1, Integer.highestOneBit(Math.max(1, size - 1)) * 2);
        nodes = new long[2 * leaves];
        Arrays.fill(nodes, NONE);
    }

    boolean has(int index) {
        return nodes[leaves + index] != NONE;
    }

    void set(int index, long value) {
        int node = leaves + index;
        if (nodes[node] == value) {
            return;
        }
        nodes[node] = value;
        while (node > 1) {
            node >>= 1;
            long max = Math.max(nodes[2 * node], nodes[2 * node + 1]);
            if (nodes[node] == max) {
                return;
            }
            nodes[node] = max;
        }
    }

    long max() {
        return nodes[1];
    }
}
