package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.findings.SharedPlace.Lying;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Backups that were written where another one was believed to lie (docs/semantics.md, "Findings"). */
public final class PathFindings {

    private PathFindings() {}

    /** What one run wrote over what an earlier one had written, as far as the database has a part in it. */
    public static List<Finding> overwritten(Evaluation e, Collection<SharedPlace> places) {
        return places.stream().map(p -> finding(e, p)).toList();
    }

    private static Finding finding(Evaluation e, SharedPlace shared) {
        Lying last = shared.last();
        List<String> lost = shared.copies().stream()
                .map(Lying::backup)
                .distinct()
                .filter(b -> !b.equals(last.backup()))
                .toList();
        String path = last.place().path();
        String store = last.place().store();
        return Finding.of(
                "overwritten",
                Severity.CONTRADICTION,
                e.database().id(),
                store + " " + path,
                Optional.of(shared.copies().get(1).landed()),
                new Detail.Overwritten(last.kind(), last.backup(), lost, path, store, last.run()),
                shared.copies().stream().map(Lying::backup).distinct().toList());
    }
}
