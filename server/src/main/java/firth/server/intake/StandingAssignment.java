package firth.server.intake;

import firth.core.history.Stated;
import firth.core.model.Assigned;
import firth.core.model.Database;
import firth.core.model.StandingRule;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;

/** Gives databases nobody ever said anything of a policy and a route by the standing rules. */
@ApplicationScoped
public class StandingAssignment {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final ByHand byHand;
    private final Evaluations evaluations;

    /** How often shared records had changed when it last looked. */
    private volatile long lookedAt = -1;

    StandingAssignment(FactsHolder facts, Evaluations evaluations, Lookout lookout, ByHand byHand) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.byHand = byHand;
    }

    /** Looks for such databases and assigns them from now on; says how many there were. */
    int catchNew() {
        Instant now = lookout.now();
        List<Stated> stated = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            long change = snapshot.sharedChangeCount();
            if (change == lookedAt) {
                return 0;
            }
            lookedAt = change;
            FleetNow fleet = evaluations.fleet(snapshot);
            if (fleet.standing().isEmpty()) {
                return 0;
            }
            for (Database d : fleet.databases().values()) {
                if (isNew(d) && !d.retiredAt(now) && !fleet.standbys().isStandby(d.id())) {
                    StandingRule.of(d, fleet.standing()).stream()
                            .findFirst()
                            .map(rule -> assigned(d, rule, now))
                            .ifPresent(stated::add);
                }
            }
        }
        if (!stated.isEmpty()) {
            byHand.take(stated);
        }
        return stated.size();
    }

    /** Whether nobody ever gave it a policy or took one away. */
    private static boolean isNew(Database d) {
        return d.policy().isEmpty() && d.assigned().isEmpty();
    }

    private static Stated assigned(Database d, StandingRule rule, Instant now) {
        return StatedRecords.of(new Assigned(
                "standing:" + UUID.nameUUIDFromBytes((d.id() + now).getBytes(StandardCharsets.UTF_8)),
                d.id(),
                rule.policy(),
                rule.route(),
                now,
                "standing rule " + rule.id(),
                ""));
    }
}
