package firth.server.evaluation;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Followers;
import firth.core.forecast.Forecast;
import firth.core.forecast.Habits;
import firth.core.forecast.QuietMoment;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The databases that follow a policy now, as their rules see them. */
@ApplicationScoped
public class PolicyFollowers {

    private static final int KEPT = 100;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final Map<String, Known> bases = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Known> eldest) {
            return size() > KEPT;
        }
    };

    /** What was worked out for an answer; good for as long as that is the answer. */
    private record Known(Evaluation answer, Forecast.Basis basis) {}

    PolicyFollowers(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /** Those who follow a policy now, evaluated as of the newest facts. */
    public Evaluations.Fleetwide of(String policy) {
        Instant now = lookout.now();
        return evaluations.those(d -> d.policyAt(now).filter(policy::equals).isPresent(), lookout.view("", ""));
    }

    /** What a look ahead at a database starts from. */
    @SuppressWarnings(
            "ReferenceEquality") // whether it is the very one that was kept: looking inside would cost what is to be
    // saved
    public Forecast.Basis basis(Evaluations.Fleetwide all, Evaluation answer) {
        String id = answer.database().id();
        synchronized (bases) {
            Known known = bases.get(id);
            if (known != null && known.answer == answer) {
                return known.basis;
            }
        }
        DatabaseFacts facts = all.facts(answer);
        Forecast.Basis basis = new Forecast.Basis(facts, all.fleet().fleet(), answer.asOf());
        synchronized (bases) {
            bases.put(id, new Known(answer, basis));
        }
        return basis;
    }

    /** What the followers have in common. */
    public Followers inCommon(Evaluations.Fleetwide all) {
        Map<Database, Habits> habits = new LinkedHashMap<>();
        List<Forecast.Basis> found =
                all.answers().parallelStream().map(a -> basis(all, a)).toList();
        for (int i = 0; i < found.size(); i++) {
            habits.put(all.answers().get(i).database(), found.get(i).habits());
        }
        return Followers.of(habits, all.fleet().fleet());
    }

    /** When rules could change without catching anybody inside a window. */
    public Optional<QuietMoment> quiet(Evaluations.Fleetwide all) {
        Map<Database, History> histories = new LinkedHashMap<>();
        all.answers().forEach(a -> histories.put(a.database(), a.history()));
        return QuietMoment.from(
                lookout.now(), histories, all.fleet().fleet(), all.fleet().closures());
    }
}
