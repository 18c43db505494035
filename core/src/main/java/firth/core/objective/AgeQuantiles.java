package firth.core.objective;

import firth.core.time.LongOrder;
import java.util.Arrays;

/**
 * Time-weighted quantiles of the age, exact. Ages are counted into buckets that are the wider the greater the age; only those
 * of the few buckets in which a quantile lies are then put in order.
 */
final class AgeQuantiles {

    /** Bits of an age that tell buckets apart, after its first. */
    private static final int FINE = 5;

    private static final int BUCKETS = (Long.SIZE - FINE) << FINE;

    private final AgePieces pieces;
    /** By bucket: how many pieces begin to grow in it less those that stop, and the sum of those ages likewise. */
    private final int[] pace = new int[BUCKETS];

    private final long[] sum = new long[BUCKETS];
    /** Time spent at ages that stood still. */
    private final long[] stood = new long[BUCKETS];

    AgeQuantiles(AgePieces pieces) {
        this.pieces = pieces;
    }

    /** Counts pieces; all are to be counted once before quantiles are asked for. */
    void count(AgePieces.Block block) {
        for (int i = 0; i < block.size; i++) {
            long one = block.age[i];
            long other = block.ageAtEnd[i];
            if (one == other) {
                stood[bucket(one)] += block.from[i + 1] - block.from[i];
            } else {
                count(Math.min(one, other), 1);
                count(Math.max(one, other), -1);
            }
        }
    }

    private void count(long age, int by) {
        int b = bucket(age);
        pace[b] += by;
        sum[b] += by * age;
    }

    private static int bucket(long age) {
        int shift = Math.max(0, Long.SIZE - 1 - FINE - Long.numberOfLeadingZeros(age));
        return (shift << FINE) + (int) (age >>> shift);
    }

    /** The least age of a bucket. */
    private static long begin(int bucket) {
        int shift = Math.max(0, (bucket >>> FINE) - 1);
        return (long) (bucket - (shift << FINE)) << shift;
    }

    /**
     * The least ages not exceeded for at least each of the given times.
     *
     * @param times ascending, above 0 and at most the length of all pieces, in milliseconds
     */
    double[] find(double[] times) {
        Wanted wanted = new Wanted(times.length);
        long growing = 0;
        long spent = 0;
        int found = 0;
        for (int b = 0; b < BUCKETS - 1 && found < times.length; b++) {
            long begins = begin(b);
            long ends = begin(b + 1);
            // What begins to grow within a bucket spends the rest of the bucket in it.
            long within = growing * (ends - begins) + pace[b] * ends - sum[b] + stood[b];
            int first = found;
            while (found < times.length && spent + within >= times[found]) {
                found++;
            }
            if (found > first) {
                wanted.add(b, growing, spent, first, found);
            }
            growing += pace[b];
            spent += within;
        }
        return wanted.raise(times);
    }

    /** The buckets in which quantiles lie, and what changes at which of their ages. */
    private final class Wanted {
        private final int[] buckets;
        private final long[] growing;
        private final long[] spent;
        private final int[] first;
        private final int[] end;
        private final Changes[] changes;
        private int size;

        Wanted(int most) {
            buckets = new int[most];
            growing = new long[most];
            spent = new long[most];
            first = new int[most];
            end = new int[most];
            changes = new Changes[most];
        }

        void add(int bucket, long growingBefore, long spentBefore, int firstTime, int endTime) {
            buckets[size] = bucket;
            growing[size] = growingBefore;
            spent[size] = spentBefore;
            first[size] = firstTime;
            end[size] = endTime;
            changes[size++] = new Changes();
        }

        double[] raise(double[] times) {
            gather();
            double[] out = new double[times.length];
            for (int w = 0; w < size; w++) {
                long begins = begin(buckets[w]);
                changes[w].raise(begins, begin(buckets[w] + 1), growing[w], spent[w], times, first[w], end[w], out);
            }
            return out;
        }

        private void gather() {
            byte[] number = new byte[BUCKETS];
            for (int w = 0; w < size; w++) {
                number[buckets[w]] = (byte) (w + 1);
            }
            AgePieces.Block block = new AgePieces.Block();
            for (int b = 0; b < pieces.blocks(); b++) {
                pieces.read(b, block);
                for (int i = 0; i < block.size; i++) {
                    long one = block.age[i];
                    long other = block.ageAtEnd[i];
                    if (one == other) {
                        add(number, one, 0, block.from[i + 1] - block.from[i]);
                    } else {
                        add(number, Math.min(one, other), 1, 0);
                        add(number, Math.max(one, other), -1, 0);
                    }
                }
            }
        }

        private void add(byte[] number, long age, int pace, long stood) {
            int w = number[bucket(age)];
            if (w > 0) {
                changes[w - 1].add(age, pace, stood);
            }
        }
    }

    /** Ages at which a piece begins to grow, stops growing, or stood still. */
    private static final class Changes {
        private long[] age = new long[16];
        private int[] pace = new int[16];
        private long[] stood = new long[16];
        private int size;

        void add(long ownAge, int ownPace, long ownStood) {
            if (size > 0 && age[size - 1] == ownAge) {
                pace[size - 1] += ownPace;
                stood[size - 1] += ownStood;
                return;
            }
            if (size == age.length) {
                age = Arrays.copyOf(age, 2 * size);
                pace = Arrays.copyOf(pace, 2 * size);
                stood = Arrays.copyOf(stood, 2 * size);
            }
            age[size] = ownAge;
            pace[size] = ownPace;
            stood[size++] = ownStood;
        }

        /** Raises the age from one to another and notes where it meets each of some times. */
        void raise(
                long from,
                long to,
                long growingBefore,
                long spentBefore,
                double[] times,
                int first,
                int end,
                double[] out) {
            int[] order = LongOrder.of(age, size);
            long growing = growingBefore;
            long spent = spentBefore;
            long value = from;
            int found = first;
            for (int c = 0; c <= size; c++) {
                long next = c < size ? age[order[c]] : to;
                long gained = growing * (next - value);
                while (found < end && growing > 0 && spent + gained >= times[found]) {
                    out[found] = value + (times[found] - spent) / growing;
                    found++;
                }
                spent += gained;
                value = next;
                if (c < size) {
                    growing += pace[order[c]];
                    spent += stood[order[c]];
                    while (found < end && spent >= times[found]) {
                        out[found++] = value;
                    }
                }
            }
        }
    }
}
