package firth.core.restore;

import firth.core.history.History;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * What ways back rest on: how the copies they read are known (docs/semantics.md, "Evidence").
 *
 * @param weakest of all of them: it is known no better
 * @param backups how many are known how, the weakest first; config backups are none of them
 */
public record Footing(Evidence weakest, SortedMap<Evidence, Integer> backups) {

    public Footing {
        backups = Collections.unmodifiableSortedMap(new TreeMap<>(backups));
    }

    /** @param history that holds the backups of the way */
    public static Footing of(Way way, History history) {
        List<Evidence> read = new ArrayList<>();
        for (Step step : way.steps()) {
            if (step.kind() != Kind.CONFIG) {
                history.row(step.backup()).ifPresent(i -> read.add(of(history, i, step.store())));
            }
        }
        return of(read);
    }

    /** @param read how each backup is known */
    static Footing of(Collection<Evidence> read) {
        EnumMap<Evidence, Integer> backups = new EnumMap<>(Evidence.class);
        read.forEach(e -> backups.merge(e, 1, Integer::sum));
        return new Footing(backups.keySet().stream().findFirst().orElse(Evidence.TOLD), new TreeMap<>(backups));
    }

    private static Evidence of(History history, int backup, String store) {
        for (int c = history.firstCopy(backup); c < history.firstCopy(backup + 1); c++) {
            if (history.store(c).equals(store)) {
                return history.evidence(c);
            }
        }
        return Evidence.TOLD;
    }

    /** How many backups are read. */
    public int read() {
        return backups.values().stream().mapToInt(Integer::intValue).sum();
    }
}
