package firth.server.drills;

import firth.core.evaluation.Evaluation;
import firth.core.model.Drill;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.server.evaluation.Evaluations;
import firth.server.restore.DrillTimes;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** How fast stores were read from, by drills that went well: what they read from one store alone, in the time all of it took. */
public final class ObservedReadRates {

    private ObservedReadRates() {}

    /** Bytes a second of each drill that read from this store alone; never more than it was, for applying took time too. */
    public static List<Double> of(Evaluations.Fleetwide all, String store) {
        List<Double> out = new ArrayList<>();
        for (Evaluation e : all.answers()) {
            for (Drill d : all.fleet().drills(e.database().id())) {
                Optional<Duration> took = DrillTimes.took(d).filter(t -> !t.isZero());
                if (d.ok().orElse(false) && took.isPresent()) {
                    DrillTimes.plan(d, all.facts(e), all.fleet().fleet())
                            .flatMap(w -> bytes(w, store))
                            .ifPresent(b -> out.add(b * 1000 / took.get().toMillis()));
                }
            }
        }
        return out;
    }

    private static Optional<Double> bytes(Way way, String store) {
        double sum = 0;
        for (Step s : way.steps()) {
            if (!s.store().equals(store) || s.bytes().isEmpty()) {
                return Optional.empty();
            }
            sum += s.bytes().getAsDouble();
        }
        return Optional.of(sum);
    }
}
