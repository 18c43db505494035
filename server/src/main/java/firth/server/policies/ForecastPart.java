package firth.server.policies;

import firth.core.forecast.Forecast;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Part;
import firth.server.evaluation.PolicyFollowers;
import jakarta.inject.Singleton;

/** What a database's backups will take up under the rules in force. */
@Singleton
public class ForecastPart implements Part<Forecast> {

    private final PolicyFollowers following;

    ForecastPart(PolicyFollowers following) {
        this.following = following;
    }

    @Override
    public Forecast of(Answered one) {
        return Forecast.of(following.basis(one.alone(), one.answer()), one.fleet(), LookAhead.DAYS);
    }
}
