package firth.server.purge;

import firth.core.findings.Finding;
import firth.core.purge.StandingPurge;
import firth.server.evaluation.Condition;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.StandingPurges;
import firth.wording.FindingWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Whether anything may go by a standing purge at this moment. */
@ApplicationScoped
class StandingGate {

    private final FindingsNow findings;
    private final Evaluations evaluations;
    private final ItemReproof reproof;
    private final Lookout lookout;
    private final FactsHolder facts;

    StandingGate(
            FindingsNow findings, Evaluations evaluations, ItemReproof reproof, Lookout lookout, FactsHolder facts) {
        this.findings = findings;
        this.evaluations = evaluations;
        this.reproof = reproof;
        this.lookout = lookout;
        this.facts = facts;
    }

    /** The night a rule is in, where it is in force and as it was agreed to. */
    Optional<StandingPurge.Night> night(StandingPurges.Rule rule, Instant now) {
        return rule.state() == StandingPurges.State.IN_FORCE && isWhole(rule)
                ? StandingTerms.of(rule).nightAt(now)
                : Optional.empty();
    }

    /** Whether what a rule says is what two people said. */
    private boolean isWhole(StandingPurges.Rule rule) {
        return StandingTerms.hash(rule.policy(), rule.rule()).equals(rule.hash())
                && facts.store().deeds().about(about(rule.num()), "standing-purge-agreed").stream()
                        .anyMatch(d -> d.detail().contains("\"" + rule.hash() + "\""));
    }

    static String about(long num) {
        return "standing-purge-" + num;
    }

    /** Why nothing may go by a rule whatever the time; empty where nothing stands in the way. */
    String flaw(StandingPurges.Rule rule) {
        if (!isWhole(rule)) {
            return "what it says is not what two people put in force";
        }
        int approvals = approvals(rule.policy());
        return approvals > 1 ? "its policy asks for " + approvals + " approvals of each purge" : "";
    }

    /** How many approvals a policy asks for of each purge now. */
    int approvals(String policy) {
        return evaluations
                .fleetNow()
                .fleet()
                .versionAt(policy, lookout.now())
                .map(v -> reproof.approvalsByPolicy().getOrDefault(v.id() + " " + v.version(), 1))
                .orElse(1);
    }

    /** What lets nothing go by a rule now: what is wrong with it, or the finding that pauses it; empty where nothing does. */
    String shut(StandingPurges.Rule rule) {
        String flaw = flaw(rule);
        return flaw.isEmpty() ? pausedBy(StandingTerms.of(rule)) : flaw;
    }

    private String pausedBy(StandingPurge rule) {
        Lookout.View view = lookout.viewNow();
        FleetNow fleet = evaluations.fleetNow();
        List<Condition> conditions = findings.conditions(view);
        Set<String> followers = fleet.databases().values().stream()
                .filter(d ->
                        d.policyAt(view.asOf()).filter(rule.policy()::equals).isPresent())
                .map(d -> d.id())
                .collect(Collectors.toSet());
        return findings.now(fleet, conditions, view.asOf(), lookout.now()).stream()
                .filter(f -> pauses(rule, f.severity(), f.databases(), followers))
                .findFirst()
                .map(f -> "paused by a finding: " + of(f, fleet)
                        + FindingWords.of(f).title())
                .orElse("");
    }

    /** Whom a finding befalls. */
    private static String of(Finding f, FleetNow fleet) {
        int others = f.databases().size() - 1;
        return f.databases().isEmpty()
                ? ""
                : fleet.databaseName(f.databases().get(0)) + (others == 0 ? "" : " and " + others + " more") + ": ";
    }

    /** Whether a finding lets nothing go by a rule. */
    static boolean pauses(
            StandingPurge rule, Finding.Severity severity, List<String> databases, Set<String> followers) {
        return severity.urgency().compareTo(rule.pausedBy()) <= 0
                && (databases.isEmpty() || databases.stream().anyMatch(followers::contains));
    }

    /** The lists that standing purges made, each with its night. */
    Optional<Map.Entry<StandingPurges.Rule, StandingPurges.Night>> ofList(String purge) {
        return facts.store()
                .standingPurges()
                .nightOf(purge)
                .flatMap(n -> facts.store().standingPurges().find(n.num()).map(r -> Map.entry(r, n)));
    }

    /** Why nothing of a list may be deleted now; empty where it may, and of every list that people asked for. */
    String shut(String purge) {
        return ofList(purge)
                .map(of -> night(of.getKey(), lookout.now())
                        .filter(n -> n.date().equals(of.getValue().date()))
                        .map(n -> shut(of.getKey()))
                        .orElse("its night is over"))
                .orElse("");
    }
}
