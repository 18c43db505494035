package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.History;
import firth.core.model.Component;
import firth.core.model.Traits;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;

/** Which data backups hold the parts of a database. A backup that names none holds them all. */
public final class HeldComponents {

    private final Evaluation e;
    private final History history;
    private final Function<String, Traits> told;
    private final Map<Integer, Set<String>> named = new HashMap<>();

    /**
     * A part and what restores it.
     *
     * @param backups the data backups that restore anything and hold it, as do all they build on; the newest first
     */
    public record Holding(Component component, List<String> backups) {}

    private HeldComponents(Evaluation e, Function<String, Traits> told) {
        this.e = e;
        this.history = e.history();
        this.told = told;
    }

    /**
     * Every part of the evaluation's database, in the order they were named.
     *
     * @param told what was said of a backup, by id; asked of those that restore anything, and what they build on
     */
    public static List<Holding> of(Evaluation e, Function<String, Traits> told) {
        HeldComponents holding = new HeldComponents(e, told);
        List<Component> components = e.database().particulars().components();
        if (components.isEmpty()) {
            return List.of();
        }
        List<Integer> usable = holding.usable();
        return components.stream()
                .map(c -> new Holding(
                        c,
                        usable.stream()
                                .filter(i -> holding.holds(i, c.name()))
                                .map(holding.history::id)
                                .toList()))
                .toList();
    }

    /** That some are in none, so that no restore would bring them back. */
    public static Optional<Finding> nowhere(Evaluation e, List<Holding> held) {
        List<String> lost = held.stream()
                .filter(h -> h.backups().isEmpty())
                .map(h -> h.component().name())
                .toList();
        if (lost.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                "component-nowhere",
                Severity.RULE_BROKEN,
                e.database().id(),
                e.database().id(),
                Optional.empty(),
                new Detail.ComponentsNowhere(lost),
                List.of()));
    }

    /** The data backups of which some copy restores something now. */
    private List<Integer> usable() {
        Set<Integer> out = new TreeSet<>();
        Retention retention = e.retention();
        for (int r = 0; r < retention.size(); r++) {
            int i = retention.backup(r);
            if (history.kind(i).isData() && retention.verdict(r) != Verdict.UNUSABLE) {
                out.add(i);
            }
        }
        List<Integer> newestFirst = new ArrayList<>(out);
        newestFirst.sort(Comparator.<Integer>comparingLong(i -> -history.consistentAtMs(i))
                .thenComparing(history::id));
        return newestFirst;
    }

    private boolean holds(int backup, String component) {
        for (int i = backup; i >= 0; i = history.parent(i)) {
            Set<String> own =
                    named.computeIfAbsent(i, n -> told.apply(history.id(n)).components());
            if (!own.isEmpty() && !own.contains(component)) {
                return false;
            }
        }
        return true;
    }
}
