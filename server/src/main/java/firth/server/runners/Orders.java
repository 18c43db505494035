package firth.server.runners;

import firth.core.history.History;
import firth.core.model.Kind;
import firth.core.model.Order;
import firth.exchange.FleetFileReader;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/** Backups somebody wants taken now, until a run takes them up. */
@ApplicationScoped
public class Orders {

    /** After so long nobody is taken to want it any more. */
    private static final Duration WANTED = Duration.ofHours(12);

    private final FactsHolder facts;

    Orders(FactsHolder facts) {
        this.facts = facts;
    }

    /** Those of all databases that may still be wanted, taken up or not. */
    public List<Order> wanted(Instant now) {
        try (Snapshot snapshot = facts.store().read()) {
            return snapshot.documents("order").stream()
                    .map(text -> (Order) FleetFileReader.recordOf(text))
                    .filter(o -> !o.at().isAfter(now) && o.at().plus(WANTED).isAfter(now))
                    .toList();
        }
    }

    /** Whether no run has taken it up. */
    public static boolean isOpen(Order order, History history) {
        boolean tried = history.runs().stream().anyMatch(r -> r.id().equals(order.id()));
        return !tried
                && (order.kind() == Kind.LOG || history.row(order.backup()).isEmpty());
    }
}
