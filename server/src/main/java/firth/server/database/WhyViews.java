package firth.server.database;

import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.restore.Footing;
import firth.core.restore.Planning;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.AskedWord;
import firth.server.platform.BadRequest;
import firth.server.platform.NotFound;
import firth.wording.EvidenceWords;
import firth.wording.explain.Explaining;
import firth.wording.explain.Explanation;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Why an age, a grade, a breach, a gap, a slot or a copy is what it is. */
@ApplicationScoped
class WhyViews {

    private final Evaluations evaluations;
    private final Lookout lookout;

    WhyViews(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /**
     * Why a figure or verdict is as it is.
     *
     * @param about age, grade, breach, gap, copy, slot or cadence
     * @param hazard of an age or breach: mishap, siteLoss or sabotage
     * @param position of a gap: the first missing position
     * @param lineage of a gap; absent: the first
     * @param stream of a gap or of cadence; absent: the first
     * @param schedule of a slot or of cadence
     * @param at when the breach, slot or stretch without logs begins
     * @param backup of a copy: the backup
     * @param store of a copy: the store it lies in
     */
    WhyView why(
            String id,
            @Nullable String asOf,
            @Nullable String period,
            @Nullable String about,
            String hazard,
            long position,
            @Nullable String lineage,
            @Nullable String stream,
            String schedule,
            @Nullable String at,
            String backup,
            String store) {
        Evaluations.Fleetwide one = evaluations.one(id, lookout.view(asOf, period));
        Evaluation e = computed(one);
        Explaining explaining = new Explaining(e);
        String ofLineage = lineage == null ? e.database().lineages().get(0).id() : lineage;
        String ofStream = stream == null ? e.database().streams().get(0) : stream;
        Optional<Explanation> why = switch (about == null ? "" : about) {
            case "age" -> Optional.of(explaining.age(AskedWord.hazard(hazard)));
            case "grade" -> Optional.of(explaining.grade());
            case "breach" -> explaining.breach(AskedWord.hazard(hazard), moment(at));
            case "gap" -> explaining.gap(ofLineage, ofStream, position);
            case "slot" -> explaining.slot(schedule, moment(at));
            case "cadence" -> explaining.cadence(schedule, ofStream, moment(at));
            case "copy" -> explaining.copy(backup, store);
            default -> throw new BadRequest("about", "is none of age, breach, cadence, copy, gap, grade, slot");
        };
        Optional<WhyView.FactView> known =
                "age".equals(about) ? known(one, e, AskedWord.hazard(hazard)) : Optional.empty();
        return why.map(x -> view(x, known))
                .orElseThrow(() -> new NotFound("There is no such " + about + " as of this moment."));
    }

    /** What the age rests on: how the copies of the way back to its moment are known. */
    private static Optional<WhyView.FactView> known(Evaluations.Fleetwide one, Evaluation e, Hazard hazard) {
        Planning planning = new Planning(one.facts(e), one.fleet().fleet(), e.asOf(), hazard, Losses.NONE);
        return planning.newestWay()
                .map(way -> EvidenceWords.of(Footing.of(way, e.history())) + " "
                        + planning.footing().map(EvidenceWords::ofCover).orElse(""))
                .map(known -> new WhyView.FactView("Evidence", null, null, known));
    }

    private static Instant moment(@Nullable String at) {
        try {
            return Instant.parse(at == null ? "" : at);
        } catch (DateTimeParseException e) {
            throw new BadRequest("at", "is not a moment such as 2026-11-23T09:12:00Z");
        }
    }

    static Evaluation computed(Evaluations.Fleetwide one) {
        return one.answers().get(0);
    }

    private static WhyView view(Explanation e, Optional<WhyView.FactView> known) {
        return new WhyView(
                e.title(),
                e.answer().stream()
                        .map(p -> new WhyView.Phrase(
                                p.words().orElse(null),
                                p.moment().orElse(null),
                                p.durationMs().map(ms -> ms / 1000.0).orElse(null)))
                        .toList(),
                Stream.concat(
                                e.facts().stream()
                                        .map(f -> new WhyView.FactView(
                                                f.label(), f.id().orElse(null), f.at().orElse(null), f.note())),
                                known.stream())
                        .toList(),
                e.rule(),
                e.section());
    }
}
