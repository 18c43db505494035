package firth.server.metrics;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.evaluation.HazardEvaluation;
import firth.core.model.Hazard;
import firth.core.model.Outcome;
import firth.server.evaluation.Answered;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** The figures of a database as a scraper reads them. */
@Singleton
class FigurePart implements SummaryPart<FigurePart.DatabaseFigures> {

    static final String NOTHING_PROMISED = "nothing-promised";

    /**
     * One database.
     *
     * @param grade without the hazards it is named with on pages
     * @param running how many runs are under way
     */
    record DatabaseFigures(Instant asOf, String grade, List<HazardFigures> readings, int running) {}

    /** @param grows whether the age goes on growing while nothing comes */
    record HazardFigures(
            Hazard hazard, Duration age, boolean grows, Optional<Duration> objective, Optional<Double> attainment) {

        /** The age a while after. */
        double ageSeconds(Instant asOf, Instant now) {
            Duration then = grows ? age.plus(Duration.between(asOf, now)) : age;
            return then.toMillis() / 1000.0;
        }
    }

    @Override
    public DatabaseFigures of(Answered one) {
        Evaluation e = one.answer();
        return new DatabaseFigures(
                e.asOf(),
                e.grade() == Grade.COVERED && e.promisesNothing()
                        ? NOTHING_PROMISED
                        : e.grade().word(),
                Arrays.stream(Hazard.values()).map(h -> reading(e, h)).toList(),
                (int) e.history().runs().stream()
                        .filter(r -> r.outcome() == Outcome.RUNNING
                                && !r.started().isAfter(e.asOf())
                                && r.ended().isEmpty())
                        .count());
    }

    private static HazardFigures reading(Evaluation e, Hazard hazard) {
        HazardEvaluation h = e.under(hazard);
        return new HazardFigures(
                hazard,
                h.age(),
                h.grows(e.database().clock(), e.asOf()),
                h.objective(),
                h.achieved().attainment());
    }
}
