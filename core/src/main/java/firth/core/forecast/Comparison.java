package firth.core.forecast;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.IntStream;

/**
 * A figure of a backup beside those of like ones before it (docs/semantics.md, "What is usual").
 *
 * @param own the figure itself
 * @param median of the others
 * @param spread the median of how far each of the others is from their median
 * @param of how many others there are, at least {@value #ENOUGH}
 * @param day the weekday on which all of them began; empty where they began on any
 */
public record Comparison(double own, double median, double spread, int of, Optional<DayOfWeek> day) {

    /** How many before it say what is usual. */
    public static final int LOOKED_AT = Habits.LOOKED_AT;

    /** How many it takes at least. */
    public static final int ENOUGH = 4;

    /** Where nothing else is said, as many as this are asked for to find enough of one weekday among them. */
    public static final int ASKED = 7 * LOOKED_AT;

    /** How far from the median it must be: this share of it, and so many times the spread. */
    private static final double SHARE = 0.5;

    private static final double SPREADS = 6;

    /** Those of the same database and kind like which one that began at a moment is expected to go. */
    public record Like<T>(List<T> those, Optional<DayOfWeek> day) {

        /**
         * Compares a figure of theirs; those with a figure of 0 did not tell it.
         *
         * @return empty where too few did, or it is not known itself
         */
        public Optional<Comparison> compare(double own, Function<T, Double> figure) {
            double[] others = those.stream()
                    .mapToDouble(figure::apply)
                    .filter(v -> v > 0)
                    .limit(LOOKED_AT)
                    .toArray();
            if (own <= 0 || others.length < ENOUGH) {
                return Optional.empty();
            }
            double median = Trend.median(others);
            double spread = Trend.median(IntStream.range(0, others.length)
                    .mapToDouble(k -> Math.abs(others[k] - median))
                    .toArray());
            return Optional.of(new Comparison(own, median, spread, others.length, day));
        }
    }

    /**
     * The newest {@value #LOOKED_AT} that began on the weekday of a moment; of any weekday where fewer than
     * {@value #ENOUGH} did.
     *
     * @param newestFirst those of the same database and kind that began before it
     * @param zone the database's
     */
    public static <T> Like<T> like(Instant began, List<T> newestFirst, Function<T, Instant> started, ZoneId zone) {
        DayOfWeek day = began.atZone(zone).getDayOfWeek();
        List<T> onDay = newestFirst.stream()
                .filter(t -> started.apply(t).atZone(zone).getDayOfWeek() == day)
                .limit(LOOKED_AT)
                .toList();
        return onDay.size() >= ENOUGH
                ? new Like<>(onDay, Optional.of(day))
                : new Like<>(newestFirst.stream().limit(LOOKED_AT).toList(), Optional.empty());
    }

    /** Whether it is so far from the median that somebody should look. */
    public boolean unusual() {
        return median > 0 && Math.abs(own - median) > Math.max(SHARE * median, SPREADS * spread);
    }

    /** How many times the median it is; 1 where that is 0. */
    public double times() {
        return median == 0 ? 1 : own / median;
    }
}
