package firth.server.evaluation;

import firth.core.findings.Readiness;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.inject.Singleton;

/** What the newest data backups of a database say of its readiness. */
@Singleton
class BackedPart implements SummaryPart<Readiness.Backed> {

    private final FactsHolder facts;

    BackedPart(FactsHolder facts) {
        this.facts = facts;
    }

    @Override
    public Readiness.Backed of(Answered one) {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.backed(one.id());
        }
    }
}
