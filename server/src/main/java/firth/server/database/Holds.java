package firth.server.database;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Hold;
import firth.core.retention.Verdict;
import firth.server.evaluation.Evaluations;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;

/** The holds on one database, and the room each of them alone takes. */
record Holds(Evaluations.Fleetwide one, Evaluation e) {

    /** Those in force at the moment of the evaluation, the newest first. */
    List<Hold> inForce() {
        return all().stream()
                .filter(h -> h.inForceAt(e.asOf()))
                .sorted(Comparator.comparing((Hold h) -> h.from().orElse(Instant.MIN))
                        .reversed()
                        .thenComparing(Hold::id))
                .toList();
    }

    /** Of holds on backups that nobody knows yet it is not known whose they are. */
    private List<Hold> all() {
        return one.fleet().holds(e.database().id()).stream()
                .filter(h -> h.backup()
                        .map(b -> e.history().row(b).isPresent())
                        .orElse(h.database().isPresent()))
                .toList();
    }

    List<DatabaseView.HoldView> views() {
        List<Hold> holds = inForce();
        double needed = holds.isEmpty() ? 0 : neededBytes(e);
        return holds.stream()
                .map(h -> new DatabaseView.HoldView(
                        h.id(),
                        h.backup().orElse(null),
                        h.moment().orElse(null),
                        h.reason(),
                        h.by(),
                        h.from().orElse(null),
                        h.until().orElse(null),
                        Math.max(0, needed - neededBytes(without(h)))))
                .toList();
    }

    private Evaluation without(Hold hold) {
        DatabaseFacts facts = one.facts(e);
        List<Hold> others = facts.holds().stream().filter(h -> !h.equals(hold)).toList();
        return Evaluation.of(
                new DatabaseFacts(facts.database(), facts.history(), others, facts.closures()),
                one.fleet().fleet(),
                e.asOf(),
                e.period());
    }

    private static double neededBytes(Evaluation judged) {
        double out = 0;
        for (int r = 0; r < judged.retention().size(); r++) {
            double own = judged.retention().bytes(r);
            if (judged.retention().verdict(r) == Verdict.NEEDED && !Double.isNaN(own)) {
                out += own;
            }
        }
        return out;
    }
}
