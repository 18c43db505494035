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
                Wording.kindName(last.kind()) + " " + last.backup() + " was written over what lay there",
                String.join(", ", lost) + " and it claim the same place " + path + " in " + store
                        + last.run().map(r -> "; run " + r + " wrote it last").orElse("")
                        + ". Only the last one can be there; what is said to be restorable from the others is not. None of"
                        + " them is purged.",
                "Give every backup a place of its own, and say of the copies that are no longer there that they are gone.",
                shared.copies().stream().map(Lying::backup).distinct().toList());
    }
}
