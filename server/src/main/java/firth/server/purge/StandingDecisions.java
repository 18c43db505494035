package firth.server.purge;

import firth.core.record.Deed;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Refused;
import firth.server.platform.Who;
import firth.store.StandingPurges;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Where standing purges are proposed by one person, put in force by another, and withdrawn. */
@ApplicationScoped
class StandingDecisions {

    private static final int LONGEST = 1_000;

    private final Evaluations evaluations;
    private final StandingGate gate;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    StandingDecisions(Evaluations evaluations, StandingGate gate, FactsHolder facts, Lookout lookout, Who who) {
        this.evaluations = evaluations;
        this.gate = gate;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    /** Proposes a rule, in the place of another that waits for a second person. */
    long propose(StandingView.StandingProposal proposal) {
        if (proposal.terms() == null) {
            throw new BadRequest("terms", "are missing");
        }
        StandingView.Terms terms = proposal.terms();
        StandingTerms.of(terms);
        String reason = Optional.ofNullable(proposal.reason()).orElse("").strip();
        if (reason.isEmpty() || reason.length() > LONGEST) {
            throw new BadRequest("reason", "is not of 1 to " + LONGEST + " characters: why may it go by itself?");
        }
        if (evaluations.fleetNow().fleet().versions(terms.policy()).isEmpty()) {
            throw new BadRequest("policy", "is " + terms.policy() + ", which is no policy known here");
        }
        int approvals = gate.approvals(terms.policy());
        if (approvals > 1) {
            throw new BadRequest(
                    "policy",
                    terms.policy() + " asks for " + approvals
                            + " approvals of each purge: nothing of it goes by itself");
        }
        String rule = PurgeChoices.json(terms);
        Instant now = lookout.now();
        return facts.store().purges().act("The standing purge could not be proposed", steps -> {
            steps.standing()
                    .proposed(terms.policy())
                    .ifPresent(other -> steps.standing().withdraw(other, told("withdrawn", other, ""), now));
            StandingPurges.Rule made = new StandingPurges.Rule(
                    0,
                    terms.policy(),
                    rule,
                    StandingTerms.hash(terms.policy(), rule),
                    reason,
                    StandingPurges.State.PROPOSED,
                    who.id(),
                    now,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty());
            long num = steps.standing().propose(made);
            steps.standing().tell(told("proposed", num, made, reason), now);
            return num;
        });
    }

    /** Puts in force what another person proposed, from this moment on. */
    void agree(long num, String seen) {
        Instant now = lookout.now();
        facts.store().purges().change("The standing purge could not be put in force", steps -> {
            StandingPurges.Rule rule = known(steps.standing().find(num), num);
            demand(rule, "put in force", StandingPurges.State.PROPOSED);
            if (rule.by().equals(who.id())) {
                throw Refused.notYours(
                        "Whoever proposes a standing purge cannot put it in force.", "Let another person look at it.");
            }
            if (!rule.hash().equals(seen)
                    || !StandingTerms.hash(rule.policy(), rule.rule()).equals(rule.hash())) {
                throw new Conflict("What it says is not what was looked at.", "Look at it again.");
            }
            steps.standing().agree(rule, who.id(), told("agreed", rule, rule.reason()), now);
        });
    }

    /** Nothing more goes by it: a list it made is cancelled soon, and nothing of that is handed out meanwhile. */
    void withdraw(long num) {
        Instant now = lookout.now();
        facts.store().purges().change("The standing purge could not be withdrawn", steps -> {
            StandingPurges.Rule rule = known(steps.standing().find(num), num);
            demand(rule, "withdrawn", StandingPurges.State.PROPOSED, StandingPurges.State.IN_FORCE);
            steps.standing().withdraw(rule, told("withdrawn", rule, ""), now);
        });
    }

    private static StandingPurges.Rule known(Optional<StandingPurges.Rule> found, long num) {
        return found.orElseThrow(() -> new NotFound("There is no standing purge " + num + "."));
    }

    private static void demand(StandingPurges.Rule rule, String what, StandingPurges.State... states) {
        if (!java.util.Set.of(states).contains(rule.state())) {
            throw new Conflict(
                    "The standing purge " + rule.num() + " is " + rule.state().word() + " and cannot be " + what + ".",
                    "Look again: somebody may have changed it meanwhile.");
        }
    }

    private Deed.Told told(String act, StandingPurges.Rule rule, String reason) {
        return told(act, rule.num(), rule, reason);
    }

    private Deed.Told told(String act, long num, StandingPurges.Rule rule, String reason) {
        Map<String, Object> detail = new TreeMap<>();
        detail.put("policy", rule.policy());
        detail.put("hash", rule.hash());
        detail.put("says", rule.rule());
        if (!reason.isEmpty()) {
            detail.put("reason", reason);
        }
        return new Deed.Told(who.id(), "standing-purge-" + act, StandingGate.about(num), PurgeChoices.json(detail));
    }
}
