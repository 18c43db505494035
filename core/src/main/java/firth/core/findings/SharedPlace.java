package firth.core.findings;

import firth.core.model.Kind;
import firth.core.model.Place;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A place of a store at which more than one backup is said to lie: what landed last was written over the others
 * (docs/semantics.md, "One place, one backup").
 *
 * @param copies in the order they landed, then by id; at least two
 */
public record SharedPlace(Place place, List<Lying> copies) {

    /**
     * A copy that counts as there.
     *
     * @param run what made it, where that is known
     */
    public record Lying(Place place, String backup, String database, Kind kind, Optional<String> run, Instant landed) {}

    /** The places at which several backups lie, by the first that landed there. */
    public static List<SharedPlace> among(Collection<Lying> there) {
        Map<Place, List<Lying>> byPlace = new LinkedHashMap<>();
        there.stream()
                .sorted(Comparator.comparing(Lying::landed).thenComparing(Lying::backup))
                .forEach(l -> byPlace.computeIfAbsent(l.place(), p -> new ArrayList<>())
                        .add(l));
        return byPlace.entrySet().stream()
                .filter(e -> e.getValue().stream().map(Lying::backup).distinct().count() > 1)
                .map(e -> new SharedPlace(e.getKey(), List.copyOf(e.getValue())))
                .toList();
    }

    /** What was written last. */
    public Lying last() {
        return copies.get(copies.size() - 1);
    }

    /** Whether a database has a part in it. */
    public boolean concerns(String database) {
        return copies.stream().anyMatch(c -> c.database().equals(database));
    }
}
