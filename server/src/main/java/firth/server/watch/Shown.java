package firth.server.watch;

import firth.core.findings.Finding;
import firth.core.findings.Finding.Urgency;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * Which of many findings are shown at once: all where they are few, else the first of each kind, for many of one kind mostly have one
 * cause.
 */
final class Shown {

    /** So many are read at one look. */
    private static final int FEW = 40;

    /** Of each kind, where there are more. */
    private static final int OF_A_KIND = 3;

    private static final int NAMED = 6;

    private final List<Finding> shown = new ArrayList<>();
    private final List<Watch.FoldedFindings> folds = new ArrayList<>();
    private final int[] urgencies = new int[Urgency.values().length];
    private int accepted;

    /**
     * Chooses among findings.
     *
     * @param all in their order, which stays
     * @param borne which are accepted; these are shown in any case
     * @param name of a database by its id
     */
    Shown(List<Finding> all, Predicate<Finding> borne, Function<String, String> name) {
        Map<String, List<Finding>> kinds = new LinkedHashMap<>();
        for (Finding f : all) {
            if (borne.test(f)) {
                accepted++;
                shown.add(f);
            } else {
                urgencies[f.severity().urgency().ordinal()]++;
                List<Finding> own = kinds.computeIfAbsent(kind(f), k -> new ArrayList<>());
                own.add(f);
                if (all.size() <= FEW || own.size() <= OF_A_KIND) {
                    shown.add(f);
                }
            }
        }
        if (all.size() > FEW) {
            kinds.values().stream().filter(own -> own.size() > OF_A_KIND).forEach(own -> folds.add(fold(own, name)));
        }
    }

    private static String kind(Finding f) {
        return f.code() + "|" + f.severity();
    }

    private static Watch.FoldedFindings fold(List<Finding> own, Function<String, String> name) {
        Finding first = own.get(0);
        List<Finding> more = own.subList(OF_A_KIND, own.size());
        return new Watch.FoldedFindings(
                first.code(),
                first.severity().word(),
                first.severity().urgency().word(),
                OF_A_KIND,
                more.size(),
                more.stream()
                        .flatMap(f -> f.databases().stream())
                        .distinct()
                        .limit(NAMED)
                        .map(name)
                        .toList());
    }

    List<Finding> findings() {
        return shown;
    }

    List<Watch.FoldedFindings> folds() {
        return folds;
    }

    Watch.FindingCounts counts() {
        return new Watch.FindingCounts(
                urgencies[Urgency.BROKEN.ordinal()],
                urgencies[Urgency.WILL_BREAK.ordinal()],
                urgencies[Urgency.BESIDES.ordinal()],
                urgencies[Urgency.HOUSEKEEPING.ordinal()],
                accepted);
    }
}
