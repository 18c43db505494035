package firth.server.fleet;

import firth.core.model.Database;
import firth.core.model.StandingRule;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Who falls under which standing rules. */
@ApplicationScoped
class Falling {

    /** Of each group so many are named. */
    private static final int NAMED = 30;

    private final Evaluations evaluations;
    private final Lookout lookout;

    Falling(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    /** Who would fall under which of some rules, whatever they follow now. */
    FleetView.FallsView falls(List<FleetChoices.Standing> rules) {
        List<StandingRule> tried = rules.stream().map(Falling::rule).toList();
        Instant now = lookout.now();
        Map<Group, List<FleetView.Falls>> groups = new LinkedHashMap<>();
        Map<String, Integer> first = new TreeMap<>();
        for (Database d : evaluations.fleetNow().databases().values()) {
            if (!d.retiredAt(now)) {
                List<StandingRule> own = StandingRule.of(d, tried);
                groups.computeIfAbsent(Group.of(own), g -> new ArrayList<>()).add(falls(d, own, now));
                own.stream().findFirst().ifPresent(r -> first.merge(r.id(), 1, Integer::sum));
            }
        }
        return new FleetView.FallsView(
                groups.entrySet().stream()
                        .map(g -> g.getKey().view(g.getValue()))
                        .toList(),
                first);
    }

    /** What databases have in common that are told of in one line. */
    private record Group(boolean divided, boolean rules, Optional<String> wouldFollow) {

        static Group of(List<StandingRule> own) {
            boolean divided = FleetViews.divided(own);
            return new Group(
                    divided,
                    !own.isEmpty(),
                    divided ? Optional.empty() : own.stream().findFirst().flatMap(StandingRule::policy));
        }

        FleetView.FallsGroup view(List<FleetView.Falls> all) {
            List<FleetView.Falls> some = all.subList(0, Math.min(NAMED, all.size()));
            return new FleetView.FallsGroup(divided, rules, wouldFollow.orElse(null), all.size(), some);
        }
    }

    private static FleetView.Falls falls(Database d, List<StandingRule> rules, Instant now) {
        return new FleetView.Falls(
                d.id(),
                d.name(),
                rules.stream().map(StandingRule::id).toList(),
                d.policyAt(now).orElse(null));
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
