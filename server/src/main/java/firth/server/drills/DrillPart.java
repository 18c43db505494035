package firth.server.drills;

import firth.core.evaluation.Evaluation;
import firth.core.findings.DrillFindings;
import firth.core.model.Drill;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.SummaryPart;
import firth.server.restore.DrillTimes;
import firth.server.restore.Plans;
import jakarta.inject.Singleton;
import java.util.List;
import java.util.Optional;

/** How a database stands with its drills, and what those that were done came to. */
@Singleton
class DrillPart implements SummaryPart<DrillPart.Drilled> {

    /** @param row while it is in service */
    record Drilled(Optional<DrillsView.DrillRow> row, List<DrillsView.DrillDone> done) {}

    @Override
    public Drilled of(Answered one) {
        Evaluation e = one.answer();
        if (!e.database().isServedAt(e.asOf())) {
            return new Drilled(Optional.empty(), List.of());
        }
        List<Drill> own = one.now().drills(one.id());
        return new Drilled(
                Optional.of(row(e, own)),
                own.stream()
                        .filter(d -> d.at().filter(at -> !at.isAfter(e.asOf())).isPresent())
                        .map(d -> done(one.alone(), e, d))
                        .toList());
    }

    private static DrillsView.DrillRow row(Evaluation e, List<Drill> drills) {
        DrillFindings.DrillStanding s = DrillFindings.standing(e, drills);
        boolean due = s.due().filter(d -> !d.isAfter(e.asOf())).isPresent();
        return new DrillsView.DrillRow(
                e.database().id(),
                e.database().name(),
                e.version().map(v -> v.name()).orElse(null),
                s.every().map(Plans::seconds).orElse(null),
                s.proved().flatMap(Drill::at).orElse(null),
                s.due().orElse(null),
                state(s, due),
                null);
    }

    private static String state(DrillFindings.DrillStanding s, boolean due) {
        if (s.failed().isPresent()) {
            return "failed";
        }
        if (due) {
            return "due";
        }
        return s.every().isEmpty() ? "none" : s.proved().isPresent() ? "proved" : "awaited";
    }

    private static DrillsView.DrillDone done(Evaluations.Fleetwide all, Evaluation e, Drill d) {
        String outcome = d.ok().isEmpty()
                ? "untold"
                : !d.ok().get() ? "failed" : d.checks().isEmpty() ? "unchecked" : "proved";
        return new DrillsView.DrillDone(
                d.id(),
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                d.at().orElseThrow(),
                d.moment().orElse(null),
                d.reached().orElse(null),
                d.backup().orElse(null),
                outcome,
                DrillTimes.took(d).map(Plans::seconds).orElse(null),
                DrillTimes.expected(d, all.facts(e), all.fleet().fleet())
                        .map(Plans::seconds)
                        .orElse(null),
                d.checks(),
                d.message(),
                outcome.equals("failed") ? CopiesRead.dataOf(all, e, d).size() : 0);
    }
}
