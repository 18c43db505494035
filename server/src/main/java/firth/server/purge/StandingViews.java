package firth.server.purge;

import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Purges;
import firth.store.StandingPurges;
import firth.store.StandingPurges.State;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Standing purges as they are shown. */
@ApplicationScoped
class StandingViews {

    /** Nights of so many days are shown. */
    private static final int DAYS = 14;

    private final Evaluations evaluations;
    private final StandingGate gate;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    StandingViews(Evaluations evaluations, StandingGate gate, FactsHolder facts, Lookout lookout, Who who) {
        this.evaluations = evaluations;
        this.gate = gate;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    /** Every policy in force now, by name. */
    List<StandingView.StandingRow> all() {
        Instant now = lookout.now();
        FleetNow fleet = evaluations.fleetNow();
        List<StandingPurges.Rule> rules = facts.store().standingPurges().current();
        Map<String, Integer> followers = new HashMap<>();
        for (Database d : fleet.databases().values()) {
            d.policyAt(now).ifPresent(p -> followers.merge(p, 1, Integer::sum));
        }
        return fleet.fleet().policies().stream()
                .flatMap(p -> fleet.fleet().versionAt(p, now).stream())
                .sorted(Comparator.comparing(PolicyVersion::name).thenComparing(PolicyVersion::id))
                .map(v -> new StandingView.StandingRow(
                        v.id(),
                        v.name(),
                        followers.getOrDefault(v.id(), 0),
                        gate.approvals(v.id()),
                        standing(rules, v.id(), State.IN_FORCE),
                        standing(rules, v.id(), State.PROPOSED),
                        nights(v.id(), now)))
                .toList();
    }

    private StandingView.@Nullable StandingEntry standing(List<StandingPurges.Rule> rules, String policy, State state) {
        return rules.stream()
                .filter(r -> r.policy().equals(policy) && r.state() == state)
                .findFirst()
                .map(this::standing)
                .orElse(null);
    }

    private StandingView.StandingEntry standing(StandingPurges.Rule rule) {
        List<String> may = new ArrayList<>();
        if (rule.state() == State.PROPOSED
                && who.has(Roles.APPROVER)
                && !rule.by().equals(who.id())) {
            may.add("agree");
        }
        if (who.has(Roles.KEEPER)) {
            may.add("withdraw");
        }
        return new StandingView.StandingEntry(
                rule.num(),
                StandingTerms.terms(rule),
                rule.hash(),
                rule.reason(),
                rule.by(),
                rule.at(),
                rule.agreedBy().orElse(null),
                rule.agreedAt().orElse(null),
                may,
                rule.state() == State.IN_FORCE ? gate.flaw(rule) : "");
    }

    private List<StandingView.NightRow> nights(String policy, Instant now) {
        LocalDate from = now.atZone(ZoneOffset.UTC).toLocalDate().minusDays(DAYS);
        return facts.store().standingPurges().nights(policy, from).stream()
                .map(this::night)
                .toList();
    }

    private StandingView.NightRow night(StandingPurges.Night night) {
        Optional<Purges.Purge> purge = night.purge().flatMap(facts.store().purges()::find);
        List<PurgeView.ProofView> proofs = purge.map(CoverAfterPurge::proofs).orElse(List.of());
        return new StandingView.NightRow(
                night.date().toString(),
                night.purge().orElse(null),
                purge.map(p -> p.state().word()).orElse(null),
                proofs.stream().mapToInt(PurgeView.ProofView::copies).sum(),
                proofs.stream().mapToDouble(PurgeView.ProofView::bytes).sum(),
                night.said());
    }
}
