package firth.server.cover;

import firth.core.model.Hazard;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** The fleet in groups, each in the order asked for; databases without a policy stand first, then the strictest promise. */
final class Arrangement {

    /** Comes after whatever is promised. */
    private static final double NOTHING_ATTAINED = 2;

    private static final Comparator<String> BY_TEXT =
            String.CASE_INSENSITIVE_ORDER.thenComparing(Comparator.naturalOrder());

    private final CoverAsked asked;
    private final Instant asOf;

    Arrangement(CoverAsked asked, Instant asOf) {
        this.asked = asked;
        this.asOf = asOf;
    }

    /** Rows that belong together. */
    record Grouped(String title, String promise, List<Cover.Row> rows) {}

    List<Grouped> of(List<Cover.Row> all) {
        Map<List<String>, Grouped> groups = new LinkedHashMap<>();
        all.stream()
                .filter(asked.asked())
                .sorted(order())
                .forEach(row -> groups.computeIfAbsent(
                                named(row), name -> new Grouped(name.get(0), name.get(1), new ArrayList<>()))
                        .rows()
                        .add(row));
        return groups.values().stream()
                .sorted(Comparator.comparing(this::promises)
                        .thenComparingDouble(this::strictest)
                        .thenComparing(Grouped::title, BY_TEXT))
                .toList();
    }

    private Comparator<Cover.Row> order() {
        Comparator<Cover.Row> byName = Comparator.comparing(Cover.Row::name, BY_TEXT);
        return switch (asked.inOrder()) {
            case NAME -> byName;
            case AGE ->
                Comparator.comparingDouble((Cover.Row r) -> -overObjective(r, asOf))
                        .thenComparing(byName);
            case REACH -> Comparator.comparingDouble(Cover.Row::reachSeconds).thenComparing(byName);
            case ATTAINMENT ->
                Comparator.comparingDouble(Arrangement::leastAttained).thenComparing(byName);
        };
    }

    /** How far the age is beyond what is promised, under the hazard where it is furthest; -1 where nothing is promised. */
    static double overObjective(Cover.Row row, Instant asOf) {
        return row.hazards().stream()
                .mapToDouble(h -> over(h, row.at(), asOf))
                .max()
                .orElse(-1);
    }

    private static double over(Cover.HazardNow h, Instant at, Instant asOf) {
        if (h.objectiveSeconds() == null) {
            return -1;
        }
        double grown = h.grows() ? CoverRows.seconds(Duration.between(at, asOf)) : 0;
        return (h.ageSeconds() + grown) / h.objectiveSeconds();
    }

    private static double leastAttained(Cover.Row row) {
        double least = NOTHING_ATTAINED;
        for (Cover.HazardNow h : row.hazards()) {
            least = h.attainment() == null ? least : Math.min(least, h.attainment());
        }
        return least;
    }

    private List<String> named(Cover.Row row) {
        return switch (asked.grouping()) {
            case NONE -> List.of("All databases", "");
            case SITE -> List.of(row.site().isEmpty() ? "no site" : row.site(), "");
            case ENGINE -> List.of(row.engine().isEmpty() ? "engine not stated" : row.engine(), "");
            case POLICY -> policy(row.policy());
        };
    }

    private static List<String> policy(Cover.@Nullable Policy policy) {
        return policy == null
                ? List.of("No policy", "nothing is promised, nothing is purged")
                : List.of(policy.name(), policy.enabled() ? policy.promise() : "switched off");
    }

    private boolean promises(Grouped group) {
        return asked.grouping() != CoverAsked.Grouping.POLICY
                || group.rows().get(0).policy() != null;
    }

    private double strictest(Grouped group) {
        Hazard hazard = asked.hazard();
        double least = Double.MAX_VALUE;
        for (Cover.Row row : group.rows()) {
            for (Cover.HazardNow h : row.hazards()) {
                if (h.hazard().equals(hazard.field()) && h.objectiveSeconds() != null) {
                    least = Math.min(least, h.objectiveSeconds());
                }
            }
        }
        return least;
    }

    /** What there is to choose by, with how many databases have it. */
    static List<Cover.Choosable> choices(List<Cover.Row> all) {
        Map<String, Map<String, Integer>> counts = new LinkedHashMap<>();
        for (Cover.Row row : all) {
            CoverAsked.traits(row)
                    .forEach((kind, values) ->
                            values.forEach(v -> counts.computeIfAbsent(kind, k -> new TreeMap<>(BY_TEXT))
                                    .merge(v, 1, Integer::sum)));
        }
        return counts.entrySet().stream()
                .map(c -> new Cover.Choosable(
                        c.getKey(),
                        c.getValue().entrySet().stream()
                                .map(v -> new Cover.Counted(v.getKey(), v.getValue()))
                                .toList()))
                .toList();
    }
}
