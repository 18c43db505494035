package firth.server.evaluation;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import java.util.List;

/**
 * A database's answer with what it was worked out from.
 *
 * @param view the moment of the answer, and its period
 */
public record Answered(FleetNow now, Evaluation answer, Lookout.View view) {

    public String id() {
        return answer.database().id();
    }

    /** Tells the records the answer rests on from others. */
    public String rules() {
        return now.rules(answer.database());
    }

    public Fleet fleet() {
        return now.fleet();
    }

    public DatabaseFacts facts() {
        return alone().facts(answer);
    }

    /** The answer as if it were the whole fleet's. */
    public Evaluations.Fleetwide alone() {
        return new Evaluations.Fleetwide(now, List.of(answer));
    }
}
