package firth.server.stores;

import firth.core.findings.Finding;
import firth.core.findings.StockFindings;
import firth.core.model.BackupStore;
import firth.server.evaluation.HouseFindings;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.policies.LookAhead;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/** Stores that run full soon if nothing is purged. Looked ahead now and then, for that is long work and moves slowly. */
@ApplicationScoped
class FillingStores implements HouseFindings {

    /** What runs full later is not spoken of yet. */
    static final Duration AHEAD = Duration.ofDays(14);

    /** After a look it rests so many times as long as that took. */
    private static final int REST = 400;

    private final Summaries summaries;
    private final StockPart part;
    private final LookAhead ahead;
    private final Lookout lookout;
    private volatile List<Finding> known = List.of();
    private Instant next = Instant.MIN;

    FillingStores(Summaries summaries, StockPart part, LookAhead ahead, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
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
        Parts<StockPart.Stock> all = summaries.all(lookout.view("", ""), part);
        if (all.now().fleet().stores().stream().noneMatch(s -> s.capacityBytes().isPresent())) {
            known = List.of();
            return;
        }
        LookAhead.AsItIs as = ahead.fleetwide();
        StoreSums sums = StoreSums.of(all.each());
        List<Finding> out = new ArrayList<>();
        for (BackupStore store : all.now().fleet().stores()) {
            double own = sums.in(store.id()).held();
            double keeps = sums.in(store.id()).needed();
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

    private static List<String> within(Parts<StockPart.Stock> all, String store) {
        return IntStream.range(0, all.each().size())
                .filter(i -> all.each().get(i).lying().containsKey(store))
                .mapToObj(i -> all.databases().get(i).id())
                .toList();
    }
}
