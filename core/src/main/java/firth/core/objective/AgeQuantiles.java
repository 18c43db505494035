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

    /** The buckets of each piece's least and greatest age. */
    private final short[] least;

    private final short[] worst;

    AgeQuantiles(AgePieces pieces) {
        this.pieces = pieces;
        least = new short[pieces.size()];
        worst = new short[pieces.size()];
    }

    /** Counts the pieces of a block; all are to be counted once before quantiles are asked for. */
    void count(int number, AgePieces.Block block) {
        int at = pieces.firstOf(number);
        for (int i = 0; i < block.size; i++, at++) {
            long one = block.age[i];
            long other = block.ageAtEnd[i];
            int b = bucket(one);
            int c = bucket(other);
            least[at] = (short) Math.min(b, c);
            worst[at] = (short) Math.max(b, c);
            if (one == other) {
                stood[b] += block.from[i + 1] - block.from[i];
            } else {
                int by = one < other ? 1 : -1;
                pace[b] += by;
                sum[b] += by * one;
                pace[c] -= by;
                sum[c] -= by * other;
            }
        }
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
                if (anyOf(number, b)) {
                    gather(number, b, block);
                }
            }
        }

        /** Whether some age of a block's pieces lies in a bucket that is wanted. */
        private boolean anyOf(byte[] number, int block) {
            int end = Math.min(pieces.firstOf(block + 1), pieces.size());
            int any = 0;
            for (int i = pieces.firstOf(block); i < end; i++) {
                any |= number[least[i]] | number[worst[i]];
            }
            return any != 0;
        }

        private void gather(byte[] number, int b, AgePieces.Block block) {
            pieces.read(b, block);
            int at = pieces.firstOf(b);
            for (int i = 0; i < block.size; i++, at++) {
                if ((number[least[at]] | number[worst[at]]) != 0) {
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
        /** More than so many are looked at part by part, rather than put in order. */
        private static final int MANY = 512;

        private static final int PARTS = 1 << 10;

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

        /** Raises the age from one to another, not itself reached, and notes where it meets each of some times. */
        void raise(
                long from,
                long to,
                long growingBefore,
                long spentBefore,
                double[] times,
                int firstTime,
                int endTime,
                double[] out) {
            if (size > MANY && to - from > PARTS) {
                raiseByParts(from, to, growingBefore, spentBefore, times, firstTime, endTime, out);
                return;
            }
            int[] order = LongOrder.of(age, size);
            long growing = growingBefore;
            long spent = spentBefore;
            long value = from;
            int found = firstTime;
            for (int c = 0; c <= size; c++) {
                long next = c < size ? age[order[c]] : to;
                long gained = growing * (next - value);
                while (found < endTime && growing > 0 && spent + gained >= times[found]) {
                    out[found] = value + (times[found] - spent) / growing;
                    found++;
                }
                spent += gained;
                value = next;
                if (c < size) {
                    growing += pace[order[c]];
                    spent += stood[order[c]];
                    while (found < endTime && spent >= times[found]) {
                        out[found++] = value;
                    }
                }
            }
        }

        /** As {@link #raise}, looking only at the parts of the way in which times are met. */
        private void raiseByParts(
                long from,
                long to,
                long growingBefore,
                long spentBefore,
                double[] times,
                int firstTime,
                int endTime,
                double[] out) {
            int shift = Long.SIZE - Long.numberOfLeadingZeros((to - from - 1) / PARTS);
            long[] partPace = new long[PARTS];
            long[] sum = new long[PARTS];
            long[] partStood = new long[PARTS];
            for (int c = 0; c < size; c++) {
                int part = (int) (age[c] - from >>> shift);
                partPace[part] += pace[c];
                sum[part] += pace[c] * age[c];
                partStood[part] += stood[c];
            }
            long growing = growingBefore;
            long spent = spentBefore;
            int found = firstTime;
            for (int part = 0; part < PARTS && found < endTime; part++) {
                long begins = from + ((long) part << shift);
                long ends = Math.min(to, begins + (1L << shift));
                if (begins >= to) {
                    return;
                }
                long within = growing * (ends - begins) + partPace[part] * ends - sum[part] + partStood[part];
                int first = found;
                while (found < endTime && spent + within >= times[found]) {
                    found++;
                }
                if (found > first) {
                    between(begins, ends).raise(begins, ends, growing, spent, times, first, found, out);
                }
                growing += partPace[part];
                spent += within;
            }
        }

        private Changes between(long from, long to) {
            Changes out = new Changes();
            for (int c = 0; c < size; c++) {
                if (age[c] >= from && age[c] < to) {
                    out.add(age[c], pace[c], stood[c]);
                }
            }
            return out;
        }
    }
}
