package firth.core.forecast;

import java.util.Arrays;

/**
 * A line through what was measured over time, drawn so that a few odd values do not bend it: its slope is the median of
 * the slopes between any two measurements, its height the median of what is left (docs/forecast.md, "Growth").
 */
public final class Trend {

    /** So many measurements over so long a time are needed before growth is told from chance. */
    static final int ENOUGH = 4;

    static final long LONG_ENOUGH_MS = 14L * 24 * 3_600_000;

    private final long at;
    private final double level;
    private final double slope;

    private Trend(long at, double level, double slope) {
        this.at = at;
        this.level = level;
        this.slope = slope;
    }

    /** Through values measured at ascending moments, at least one. */
    static Trend through(long[] atMs, double[] values) {
        int n = values.length;
        long last = atMs[n - 1];
        if (n < ENOUGH || last - atMs[0] < LONG_ENOUGH_MS) {
            return new Trend(last, median(values), 0);
        }
        double[] slopes = new double[n * (n - 1) / 2];
        int found = 0;
        for (int i = 0; i < n; i++) {
            for (int j = i + 1; j < n; j++) {
                if (atMs[j] > atMs[i]) {
                    slopes[found++] = (values[j] - values[i]) / (atMs[j] - atMs[i]);
                }
            }
        }
        double slope = median(Arrays.copyOf(slopes, found));
        double[] levels = new double[n];
        for (int i = 0; i < n; i++) {
            levels[i] = values[i] + slope * (last - atMs[i]);
        }
        return new Trend(last, median(levels), slope);
    }

    /** The value to expect at a moment, never below half of the present one. */
    double at(long moment) {
        return Math.max(level / 2, level + slope * (moment - at));
    }

    /** Growth in a day, negative where it shrinks. */
    double perDay() {
        return slope * 24 * 3_600_000;
    }

    /** The middle of some values, 0 of none. */
    public static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        int n = sorted.length;
        if (n == 0) {
            return 0;
        }
        return n % 2 == 1 ? sorted[n / 2] : (sorted[n / 2 - 1] + sorted[n / 2]) / 2;
    }
}
