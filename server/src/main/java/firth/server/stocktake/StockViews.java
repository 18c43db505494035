package firth.server.stocktake;

import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Stocktakes with what they found. */
@ApplicationScoped
public class StockViews {

    private final FactsHolder facts;
    private static final String TO_REMOVE = "to-remove";

    /** Of each sort so many finds come with the stocktake. */
    private static final int FIRST = 50;

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
        boolean may = mayDecide(id);
        Map<String, List<Find>> sorts = facts.store().stocktakes().finds(id).stream()
                .collect(Collectors.groupingBy(Find::what, LinkedHashMap::new, Collectors.toList()));
        return new StockView(
                view(take, fleet()),
                sorts.entrySet().stream()
                        .map(s -> new StockView.Found(s.getKey(), s.getValue().size()))
                        .toList(),
                (int) sorts.values().stream()
                        .flatMap(List::stream)
                        .filter(f -> f.state().equals(TO_REMOVE))
                        .count(),
                sorts.values().stream()
                        .flatMap(s -> s.stream().limit(FIRST))
                        .map(f -> view(f, may))
                        .toList(),
                may);
    }

    /** A stretch of the finds of one sort. */
    List<StockView.FindView> finds(String id, String what, ListPart stretch) {
        boolean may = mayDecide(id);
        return stretch
                .of(facts.store().stocktakes().finds(find(id).id()).stream()
                        .filter(f -> f.what().equals(what))
                        .toList())
                .stream()
                .map(f -> view(f, may))
                .toList();
    }

    /** Finds are decided about by operators, and only those of the newest stocktake of a store. */
    private boolean mayDecide(String id) {
        return who.has(Roles.OPERATOR)
                && facts.store().stocktakes().newest().stream().anyMatch(t -> t.id().equals(id));
    }

    /** The strays somebody wants removed, for whoever removes them. */
    String toRemove(String id) throws IOException {
        StringWriter out = new StringWriter();
        CSVFormat format =
                CSVFormat.RFC4180.builder().setHeader("path", "size", "written").get();
        try (CSVPrinter csv = new CSVPrinter(out, format)) {
            for (Find f : facts.store().stocktakes().finds(find(id).id())) {
                if (f.state().equals(TO_REMOVE)) {
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
                t.unplaced(),
                t.sums());
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
