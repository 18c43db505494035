package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.forecast.Comparison;
import firth.core.forecast.Habits;
import firth.core.history.History;
import firth.core.model.Kind;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** The newest data backup of a kind, far larger or smaller, quicker or slower than those before it. */
public final class UnusualFindings {

    /** Only what is this new is worth saying. */
    public static final Duration NEW = Duration.ofDays(2);

    private UnusualFindings() {}

    static List<Finding> of(Evaluation e) {
        History history = e.history();
        List<Finding> out = new ArrayList<>();
        for (Kind kind : List.of(Kind.FULL, Kind.DIFF, Kind.INCR)) {
            List<Integer> rows = history.others().stream()
                    .filter(i -> history.kind(i) == kind
                            && history.endedMs(i) <= e.asOf().toEpochMilli())
                    .boxed()
                    .sorted(Comparator.<Integer>comparingLong(history::startedMs)
                            .reversed())
                    .limit(Comparison.ASKED + 1L)
                    .toList();
            if (!rows.isEmpty()
                    && history.endedMs(rows.get(0)) > e.asOf().minus(NEW).toEpochMilli()) {
                Comparison.Like<Integer> like = Comparison.like(
                        Instant.ofEpochMilli(history.startedMs(rows.get(0))),
                        rows.subList(1, rows.size()),
                        i -> Instant.ofEpochMilli(history.startedMs(i)),
                        e.database().zone());
                measure(e, rows.get(0), like, "unusual-size", i -> Habits.bytes(history, i))
                        .ifPresent(out::add);
                measure(e, rows.get(0), like, "unusual-duration", i ->
                                (double) (history.endedMs(i) - history.startedMs(i)))
                        .ifPresent(out::add);
            }
        }
        return out;
    }

    private static Optional<Finding> measure(
            Evaluation e, int row, Comparison.Like<Integer> like, String code, Function<Integer, Double> figure) {
        History history = e.history();
        return like.compare(figure.apply(row), figure)
                .filter(Comparison::unusual)
                .map(c -> Finding.of(
                        code,
                        Severity.UNUSUAL,
                        e.database().id(),
                        e.database().id() + "/" + history.id(row),
                        Optional.of(Instant.ofEpochMilli(history.endedMs(row))),
                        new Detail.Unusual(code.equals("unusual-size"), history.kind(row), c),
                        List.of(history.id(row))));
    }
}
