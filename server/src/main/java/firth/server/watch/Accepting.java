package firth.server.watch;

import firth.core.model.Accept;
import firth.exchange.FleetFileReader;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Lookout;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** Bears findings for a while, and calls that back. */
@ApplicationScoped
class Accepting {

    private final Lookout lookout;
    private final FactsHolder facts;
    private final ByHand byHand;
    private final Who who;

    Accepting(Lookout lookout, FactsHolder facts, ByHand byHand, Who who) {
        this.lookout = lookout;
        this.facts = facts;
        this.byHand = byHand;
        this.who = who;
    }

    List<Accept> accepts() {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.documents("accept").stream()
                    .map(text -> (Accept) FleetFileReader.recordOf(text))
                    .toList();
        }
    }

    /** Bears a finding until a moment. */
    void accept(Watch.Bear bear) {
        Instant now = lookout.now();
        if (bear.finding().isBlank()) {
            throw new BadRequest("finding", "is missing: which finding is accepted?");
        }
        if (bear.reason().isBlank()) {
            throw new BadRequest("reason", "is missing: why is it acceptable?");
        }
        if (bear.until() == null || !bear.until().isAfter(now)) {
            throw new BadRequest("until", "is not in the future: when is it to come back?");
        }
        byHand.take(StatedRecords.of(new Accept(
                "accept:" + UUID.randomUUID(),
                bear.finding(),
                bear.reason().strip(),
                who.name(),
                now,
                bear.until(),
                Optional.empty())));
    }

    /** Calls an accept back: the finding stands among the others again. What was borne stays on record. */
    void withdraw(String id) {
        Accept accept = accepts().stream()
                .filter(a -> a.id().equals(id))
                .findFirst()
                .orElseThrow(() -> new NotFound("Nothing was accepted as " + id + "."));
        byHand.take(StatedRecords.of(new Accept(
                accept.id(),
                accept.finding(),
                accept.reason(),
                accept.by(),
                accept.at(),
                accept.until(),
                Optional.of(lookout.now()))));
    }
}
