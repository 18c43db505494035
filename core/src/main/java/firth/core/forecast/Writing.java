package firth.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * Something that writes into a store for a while, as it did or is expected to.
 *
 * @param who whose backup it is
 * @param bytesPerSecond how fast, above 0
 */
public record Writing(String store, String who, Instant from, Instant to, double bytesPerSecond) {

    /**
     * Several at once that are together faster than a store has ever been seen to take.
     *
     * @param shown the fastest the store has been seen to take
     */
    public record Collision(
            String store, Instant from, Instant to, List<String> who, double bytesPerSecond, double shown) {}

    /** By how much expected rates may exceed what was seen before that is told from chance. */
    private static final double TOLERANCE = 1.05;

    /** The fastest each store was seen to take: the greatest sum of what wrote at one time. */
    public static Map<String, Double> shown(List<Writing> done) {
        Map<String, Double> out = new HashMap<>();
        sweep(done, (store, from, to, running) -> out.merge(store, rate(running), Math::max));
        return out;
    }

    /** Where more is expected at once than a store has shown, stretch by stretch; touching stretches are one. */
    public static List<Collision> collisions(List<Writing> expected, Map<String, Double> shown) {
        List<Growing> out = new ArrayList<>();
        sweep(expected, (store, from, to, running) -> {
            double seen = shown.getOrDefault(store, 0.0);
            double rate = running.size() < 2 || seen <= 0 ? 0 : rate(running);
            if (rate <= seen * TOLERANCE) {
                return;
            }
            Growing last = out.isEmpty() ? null : out.get(out.size() - 1);
            if (last == null || !last.store.equals(store) || !last.to.equals(from)) {
                last = new Growing(store, from, seen);
                out.add(last);
            }
            last.grow(to, rate, running);
        });
        return out.stream().map(Growing::whole).toList();
    }

    /** A collision as far as it was passed over. */
    private static final class Growing {
        private final String store;
        private final Instant from;
        private final double seen;
        private final Set<String> who = new LinkedHashSet<>();
        private Instant to;
        private double rate;

        Growing(String store, Instant from, double seen) {
            this.store = store;
            this.from = from;
            this.seen = seen;
            this.to = from;
        }

        void grow(Instant end, double together, List<Writing> running) {
            running.stream()
                    .map(Writing::who)
                    .filter(w -> !who.contains(w))
                    .distinct()
                    .sorted()
                    .forEach(who::add);
            to = end;
            rate = Math.max(rate, together);
        }

        Collision whole() {
            return new Collision(store, from, to, List.copyOf(who), rate, seen);
        }
    }

    private static double rate(List<Writing> running) {
        return running.stream().mapToDouble(Writing::bytesPerSecond).sum();
    }

    private interface Stretch {

        /** @param running stands for the time of the call alone */
        void of(String store, Instant from, Instant to, List<Writing> running);
    }

    /** Passes over each store's time, from one beginning or end to the next. */
    private static void sweep(List<Writing> all, Stretch stretch) {
        Map<String, List<Writing>> byStore = new TreeMap<>();
        for (Writing w : all) {
            if (Duration.between(w.from, w.to).toMillis() > 0) {
                byStore.computeIfAbsent(w.store, s -> new ArrayList<>()).add(w);
            }
        }
        byStore.forEach((store, own) -> {
            List<Writing> byFrom =
                    own.stream().sorted(Comparator.comparing(Writing::from)).toList();
            List<Instant> cuts = own.stream()
                    .flatMap(w -> Stream.of(w.from, w.to))
                    .distinct()
                    .sorted()
                    .toList();
            List<Writing> running = new ArrayList<>();
            Instant firstEnd = Instant.MAX;
            int next = 0;
            for (int c = 0; c + 1 < cuts.size(); c++) {
                Instant at = cuts.get(c);
                if (!firstEnd.isAfter(at)) {
                    running.removeIf(w -> !w.to.isAfter(at));
                    firstEnd = running.stream()
                            .map(Writing::to)
                            .min(Comparator.naturalOrder())
                            .orElse(Instant.MAX);
                }
                while (next < byFrom.size() && !byFrom.get(next).from.isAfter(at)) {
                    Writing begun = byFrom.get(next++);
                    running.add(begun);
                    firstEnd = begun.to.isBefore(firstEnd) ? begun.to : firstEnd;
                }
                if (!running.isEmpty()) {
                    stretch.of(store, at, cuts.get(c + 1), running);
                }
            }
        });
    }
}
