package firth.core.objective;

import firth.core.history.LandingAges;
import firth.core.time.Buckets;
import java.util.ArrayList;
import java.util.List;

/**
 * Time-weighted quantiles of the age, exact. Ages are counted into buckets that are the wider the greater the age; the few
 * buckets in which a quantile lies are counted once more, part by part, where there are many pieces; and only the ages of
 * what is then left are put in order.
 */
final class AgeQuantiles {

    /** With more pieces than this buckets are divided before their ages are put in order. */
    private static final int MANY = 2_000;

    private final AgePieces pieces;
    private final AgeCounts counts = new AgeCounts(Buckets.COUNT);
    /** By block whose ages are not known beforehand: the buckets of the ages at each piece's two ends, in turn. */
    private final short[][] touched;

    AgeQuantiles(AgePieces pieces) {
        this.pieces = pieces;
        touched = new short[pieces.blocks()][];
    }

    /** Counts the pieces of a block whose ages are known. */
    void count(LandingAges known) {
        for (int i = 0; i < known.count(); i++) {
            counts.add(known.bucket(i), known.pace(i), known.sumMs(i));
        }
    }

    /** Counts the pieces of a block; all are to be counted once before quantiles are asked for. */
    void count(int number, AgePieces.Block block) {
        short[] own = new short[2 * block.size];
        touched[number] = own;
        for (int i = 0; i < block.size; i++) {
            long one = block.age[i];
            long other = block.ageAtEnd[i];
            int b = Buckets.of(one);
            int c = Buckets.of(other);
            own[2 * i] = (short) b;
            own[2 * i + 1] = (short) c;
            if (one == other) {
                counts.stood(b, block.from[i + 1] - block.from[i]);
            } else {
                int by = one < other ? 1 : -1;
                counts.add(b, by, by * one);
                counts.add(c, -by, -by * other);
            }
        }
    }

    /**
     * The least ages not exceeded for at least each of the given times.
     *
     * @param times ascending, above 0 and at most the length of all pieces, in milliseconds
     */
    double[] find(double[] times) {
        List<AgeRange> wanted = counts.find(times, 0, times.length, 0, 0, Buckets::begin);
        if (pieces.size() > MANY) {
            List<AgeRange.Divided> divided =
                    wanted.stream().map(AgeRange.Divided::new).toList();
            gather(divided);
            wanted = new ArrayList<>();
            for (AgeRange.Divided d : divided) {
                wanted.addAll(d.find(times));
            }
        }
        List<AgeRange.Ordered> ordered =
                wanted.stream().map(AgeRange.Ordered::new).toList();
        gather(ordered);
        double[] out = new double[times.length];
        for (AgeRange.Ordered o : ordered) {
            o.raise(times, out);
        }
        return out;
    }

    /** Gives to each range what changes in it. */
    private void gather(List<? extends AgeRange.Taker> takers) {
        AgePieces.Block block = new AgePieces.Block();
        for (int b = 0; b < pieces.blocks(); b++) {
            boolean read = false;
            for (AgeRange.Taker taker : takers) {
                int bucket = Buckets.of(taker.range().from());
                LandingAges known = touched[b] == null ? pieces.known(b) : null;
                if (known != null && known.exact()) {
                    give(taker, bucket, known);
                } else if (known == null ? touches(touched[b], bucket) : known.touches(bucket)) {
                    if (!read) {
                        pieces.read(b, block);
                        read = true;
                    }
                    taker.take(block);
                }
            }
        }
    }

    private static boolean touches(short[] buckets, int wanted) {
        boolean any = false;
        for (short bucket : buckets) {
            any |= bucket == wanted;
        }
        return any;
    }

    private static void give(AgeRange.Taker taker, int bucket, LandingAges known) {
        for (int i = 0; i < known.count(); i++) {
            if (known.bucket(i) == bucket && taker.range().holds(known.ageMs(i))) {
                taker.take(known.ageMs(i), known.pace(i), 0);
            }
        }
    }
}
