package firth.server.record;

import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;

/** Puts what programs delivered into the record when the hour is over. */
@ApplicationScoped
class HourlyEntries {

    private final FactsHolder facts;
    private final Lookout lookout;

    HourlyEntries(FactsHolder facts, Lookout lookout) {
        this.facts = facts;
        this.lookout = lookout;
    }

    @Scheduled(every = "60s", delayed = "20s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void enter() {
        facts.store().deliveries().enter(lookout.now());
    }
}
