package firth.wording.explain;

import firth.core.cover.RecoveryTimeline;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.objective.Breach;
import firth.wording.explain.Explanation.Fact;
import firth.wording.explain.Explanation.Phrase;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Explains breaches: what the recovery point stood at, what moved it last, and what ended it. */
final class BreachWhy {

    private BreachWhy() {}

    static Optional<Explanation> of(Evaluation e, Hazard hazard, Instant from) {
        HazardEvaluation h = e.under(hazard);
        return h.breaches().stream()
                .filter(b -> b.from().equals(from))
                .findFirst()
                .map(b -> explain(e, h, b));
    }

    private static Explanation explain(Evaluation e, HazardEvaluation h, Breach breach) {
        List<Phrase> answer = new ArrayList<>(List.of(
                Phrase.words("From "),
                Phrase.at(breach.from()),
                Phrase.words(" the recovery point was older than its objective, at worst "),
                Phrase.lasting(breach.worstMs())));
        List<Fact> facts = new ArrayList<>();
        RecoveryTimeline timeline = h.timeline();
        int step = timeline.stepAt(breach.from().toEpochMilli());
        if (step >= 0 && timeline.latestMs(step, breach.from().toEpochMilli()) != RecoveryTimeline.NOTHING) {
            long stoodAt = timeline.latestMs(step, breach.from().toEpochMilli());
            facts.add(new Fact(
                    "recovery point as it began", Optional.empty(), Optional.of(Instant.ofEpochMilli(stoodAt)), ""));
            moved(e, timeline, step, "what moved it last before").ifPresent(facts::add);
        } else {
            facts.add(new Fact(
                    "nothing could be restored",
                    Optional.empty(),
                    Optional.of(breach.from()),
                    "the age counts from the in-service moment"));
        }
        int end = timeline.stepAt(breach.to().toEpochMilli());
        boolean ended = end >= 0 && timeline.atMs(end) == breach.to().toEpochMilli();
        answer.add(Phrase.words(ended ? "; what came at " : "; it lasted until "));
        answer.add(Phrase.at(breach.to()));
        answer.add(Phrase.words(ended ? " ended it." : "."));
        if (ended) {
            moved(e, timeline, end, "what ended it").ifPresent(facts::add);
        }
        e.version()
                .ifPresent(v -> facts.add(new Fact(
                        "policy " + v.name() + ", version " + v.version(),
                        Optional.of(v.id()),
                        Optional.of(v.effectiveFrom()),
                        "in force now; a breach is judged by the version in force at each moment of it")));
        return new Explanation(
                "Breach of an objective",
                answer,
                facts,
                "A breach is a longest stretch in which the age exceeds the objective in force; breaches that touch are one.",
                "Recovery point, age, achieved RPO");
    }

    private static Optional<Fact> moved(Evaluation e, RecoveryTimeline timeline, int step, String label) {
        int row = timeline.cause(step);
        if (row < 0) {
            return Optional.empty();
        }
        History history = e.history();
        String note = history.kind(row) == Kind.LOG ? "a log" : "a data backup";
        return Optional.of(new Fact(
                label, Optional.of(history.id(row)), Optional.of(Instant.ofEpochMilli(timeline.atMs(step))), note));
    }
}
