package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The newest run of a kind that says it went well, and of which no backup is known (docs/semantics.md, "Findings"). */
public final class EmptyRuns {

    /** What a run brought may be told of so much later. */
    public static final Duration TOLD_LATER = Duration.ofHours(1);

    private EmptyRuns() {}

    /** Only where backups of earlier runs of the kind were told to be theirs: else nobody says whose a backup is. */
    static List<Finding> of(Evaluation e) {
        History history = e.history();
        Set<String> brought = new HashSet<>();
        for (int i : history.others()) {
            history.runId(i).ifPresent(brought::add);
        }
        return List.of(Kind.FULL, Kind.DIFF, Kind.INCR, Kind.CONFIG).stream()
                .flatMap(kind -> newest(e, kind).stream()
                        .filter(r -> !brought.contains(r.id()))
                        .filter(r ->
                                history.runs().stream().anyMatch(o -> o.kind() == kind && brought.contains(o.id())))
                        .map(r -> finding(e, r)))
                .toList();
    }

    private static Optional<Run> newest(Evaluation e, Kind kind) {
        Instant by = e.asOf().minus(TOLD_LATER);
        return e.history().runs().stream()
                .filter(r -> r.kind() == kind && !r.started().isAfter(e.asOf()))
                .max(Comparator.comparing(Run::started).thenComparing(Run::id))
                .filter(r -> r.outcome() == Outcome.OK)
                .filter(r -> r.ended().filter(x -> !x.isAfter(by)).isPresent());
    }

    private static Finding finding(Evaluation e, Run run) {
        Instant ended = run.ended().orElseThrow();
        return Finding.of(
                "brought-nothing",
                Severity.UNUSUAL,
                e.database().id(),
                e.database().id() + "/" + run.id(),
                Optional.of(ended),
                new Detail.BroughtNothing(run.kind(), ended, e.database().zone()),
                List.of(run.id()));
    }
}
