package firth.core.findings;

import firth.core.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.foresight.Habits;
import firth.core.foresight.Trend;
import firth.core.history.History;
import firth.core.history.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.IntToDoubleFunction;
import java.util.stream.IntStream;

/** The newest data backup of a kind, far larger or smaller, quicker or slower than those before it. */
final class UnusualFindings {

    /** How many before it say what is usual, and how many at least. */
    private static final int BEFORE = 8;

    private static final int ENOUGH = 4;

    /** How far from the median it must be: this share of it, and so many times what the others are mostly off. */
    private static final double SHARE = 0.5;

    private static final double SPREADS = 6;

    /** Only what is this new is worth saying. */
    private static final Duration NEW = Duration.ofDays(2);

    private UnusualFindings() {}

    static List<Finding> of(Evaluation e) {
        History history = e.history();
        List<Finding> out = new ArrayList<>();
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR)) {
            int[] rows = Arrays.stream(history.others())
                    .filter(i -> history.kind(i) == kind
                            && history.endedMs(i) <= e.asOf().toEpochMilli())
                    .boxed()
                    .sorted(Comparator.comparing(history::endedMs).reversed())
                    .limit(BEFORE + 1)
                    .mapToInt(i -> i)
                    .toArray();
            if (rows.length > ENOUGH
                    && history.endedMs(rows[0]) > e.asOf().minus(NEW).toEpochMilli()) {
                measure(e, rows, "unusual-size", i -> Habits.bytes(history, i), Wording::bytes)
                        .ifPresent(out::add);
                measure(
                                e,
                                rows,
                                "unusual-duration",
                                i -> history.endedMs(i) - history.startedMs(i),
                                ms -> Wording.measured(Duration.ofMillis(Math.round(ms))))
                        .ifPresent(out::add);
            }
        }
        return out;
    }

    private interface Words {
        String of(double value);
    }

    private static Optional<Finding> measure(
            Evaluation e, int[] rows, String code, IntToDoubleFunction figure, Words words) {
        double own = figure.applyAsDouble(rows[0]);
        double[] others =
                Arrays.stream(rows, 1, rows.length).mapToDouble(figure).toArray();
        double usual = Trend.median(others);
        double spread = Trend.median(IntStream.range(0, others.length)
                .mapToDouble(k -> Math.abs(others[k] - usual))
                .toArray());
        if (own <= 0 || usual <= 0 || Math.abs(own - usual) <= Math.max(SHARE * usual, SPREADS * spread)) {
            return Optional.empty();
        }
        History history = e.history();
        String kind = Wording.kindName(history.kind(rows[0]));
        boolean size = code.equals("unusual-size");
        return Optional.of(Finding.of(
                code,
                Severity.UNUSUAL,
                e.database().id(),
                e.database().id() + "/" + history.id(rows[0]),
                Optional.of(Instant.ofEpochMilli(history.endedMs(rows[0]))),
                "its " + kind + (size ? " is " : " took ") + words.of(own),
                "The " + others.length + " before it were mostly " + words.of(usual) + ", give or take "
                        + words.of(spread) + ".",
                own > usual
                        ? "See what was written, or what slowed it."
                        : "See whether everything that should be in it is.",
                List.of(history.id(rows[0]))));
    }
}
