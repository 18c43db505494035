package firth.wording.explain;

import firth.core.adherence.CadenceGap;
import firth.core.cover.Gap;
import firth.core.cover.RecoveryTimeline;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.objective.Breach;
import java.time.Instant;

/** Why an objective was not kept for a while, in a few words: the first that fits. */
public final class BreachCause {

    private BreachCause() {}

    /** The cause of a breach of an evaluation, and what ended it. */
    public static String of(Evaluation e, Hazard hazard, Breach breach) {
        return cause(e, hazard, breach) + ended(e, hazard, breach);
    }

    private static String cause(Evaluation e, Hazard hazard, Breach breach) {
        Instant stood = stoodAt(e, hazard, breach);
        for (Gap g : e.gaps()) {
            boolean over =
                    g.after().filter(a -> !a.isBefore(stood.minusSeconds(1))).isPresent()
                            && g.after().filter(a -> a.isBefore(breach.to())).isPresent();
            if (over) {
                return "a gap in the logs: " + g.cause().word().replace('-', ' ');
            }
        }
        long failed = e.history().runs().stream()
                .filter(r -> r.outcome() == Outcome.FAILED
                        && r.started().isAfter(stood)
                        && r.started().isBefore(breach.to()))
                .count();
        if (failed > 0) {
            return failed == 1 ? "a run failed" : failed + " runs failed";
        }
        for (CadenceGap c : e.cadence()) {
            if (c.from().isBefore(breach.to())
                    && c.to().filter(t -> !t.isAfter(breach.from())).isEmpty()) {
                return "no log landed for a while";
            }
        }
        if (hazard == Hazard.SITE_LOSS) {
            return "copies at another site came late, or not at all";
        }
        return hazard == Hazard.SABOTAGE ? "no newer copy was locked" : "nothing newer landed in time";
    }

    /** What the recovery point was as the breach began; the beginning of time where there was none. */
    private static Instant stoodAt(Evaluation e, Hazard hazard, Breach breach) {
        RecoveryTimeline timeline = e.under(hazard).timeline();
        long at = breach.from().toEpochMilli();
        int step = timeline.stepAt(at);
        long stood = step < 0 ? RecoveryTimeline.NOTHING : timeline.latestMs(step, at);
        return stood == RecoveryTimeline.NOTHING ? e.database().inServiceFrom() : Instant.ofEpochMilli(stood);
    }

    private static String ended(Evaluation e, Hazard hazard, Breach breach) {
        RecoveryTimeline timeline = e.under(hazard).timeline();
        int end = timeline.stepAt(breach.to().toEpochMilli());
        if (end < 0 || timeline.atMs(end) != breach.to().toEpochMilli() || timeline.cause(end) < 0) {
            return "";
        }
        int row = timeline.cause(end);
        String what = e.history().kind(row) == Kind.LOG ? "the log " : "the data backup ";
        return "; ended by " + what + e.history().id(row);
    }
}
