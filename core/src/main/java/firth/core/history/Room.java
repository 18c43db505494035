package firth.core.history;

import firth.core.time.Span;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/** The room that a database's copies took up in each store at some moments. Bytes; copies of unknown size take none. */
public final class Room {

    private final History history;
    private final long from;
    private final long length;
    private final int steps;
    private final double[][] bytes;

    /**
     * Weighs every copy that landed by a moment.
     *
     * @param span from its beginning to its end, both among the moments
     * @param steps how many moments follow the first, at least 1
     * @param asOf what landed or went after it is not known
     */
    public Room(History history, Span span, int steps, Instant asOf) {
        this.history = history;
        this.from = span.from().toEpochMilli();
        this.length = Math.max(1, span.to().toEpochMilli() - from);
        this.steps = steps;
        this.bytes = new double[history.storesByIndex().size()][steps + 2];
        long now = asOf.toEpochMilli();
        int copies = history.firstCopy(history.size());
        for (int c = 0; c < copies; c++) {
            if (history.landedMs(c) <= now && !Double.isNaN(history.bytes(c))) {
                double[] own = bytes[history.storeIndex(c)];
                own[firstFrom(history.landedMs(c))] += history.bytes(c);
                own[history.goneMs(c) <= now ? firstFrom(history.goneMs(c)) : steps + 1] -= history.bytes(c);
            }
        }
        for (double[] own : bytes) {
            Arrays.parallelPrefix(own, Double::sum);
        }
    }

    /** The first of the moments at or after one; the one behind the last where there is none. */
    private int firstFrom(long moment) {
        if (moment <= from) {
            return 0;
        }
        long step = (moment - from) * steps / length;
        while (step <= steps && momentMs((int) step) < moment) {
            step++;
        }
        return (int) Math.min(step, steps + 1L);
    }

    private long momentMs(int step) {
        return from + length * step / steps;
    }

    /** One of the moments, from 0 to the number of steps. */
    public Instant moment(int step) {
        return Instant.ofEpochMilli(momentMs(step));
    }

    /** The stores that hold or held something. */
    public List<String> stores() {
        return history.storesByIndex();
    }

    /** What the copies in a store took up at each of the moments; never below 0. */
    public List<Double> bytes(int store) {
        return IntStream.rangeClosed(0, steps)
                .mapToObj(s -> Math.max(0, bytes[store][s]))
                .toList();
    }
}
