package firth.server.stores;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Forecast;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** The room the fleet took up in each store day by day, and what a forecast would have said of it. */
@ApplicationScoped
class StoreRooms {

    static final int DAYS = 60;
    static final int TESTED = 30;

    private final Evaluations evaluations;
    private final Lookout lookout;

    /** The last back-test; it stays good for its day. */
    private volatile @Nullable Tested tested;

    StoreRooms(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /**
     * What a forecast said and what came, by store, from the moment it was made on.
     *
     * @param forecast if nothing were deleted, as far as nothing was: what really went is taken off
     */
    record Tested(Instant made, Map<String, double[]> forecast, Map<String, double[]> actual) {}

    static void add(Map<String, double[]> sums, String store, double[] more) {
        double[] sum = sums.computeIfAbsent(store, s -> new double[more.length]);
        for (int d = 0; d < more.length; d++) {
            sum[d] += more[d];
        }
    }

    /** What is needed after each day with everything that became obsolete since left lying: how a store fills as it goes. */
    static double[] asItGoes(double held, double needed, double[] room, double @Nullable [] obsolete) {
        double[] out = new double[room.length];
        out[0] = held;
        double lying = 0;
        for (int d = 1; d < room.length; d++) {
            lying += obsolete == null ? 0 : obsolete[d];
            out[d] = Math.max(out[d - 1], held - needed + room[d] + lying);
        }
        return out;
    }

    /** Makes the forecast as it would have been made {@value #TESTED} days ago, and looks at what came. */
    Tested backTest() {
        Instant asOf = lookout.standsAt();
        Instant made = asOf.minus(Duration.ofDays(TESTED));
        Tested known = tested;
        if (known != null && Duration.between(known.made, made).abs().compareTo(Duration.ofDays(1)) < 0) {
            return known;
        }
        Map<String, double[]> forecast = new TreeMap<>();
        Map<String, double[]> actual = new TreeMap<>();
        evaluations
                .walk(
                        d -> d.inServiceFrom().isBefore(made.minus(Duration.ofDays(1))),
                        lookout.view("", ""),
                        one -> new Compared(
                                forecastOf(one, made),
                                StockPart.back(one.answer().history(), asOf, TESTED)))
                .forEach(c -> {
                    c.forecast.forEach((store, bytes) -> add(forecast, store, bytes));
                    c.actual.forEach((store, bytes) -> add(actual, store, bytes));
                });
        tested = new Tested(made, forecast, actual);
        return tested;
    }

    /** What was forecast of one database, and what came. */
    private record Compared(Map<String, double[]> forecast, Map<String, double[]> actual) {}

    private static Map<String, double[]> forecastOf(Answered one, Instant made) {
        DatabaseFacts facts = one.facts();
        History then = History.of(facts.database())
                .addKnown(facts.history(), made.toEpochMilli())
                .build();
        DatabaseFacts known = new DatabaseFacts(facts.database(), then, facts.holds(), facts.closures());
        Forecast forecast = Forecast.of(new Forecast.Basis(known, one.fleet(), made), one.fleet(), TESTED);
        Evaluation answer = Evaluation.of(known, one.fleet(), made, new Span(made.minus(Duration.ofDays(1)), made));
        Map<String, Double> needed = RetainedBytes.byStore(List.of(answer), v -> v == Verdict.NEEDED);
        Map<String, double[]> went = went(facts.history(), made);
        Map<String, double[]> out = new TreeMap<>();
        forecast.room().forEach((store, room) -> {
            double[] bytes = asItGoes(
                    room[0],
                    needed.getOrDefault(store, 0.0),
                    room,
                    forecast.obsolete().getOrDefault(store, new double[room.length]));
            double[] gone = went.getOrDefault(store, new double[TESTED + 1]);
            for (int d = 0; d <= TESTED; d++) {
                bytes[d] = Math.max(0, bytes[d] - gone[d]);
            }
            out.put(store, bytes);
        });
        return out;
    }

    /** What was really deleted by each day of what lay there when the forecast was made: nobody could know that then. */
    private static Map<String, double[]> went(History history, Instant made) {
        Map<String, double[]> out = new TreeMap<>();
        long from = made.toEpochMilli();
        for (int c = 0; c < history.copies(); c++) {
            long gone = history.goneMs(c);
            if (history.landedMs(c) <= from
                    && gone > from
                    && gone != History.NEVER
                    && !Double.isNaN(history.bytes(c))) {
                int day = (int)
                        Math.min(TESTED + 1L, Duration.ofMillis(gone - from).toDays() + 1);
                double[] own = out.computeIfAbsent(history.store(c), s -> new double[TESTED + 1]);
                for (int d = day; d <= TESTED; d++) {
                    own[d] += history.bytes(c);
                }
            }
        }
        return out;
    }

    static List<Double> list(double[] values) {
        List<Double> out = new ArrayList<>(values.length);
        for (double v : values) {
            out.add(v);
        }
        return out;
    }
}
