package firth.server.policies;

import firth.core.model.PolicyVersion;
import firth.exchange.PolicyDocument;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Puts what was written in force: as the newest version, from a moment that has not passed. */
@ApplicationScoped
class Forcing {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final PolicyFollowers following;
    private final ByHand byHand;
    private final Who who;
    private final PolicyViews policyViews;

    Forcing(
            FactsHolder facts,
            Lookout lookout,
            PolicyFollowers following,
            ByHand byHand,
            Who who,
            PolicyViews policyViews) {
        this.facts = facts;
        this.lookout = lookout;
        this.following = following;
        this.byHand = byHand;
        this.who = who;
        this.policyViews = policyViews;
    }

    /** Makes what was written the newest version, from a moment that has not passed. */
    Policies.VersionView putInForce(String id, Policies.PutInForce order) {
        if (order.why().isBlank()) {
            throw new BadRequest("why", "is missing: what is the reason?");
        }
        Evaluations.Fleetwide all = following.of(id);
        Instant now = lookout.now();
        Instant from = free(all.fleet().fleet().versions(id), moment(order.at(), all));
        PolicyDocument document = PolicyDocument.of(order.document()).as(id, policyViews.next(id), from);
        PolicyDocument.Reading reading = document.read();
        PolicyVersion version = reading.version()
                .orElseThrow(() -> new BadRequest(
                        reading.flaw().map(PolicyDocument.Flaw::path).orElse("The policy"),
                        reading.flaw().map(PolicyDocument.Flaw::reason).orElse("cannot be read")));
        String despite = Optional.ofNullable(order.despite()).orElse("").strip();
        if (despite.isEmpty()
                && !Consequences.flaws(version, following.inCommon(all), now).isEmpty()) {
            throw new BadRequest(
                    "despite", "is missing: the policy contradicts itself; say why it is put in force all the same");
        }
        PolicyDocument noted = document.noted(who.name(), now, order.why().strip(), despite);
        byHand.take(noted.stated());
        facts.store().drafts().remove(id);
        return new Policies.VersionView(
                version.version(), from, from.isAfter(now) ? "coming" : "in-force", noted.json());
    }

    private Instant moment(String at, Evaluations.Fleetwide all) {
        Instant now = lookout.now();
        if (at == null || at.equals("now")) {
            return now;
        }
        if (at.equals("quiet")) {
            return following
                    .quiet(all)
                    .orElseThrow(() ->
                            new BadRequest("at", "is not possible: within a week somebody is always inside a window"))
                    .at();
        }
        return Texts.instant(at)
                .filter(t -> !t.isBefore(now))
                .orElseThrow(() -> new BadRequest("at", "is neither now, quiet nor an instant that has not passed"));
    }

    /** Two versions never begin at the same moment. */
    private static Instant free(List<PolicyVersion> versions, Instant wanted) {
        Instant from = wanted;
        while (true) {
            Instant at = from;
            if (versions.stream().noneMatch(v -> v.effectiveFrom().equals(at))) {
                return from;
            }
            from = from.plusSeconds(1);
        }
    }
}
