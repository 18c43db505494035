package firth.server.stores;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.findings.StockFindings;
import firth.core.model.BackupStore;
import firth.core.retention.Verdict;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.HouseFindings;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
import firth.server.policies.LookAhead;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Stores that run full soon if nothing is purged. Looked ahead now and then, for that is long work and moves slowly. */
@ApplicationScoped
class FillingStores implements HouseFindings {

    /** What runs full later is not spoken of yet. */
    static final Duration AHEAD = Duration.ofDays(14);

    /** After a look it rests so many times as long as that took. */
    private static final int REST = 400;

    private final Evaluations evaluations;
    private final LookAhead ahead;
    private final Lookout lookout;
    private volatile List<Finding> known = List.of();
    private Instant next = Instant.MIN;

    FillingStores(Evaluations evaluations, LookAhead ahead, Lookout lookout) {
        this.evaluations = evaluations;
        this.ahead = ahead;
        this.lookout = lookout;
    }

    @Override
    public List<Finding> findings(Instant now) {
        return known;
    }

    /** Looks ahead, so seldom that with a large fleet it takes little of the machine. */
    @Scheduled(every = "15m", delayed = "40s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void lookNowAndThen() {
        Instant begun = Instant.now();
        if (begun.isBefore(next)) {
            return;
        }
        look();
        Instant over = Instant.now();
        next = over.plus(Duration.between(begun, over).multipliedBy(REST));
    }

    void look() {
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        if (all.fleet().fleet().stores().stream()
                .noneMatch(s -> s.capacityBytes().isPresent())) {
            known = List.of();
            return;
        }
        LookAhead.AsItIs as = ahead.fleetwide();
        Map<String, Double> held = RetainedBytes.byStore(all.answers(), v -> true);
        Map<String, Double> needed = RetainedBytes.byStore(all.answers(), v -> v == Verdict.NEEDED);
        List<Finding> out = new ArrayList<>();
        for (BackupStore store : all.fleet().fleet().stores()) {
            double own = held.getOrDefault(store.id(), 0.0);
            double keeps = needed.getOrDefault(store.id(), 0.0);
            StoreFill filling = new StoreFill(as, store, own, keeps);
            filling.fullAt(filling.goes())
                    .filter(at -> at.isBefore(as.from().plus(AHEAD)))
                    .ifPresent(at -> out.add(StockFindings.fills(
                            store,
                            at,
                            own,
                            own - keeps,
                            filling.fullAt(filling.purged()).isPresent(),
                            within(all, store.id()))));
        }
        known = List.copyOf(out);
    }

    private static List<String> within(Evaluations.Fleetwide all, String store) {
        return all.answers().stream()
                .filter(e -> holds(e, store))
                .map(e -> e.database().id())
                .sorted()
                .toList();
    }

    private static boolean holds(Evaluation e, String store) {
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().store(k).equals(store)) {
                return true;
            }
        }
        return false;
    }
}
