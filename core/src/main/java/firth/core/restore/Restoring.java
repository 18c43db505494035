package firth.core.restore;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * One database to be restored beside others.
 *
 * @param parts in the order they are done
 * @param promised how long its restore may take from the moment all begin
 */
public record Restoring(String database, List<Part> parts, Optional<Duration> promised) {

    public Restoring {
        parts = List.copyOf(parts);
    }

    /**
     * Something to read, and what is to be done with it once it is there.
     *
     * @param store whose read rate it shares with others
     * @param bytes to read, at least 0
     * @param work that takes nothing from the store, such as applying logs
     */
    public record Part(String store, double bytes, Duration work) {}

    /**
     * What a way comes to: what is read from one store in one go is one part.
     *
     * @param rates bytes a second of each store where it is known
     * @return empty where the time of some step is not known
     */
    public static Optional<Restoring> of(
            String database, Way way, Optional<Duration> promised, Function<String, Optional<Double>> rates) {
        if (!way.timeKnown()) {
            return Optional.empty();
        }
        List<Part> out = new ArrayList<>();
        String store = null;
        double bytes = 0;
        double workMs = 0;
        for (Step step : way.steps()) {
            if (store != null && !store.equals(step.store())) {
                out.add(new Part(store, bytes, Duration.ofMillis(Math.round(workMs))));
                bytes = 0;
                workMs = 0;
            }
            store = step.store();
            double own = step.bytes().orElse(0);
            double reading = own / rates.apply(store).orElseThrow() * 1000;
            bytes += own;
            workMs += Math.max(0, step.time().orElseThrow().toMillis() - reading);
        }
        if (store != null) {
            out.add(new Part(store, bytes, Duration.ofMillis(Math.round(workMs))));
        }
        return Optional.of(new Restoring(database, out, promised));
    }
}
