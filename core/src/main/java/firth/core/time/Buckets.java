package firth.core.time;

/** Buckets for lengths of time of 0 ms or more: the longer, the wider, always a power of two wide. */
public final class Buckets {

    /** Bits of a length that tell buckets apart, after its first. */
    private static final int FINE = 5;

    public static final int COUNT = (Long.SIZE - FINE) << FINE;

    private Buckets() {}

    /** The bucket a length falls into. */
    public static int of(long length) {
        int shift = Math.max(0, Long.SIZE - 1 - FINE - Long.numberOfLeadingZeros(length));
        return (shift << FINE) + (int) (length >>> shift);
    }

    /** The least length of a bucket. */
    public static long begin(int bucket) {
        int shift = Math.max(0, (bucket >>> FINE) - 1);
        return (long) (bucket - (shift << FINE)) << shift;
    }
}
