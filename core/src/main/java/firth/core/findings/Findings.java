package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import java.time.Instant;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/** Everything wrong with a database, or with many of them (docs/semantics.md, "Findings"). */
public final class Findings {

    /** The worst first; what will break a promise by when it does, else of one severity the longest. */
    public static final Comparator<Finding> ORDER = rank().thenComparing(Finding::key);

    /** Those of one key, or of one rank. */
    static final Comparator<Finding> RANK = rank();

    private Findings() {}

    private static Comparator<Finding> rank() {
        return Comparator.comparing(Finding::severity)
                .thenComparing(f -> f.breaks().orElse(Instant.MAX))
                .thenComparing(f -> f.since().orElse(Instant.MAX));
    }

    /**
     * What is wrong with one database, in order.
     *
     * @param facts those the evaluation is of
     */
    public static List<Finding> of(Evaluation e, DatabaseFacts facts, Fleet fleet) {
        if (!e.database().isServedAt(e.asOf())) {
            return List.of();
        }
        List<Finding> cover = CoverFindings.of(e, facts, fleet);
        Set<String> told = new LinkedHashSet<>();
        cover.forEach(f -> told.add(f.about()));
        boolean broken = cover.stream()
                .anyMatch(f -> f.severity() == Finding.Severity.BEHIND || f.severity() == Finding.Severity.STRANDED);
        // What explains a worse finding already is not said again.
        boolean never = cover.stream().anyMatch(f -> f.code().equals("never-backed-up"));
        Stream<Finding> schedules = (never ? List.<Finding>of() : ScheduleFindings.of(e))
                .stream()
                        .filter(f -> !told.contains(f.about()))
                        .filter(f -> !(broken && f.code().equals("unserved")));
        return Stream.of(
                        cover.stream(),
                        ContradictionFindings.of(e).stream(),
                        schedules,
                        CopyFindings.of(e, fleet).stream(),
                        TakingFindings.of(e).stream(),
                        EmptyRuns.of(e).stream(),
                        EndingFindings.of(e, facts).stream(),
                        UnusualFindings.of(e).stream())
                .flatMap(s -> s)
                .sorted(ORDER)
                .toList();
    }
}
