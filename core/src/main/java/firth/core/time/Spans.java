package firth.core.time;

import java.util.Arrays;

/**
 * A set of moments in milliseconds since the epoch, kept as disjoint half-open stretches {@code [from, to)} in
 * ascending order; stretches that touch are one. Immutable.
 */
public final class Spans {

    /** Stands for "never ends"; later than any moment Firth accepts. */
    public static final long FOREVER = Long.MAX_VALUE;

    public static final Spans NONE = new Spans(new long[0]);

    private final long[] bounds;

    private Spans(long[] bounds) {
        this.bounds = bounds;
    }

    public static Spans of(long from, long to) {
        return from < to ? new Spans(new long[] {from, to}) : NONE;
    }

    public int count() {
        return bounds.length / 2;
    }

    public boolean isEmpty() {
        return bounds.length == 0;
    }

    public long from(int index) {
        return bounds[2 * index];
    }

    public long to(int index) {
        return bounds[2 * index + 1];
    }

    public boolean contains(long moment) {
        int at = Arrays.binarySearch(bounds, moment);
        return at >= 0 ? at % 2 == 0 : -at - 1 < bounds.length && (-at - 1) % 2 == 1;
    }

    /** The first stretch that ends after a moment; {@link #count} where none does. */
    public int firstEndingAfter(long moment) {
        int low = 0;
        int high = count();
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (to(middle) > moment) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        return low;
    }

    public Spans and(Spans other) {
        return sweep(other, 2);
    }

    /** The moments that are in this set and not in the other. */
    public Spans without(Spans other) {
        return other.isEmpty() ? this : and(other.complement());
    }

    private Spans complement() {
        boolean begins = bounds[0] == Long.MIN_VALUE;
        boolean ends = bounds[bounds.length - 1] == FOREVER;
        long[] out = new long[bounds.length + 2 - (begins ? 2 : 0) - (ends ? 2 : 0)];
        int size = 0;
        if (!begins) {
            out[size++] = Long.MIN_VALUE;
        }
        for (int i = begins ? 1 : 0; i < bounds.length - (ends ? 1 : 0); i++) {
            out[size++] = bounds[i];
        }
        if (!ends) {
            out[size] = FOREVER;
        }
        return new Spans(out);
    }

    public Spans or(Spans other) {
        if (isEmpty()) {
            return other;
        }
        return other.isEmpty() ? this : sweep(other, 1);
    }

    /** Merges both sets of bounds in one pass; a moment belongs to the result when at least {@code needed} hold it. */
    private Spans sweep(Spans other, int needed) {
        long[] out = new long[bounds.length + other.bounds.length];
        int size = 0;
        int i = 0;
        int j = 0;
        boolean inside = false;
        while (i < bounds.length || j < other.bounds.length) {
            long at = Math.min(
                    i < bounds.length ? bounds[i] : FOREVER, j < other.bounds.length ? other.bounds[j] : FOREVER);
            while (i < bounds.length && bounds[i] == at) {
                i++;
            }
            while (j < other.bounds.length && other.bounds[j] == at) {
                j++;
            }
            boolean now = (i % 2) + (j % 2) >= needed;
            if (now != inside) {
                out[size++] = at;
                inside = now;
            }
        }
        return new Spans(Arrays.copyOf(out, size));
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Spans spans && Arrays.equals(bounds, spans.bounds);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(bounds);
    }

    @Override
    public String toString() {
        return Arrays.toString(bounds);
    }
}
