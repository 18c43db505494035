package firth.core.objective;

import java.util.Arrays;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What the age of the recovery point was over a period. Milliseconds.
 *
 * @param max the achieved RPO: no age exceeded it, the value just before a landing counts
 * @param attainment share of the time an objective was in force in which it was kept; empty where none was
 */
public record Achieved(double max, double mean, double p50, double p95, double p99, Optional<Double> attainment) {

    public static final Achieved NOTHING = new Achieved(0, 0, 0, 0, 0, Optional.empty());

    public static Achieved of(AgePieces pieces, Optional<Double> attainment) {
        if (pieces.size() == 0) {
            return NOTHING;
        }
        double total = 0;
        double area = 0;
        long max = 0;
        for (int i = 0; i < pieces.size(); i++) {
            total += pieces.lengthMs(i);
            area += (pieces.ageMs(i) + pieces.ageAtEndMs(i)) / 2.0 * pieces.lengthMs(i);
            max = Math.max(max, Math.max(pieces.ageMs(i), pieces.ageAtEndMs(i)));
        }
        double[] quantiles = quantiles(pieces, new double[] {0.5 * total, 0.95 * total, 0.99 * total});
        return new Achieved(max, area / total, quantiles[0], quantiles[1], quantiles[2], attainment);
    }

    /** The same ages held against another objective. */
    public Achieved with(Optional<Double> otherAttainment) {
        return new Achieved(max, mean, p50, p95, p99, otherAttainment);
    }

    /** The least age not exceeded for at least each of the given times, which ascend. */
    private static double[] quantiles(AgePieces pieces, double[] times) {
        int n = pieces.size();
        long[] rises = new long[n];
        long[] falls = new long[n];
        TreeMap<Long, Long> standing = new TreeMap<>();
        int growing = 0;
        for (int i = 0; i < n; i++) {
            if (pieces.slope(i) != 0) {
                rises[growing] = Math.min(pieces.ageMs(i), pieces.ageAtEndMs(i));
                falls[growing++] = Math.max(pieces.ageMs(i), pieces.ageAtEndMs(i));
            } else {
                standing.merge(pieces.ageMs(i), pieces.lengthMs(i), Long::sum);
            }
        }
        Arrays.sort(rises, 0, growing);
        Arrays.sort(falls, 0, growing);
        return walk(rises, falls, growing, standing, times);
    }

    /** Raises the age from the least value on and adds up the time spent at or below it. */
    private static double[] walk(
            long[] rises, long[] falls, int growing, TreeMap<Long, Long> standing, double[] times) {
        double[] out = new double[times.length];
        int r = 0;
        int f = 0;
        int open = 0;
        int found = 0;
        double spent = 0;
        long value = 0;
        while (found < times.length) {
            spent += standing.getOrDefault(value, 0L);
            while (found < times.length && spent >= times[found]) {
                out[found++] = value;
            }
            while (r < growing && rises[r] == value) {
                r++;
                open++;
            }
            while (f < growing && falls[f] == value) {
                f++;
                open--;
            }
            Long stand = standing.higherKey(value);
            long next = Math.min(
                    r < growing ? rises[r] : Long.MAX_VALUE,
                    Math.min(f < growing ? falls[f] : Long.MAX_VALUE, stand == null ? Long.MAX_VALUE : stand));
            if (next == Long.MAX_VALUE) {
                break;
            }
            double gained = (double) open * (next - value);
            while (found < times.length && open > 0 && spent + gained >= times[found]) {
                out[found] = value + (times[found] - spent) / open;
                found++;
            }
            spent += gained;
            value = next;
        }
        for (; found < times.length; found++) {
            out[found] = value;
        }
        return out;
    }
}
