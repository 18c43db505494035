package firth.server.runners;

import firth.core.adherence.Due;
import firth.server.evaluation.Answered;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.time.Instant;

/** Up to when nothing becomes due of a database, so that its facts need not be read each time its runner asks. */
@Singleton
class DuePart implements SummaryPart<Instant> {

    private static final Duration WITHIN = Duration.ofHours(1);

    @Override
    public Instant of(Answered one) {
        return Due.quietUntil(one.facts(), one.fleet(), one.answer().asOf(), WITHIN);
    }
}
