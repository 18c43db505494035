package firth.core.findings;

import firth.core.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.Kind;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Backups that were written where another one was believed to lie (docs/semantics.md, "Findings"). */
public final class PathFindings {

    private PathFindings() {}

    /** Where a copy that counts as there lies in its store. */
    public record Placed(String backup, Kind kind, String store, String path, Instant landed) {}

    /**
     * What one run wrote over what an earlier one had written.
     *
     * @param placed the newest backups that are not logs, by their copies that are there at the moment of the evaluation
     */
    public static List<Finding> overwritten(Evaluation e, List<Placed> placed) {
        Map<String, List<Placed>> byPlace = new HashMap<>();
        placed.stream()
                .sorted(Comparator.comparing(Placed::landed).thenComparing(Placed::backup))
                .forEach(p -> byPlace.computeIfAbsent(p.store() + "\n" + p.path(), k -> new ArrayList<>())
                        .add(p));
        List<Finding> out = new ArrayList<>();
        byPlace.values().stream()
                .filter(same -> same.stream().map(Placed::backup).distinct().count() > 1)
                .sorted(Comparator.comparing(same -> same.get(0).backup()))
                .forEach(same -> out.add(finding(e, same)));
        return out;
    }

    private static Finding finding(Evaluation e, List<Placed> same) {
        Placed last = same.get(same.size() - 1);
        List<String> lost = same.stream()
                .map(Placed::backup)
                .distinct()
                .filter(b -> !b.equals(last.backup()))
                .toList();
        return Finding.of(
                "overwritten",
                Severity.CONTRADICTION,
                e.database().id(),
                e.database().id() + " " + last.store() + " " + last.path(),
                Optional.of(same.get(1).landed()),
                "its " + Wording.kindName(last.kind()) + " " + last.backup() + " was written over what lay there",
                String.join(", ", lost) + " and it claim the same file " + last.path() + " in " + last.store()
                        + ". Only the last one can be there; what is said to be restorable from the others is not.",
                "Give every backup a file of its own, and say of the copies that are no longer there that they are gone.",
                same.stream().map(Placed::backup).distinct().toList());
    }
}
