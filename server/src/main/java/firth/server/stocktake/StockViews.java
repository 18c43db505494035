package firth.server.stocktake;

import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Snapshot;
import firth.store.Stocktakes.Find;
import firth.store.Stocktakes.Take;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.StringWriter;
import java.time.Instant;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Stocktakes with what they found. */
@ApplicationScoped
public class StockViews {

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Who who;

    StockViews(FactsHolder facts, Evaluations evaluations, Who who) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.who = who;
    }

    /** One with what it found. */
    StockView one(String id) {
        Take take = find(id);
        boolean newest = facts.store().stocktakes().newest().stream().anyMatch(t -> t.id().equals(id));
        boolean may = newest && who.has(Roles.OPERATOR);
        return new StockView(
                view(take, fleet()),
                facts.store().stocktakes().finds(id).stream()
                        .map(f -> view(f, may))
                        .toList(),
                may);
    }

    /** The strays somebody wants removed, for whoever removes them. */
    String toRemove(String id) throws IOException {
        StringWriter out = new StringWriter();
        CSVFormat format =
                CSVFormat.RFC4180.builder().setHeader("path", "size", "written").get();
        try (CSVPrinter csv = new CSVPrinter(out, format)) {
            for (Find f : facts.store().stocktakes().finds(find(id).id())) {
                if (f.state().equals("to-remove")) {
                    csv.printRecord(
                            f.path(),
                            f.size().isPresent() ? f.size().getAsLong() : "",
                            f.written().map(Instant::toString).orElse(""));
                }
            }
        }
        return out.toString();
    }

    Take find(String id) {
        return facts.store().stocktakes().one(id).orElseThrow(() -> new NotFound("There is no stocktake " + id + "."));
    }

    FleetNow fleet() {
        try (Snapshot snapshot = facts.store().read()) {
            return evaluations.fleet(snapshot);
        }
    }

    public static StockView.TakeView view(Take t, FleetNow fleet) {
        return new StockView.TakeView(
                t.id(),
                t.store(),
                fleet.storeName(t.store()),
                t.askedBy(),
                t.askedAt(),
                t.taken().orElse(null),
                t.state(),
                t.told(),
                t.agreed(),
                t.files(),
                t.unplaced());
    }

    static StockView.FindView view(Find f, boolean may) {
        return new StockView.FindView(
                f.num(),
                f.what(),
                f.database().orElse(null),
                f.backup().orElse(null),
                f.path(),
                f.told(),
                f.size().isPresent() ? (double) f.size().getAsLong() : null,
                f.expected().isPresent() ? f.expected().getAsDouble() : null,
                f.written().orElse(null),
                f.since().orElse(null),
                f.what().equals("missing") && !f.asked(),
                f.state(),
                f.by().orElse(null),
                may ? Stocktaking.may(f) : List.of());
    }
}
