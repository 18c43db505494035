package firth.server.restore;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.restore.Planning;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.exchange.Told;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;

/** The logs a plan reads, one by one. */
@ApplicationScoped
class PlanLogs {

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    PlanLogs(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    List<Checklist.LogLine> of(String database, PlanAsked asked) {
        Lookout.View view = lookout.view(asked.asOf(), "");
        Evaluations.Fleetwide one = evaluations.one(database, view);
        Evaluation e = one.answers().get(0);
        Planning planning =
                new Planning(one.facts(e), one.fleet().fleet(), view.asOf(), asked.hazard(), asked.losses());
        try (Snapshot snapshot = facts.store().read()) {
            List<Way> ways = Plans.ways(e.database(), planning, asked, snapshot);
            return ways.stream()
                    .limit(1)
                    .flatMap(w -> w.logs().stream())
                    .map(s -> line(e.history(), s, snapshot))
                    .toList();
        }
    }

    private static Checklist.LogLine line(History h, Step s, Snapshot snapshot) {
        int i = h.row(s.backup()).orElseThrow();
        String told = snapshot.copyTold(s.backup(), s.store());
        return new Checklist.LogLine(
                s.backup(),
                s.store(),
                s.stream().orElse(""),
                h.logFrom(i),
                h.logTo(i),
                Told.path(told).orElse(""),
                Told.checksum(told).orElse(""),
                Told.key(snapshot.rest(s.backup())).orElse(""));
    }
}
