package firth.server.policies;

import firth.core.forecast.Fare;
import firth.core.model.Hazard;
import firth.server.cover.CoverRows;
import java.time.Duration;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/** How many databases fare, as one column of figures. */
final class FaredViews {

    private FaredViews() {}

    /** @param name of the database of each */
    static Policies.Fared of(List<Fare> fares, IntFunction<String> name) {
        double[] kept = fares.stream()
                .map(Fare::attainment)
                .flatMap(Optional::stream)
                .mapToDouble(Double::doubleValue)
                .toArray();
        List<Integer> asked = IntStream.range(0, fares.size())
                .filter(i -> fares.get(i).reachHeld().isPresent())
                .boxed()
                .toList();
        List<Integer> missed = asked.stream()
                .filter(i -> !fares.get(i).reachHeld().orElse(true))
                .toList();
        return new Policies.Fared(
                kept.length == 0 ? null : Arrays.stream(kept).average().orElse(0),
                Arrays.stream(Hazard.values()).map(h -> worst(fares, name, h)).toList(),
                asked.size() - missed.size(),
                asked.size(),
                missed.stream().map(name::apply).toList(),
                fares.stream().mapToInt(Fare::slotsKept).sum(),
                fares.stream().mapToInt(Fare::slotsAsked).sum());
    }

    private static Policies.Worst worst(List<Fare> fares, IntFunction<String> name, Hazard hazard) {
        Optional<Integer> worst =
                IntStream.range(0, fares.size()).boxed().max(Comparator.comparing(i -> age(fares.get(i), hazard)));
        return new Policies.Worst(
                hazard.field(),
                worst.map(i -> CoverRows.seconds(age(fares.get(i), hazard))).orElse(0.0),
                worst.map(name::apply).orElse(null),
                fares.stream().anyMatch(f -> f.broken().contains(hazard)));
    }

    private static Duration age(Fare fare, Hazard hazard) {
        return fare.worst().getOrDefault(hazard, Duration.ZERO);
    }
}
