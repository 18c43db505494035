package firth.server.fleet;

import firth.core.model.Database;
import firth.core.model.StandingRule;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Who falls under which standing rules. */
@ApplicationScoped
class Falling {

    private final Evaluations evaluations;
    private final Lookout lookout;

    Falling(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /** Who would fall under which of some rules, whatever they follow now. */
    List<FleetView.Falls> falls(List<FleetChoices.Standing> rules) {
        List<StandingRule> tried = rules.stream().map(Falling::rule).toList();
        Instant now = lookout.now();
        return evaluations.fleetNow().databases().values().stream()
                .filter(d -> !d.retiredAt(now))
                .map(d -> falls(d, StandingRule.of(d, tried), now))
                .toList();
    }

    private static FleetView.Falls falls(Database d, List<StandingRule> rules, Instant now) {
        return new FleetView.Falls(
                d.id(),
                d.name(),
                rules.stream().map(StandingRule::id).toList(),
                FleetViews.divided(rules),
                d.policyAt(now).orElse(null),
                rules.stream().findFirst().flatMap(StandingRule::policy).orElse(null));
    }

    private static StandingRule rule(FleetChoices.Standing r) {
        return new StandingRule(
                r.id(),
                r.order(),
                r.labels() == null ? Map.of() : r.labels(),
                stated(r.engine()),
                stated(r.site()),
                stated(r.system()),
                stated(r.name()),
                stated(r.policy()),
                stated(r.route()),
                r.enabled());
    }

    private static Optional<String> stated(@Nullable String text) {
        return Optional.ofNullable(text).filter(t -> !t.isBlank());
    }
}
