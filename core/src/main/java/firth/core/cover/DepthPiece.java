package firth.core.cover;

import firth.core.model.Hazard;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * A stretch of the past with the hazards its moments survive; both ends included where it is a moment on its own.
 *
 * @param survives at least one hazard
 */
public record DepthPiece(Instant from, Instant to, Set<Hazard> survives) {

    /** Puts what each hazard leaves on top of each other; moments on their own come as pieces of no length. */
    public static List<DepthPiece> layered(Map<Hazard, List<Piece>> restorable) {
        TreeMap<Instant, EnumMap<Hazard, Integer>> changes = new TreeMap<>();
        TreeMap<Instant, Set<Hazard>> points = new TreeMap<>();
        restorable.forEach((hazard, pieces) -> pieces.forEach(p -> {
            if (p.isPoint()) {
                points.computeIfAbsent(p.from(), x -> EnumSet.noneOf(Hazard.class))
                        .add(hazard);
            } else {
                changes.computeIfAbsent(p.from(), x -> new EnumMap<>(Hazard.class))
                        .merge(hazard, 1, Integer::sum);
                changes.computeIfAbsent(p.to(), x -> new EnumMap<>(Hazard.class))
                        .merge(hazard, -1, Integer::sum);
            }
        }));
        List<DepthPiece> out = new ArrayList<>();
        EnumMap<Hazard, Integer> open = new EnumMap<>(Hazard.class);
        Instant since = null;
        for (Map.Entry<Instant, EnumMap<Hazard, Integer>> change : changes.entrySet()) {
            Set<Hazard> now = EnumSet.noneOf(Hazard.class);
            open.forEach((hazard, count) -> {
                if (count > 0) {
                    now.add(hazard);
                }
            });
            if (!now.isEmpty() && since != null) {
                out.add(new DepthPiece(since, change.getKey(), now));
            }
            change.getValue().forEach((hazard, by) -> open.merge(hazard, by, Integer::sum));
            since = change.getKey();
        }
        points.forEach((at, hazards) -> {
            Set<Hazard> survives = EnumSet.copyOf(hazards);
            out.stream()
                    .filter(p -> !p.from().isAfter(at) && !p.to().isBefore(at))
                    .forEach(p -> survives.addAll(p.survives()));
            out.add(new DepthPiece(at, at, survives));
        });
        out.sort(java.util.Comparator.comparing(DepthPiece::from).thenComparing(DepthPiece::to));
        return out;
    }
}
