package firth.core.objective;

import firth.core.time.LongOrder;
import java.util.Arrays;
import java.util.List;

/**
 * Ages in which the time spent reaches some times. Milliseconds.
 *
 * @param to not itself within
 * @param growing how many pieces grow where the range begins
 * @param spent the time spent at lesser ages
 * @param firstTime the first of the times that is reached
 * @param endTime the one after the last
 */
record AgeRange(long from, long to, long growing, long spent, int firstTime, int endTime) {

    boolean holds(long age) {
        return age >= from && age < to;
    }

    /** Takes what changes at the ages of a range. */
    interface Taker {

        AgeRange range();

        /**
         * @param pace how many pieces begin to grow, less those that stop
         * @param stood the time the age stood still
         */
        void take(long age, int pace, long stood);

        /** Takes of some pieces what lies in the range. */
        default void take(AgePieces.Block block) {
            AgeRange range = range();
            for (int i = 0; i < block.size; i++) {
                long one = block.age[i];
                long other = block.ageAtEnd[i];
                boolean stands = one == other;
                int by = one < other ? 1 : -1;
                if (range.holds(one)) {
                    take(one, stands ? 0 : by, stands ? block.from[i + 1] - block.from[i] : 0);
                }
                if (!stands && range.holds(other)) {
                    take(other, -by, 0);
                }
            }
        }
    }

    /** A range in parts, in each of which what changes is counted. */
    static final class Divided implements Taker {
        private static final int PARTS = 1 << 10;

        private final AgeRange range;
        private final int shift;
        private final int parts;
        private final AgeCounts counts;

        Divided(AgeRange range) {
            this.range = range;
            this.shift = Long.SIZE - Long.numberOfLeadingZeros((range.to - range.from - 1) / PARTS);
            this.parts = (int) (range.to - range.from - 1 >>> shift) + 1;
            this.counts = new AgeCounts(parts + 1);
        }

        /** The part of an age; one behind the last, which is never looked at, for ages outside. Told without a branch. */
        private int part(long age) {
            return (int) Math.min((age - range.from & Long.MAX_VALUE) >>> shift, parts);
        }

        @Override
        public void take(AgePieces.Block block) {
            for (int i = 0; i < block.size; i++) {
                long one = block.age[i];
                long other = block.ageAtEnd[i];
                int by = Long.signum(other - one);
                counts.add(part(one), by, by * one);
                counts.add(part(other), -by, -by * other);
                if (by == 0) {
                    counts.stood(part(one), block.from[i + 1] - block.from[i]);
                }
            }
        }

        @Override
        public AgeRange range() {
            return range;
        }

        @Override
        public void take(long age, int pace, long stood) {
            counts.add(part(age), pace, pace * age);
            counts.stood(part(age), stood);
        }

        List<AgeRange> find(double[] times) {
            return counts.find(
                    times,
                    range.firstTime,
                    range.endTime,
                    range.growing,
                    range.spent,
                    p -> Math.min(range.to, range.from + ((long) p << shift)));
        }
    }

    /** A range whose changes are put in order. */
    static final class Ordered implements Taker {
        private final AgeRange range;
        private long[] age = new long[16];
        private int[] pace = new int[16];
        private long[] stood = new long[16];
        private int size;

        Ordered(AgeRange range) {
            this.range = range;
        }

        @Override
        public AgeRange range() {
            return range;
        }

        @Override
        public void take(long ownAge, int ownPace, long ownStood) {
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

        /** Raises the age through the range and notes where it meets each of its times. */
        void raise(double[] times, double[] out) {
            int[] order = LongOrder.of(age, size);
            long growing = range.growing;
            long spent = range.spent;
            long value = range.from;
            int found = range.firstTime;
            for (int c = 0; c <= size; c++) {
                long next = c < size ? age[order[c]] : range.to;
                long gained = growing * (next - value);
                while (found < range.endTime && growing > 0 && spent + gained >= times[found]) {
                    out[found] = value + (times[found] - spent) / growing;
                    found++;
                }
                spent += gained;
                value = next;
                if (c < size) {
                    growing += pace[order[c]];
                    spent += stood[order[c]];
                    while (found < range.endTime && spent >= times[found]) {
                        out[found++] = value;
                    }
                }
            }
        }
    }
}
