package firth.server.stocktake;

import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Snapshot;
import firth.store.Stocktakes.Find;
import firth.store.Stocktakes.Take;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.io.InputStream;
import java.io.StringWriter;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;

/** Comparing stores with the catalog. */
@Path("/api/stocktakes")
@RolesAllowed(Roles.VIEWER)
public class StocktakeResource {

    private final Stocktaking taking;
    private final Listings listings;
    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Lookout lookout;
    private final Who who;

    StocktakeResource(
            Stocktaking taking,
            Listings listings,
            FactsHolder facts,
            Evaluations evaluations,
            Lookout lookout,
            Who who) {
        this.taking = taking;
        this.listings = listings;
        this.facts = facts;
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.who = who;
    }

    /** The stocktakes of a store, the newest first. */
    @GET
    @Path("/of/{store}")
    public List<StockView.TakeView> all(@PathParam("store") String store) {
        FleetNow fleet = fleet();
        return facts.store().stocktakes().ofStore(store).stream()
                .map(t -> view(t, fleet))
                .toList();
    }

    /** Asks the agent of a store for a listing. */
    @POST
    @Path("/of/{store}")
    @RolesAllowed(Roles.OPERATOR)
    public StockView.TakeView ask(@PathParam("store") String store) {
        return view(taking.ask(known(store)), fleet());
    }

    /**
     * Takes a listing somebody made by hand: NDJSON or CSV.
     *
     * @param taken when the listing was begun; absent: now
     * @param whole whether it is all there is, however much it lacks
     */
    @POST
    @Path("/of/{store}/listing")
    @Consumes({"application/x-ndjson", "text/csv"})
    @RolesAllowed(Roles.OPERATOR)
    public StockView.ListingTaken list(
            @PathParam("store") String store,
            @QueryParam("taken") @Nullable String taken,
            @QueryParam("whole") boolean whole,
            InputStream body)
            throws IOException {
        Take asked = new Take(
                Stocktaking.newId(), known(store), who.id(), lookout.now(), Optional.empty(), "asked", "", 0, 0, 0);
        return listings.take(asked, body, taken, whole);
    }

    /** One with what it found. */
    @GET
    @Path("/{id}")
    public StockView one(@PathParam("id") String id) {
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

    /** Decides about a find, or undoes that. */
    @POST
    @Path("/{id}/finds/{num}")
    @RolesAllowed(Roles.OPERATOR)
    public void decide(@PathParam("id") String id, @PathParam("num") int num, StockView.Decided decided) {
        taking.decide(find(id), num, String.valueOf(decided.what()));
    }

    /** The strays somebody wants removed, for whoever removes them. */
    @GET
    @Path("/{id}/to-remove.csv")
    @Produces(MediaType.TEXT_PLAIN)
    public String toRemove(@PathParam("id") String id) throws IOException {
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

    private Take find(String id) {
        return facts.store().stocktakes().one(id).orElseThrow(() -> new NotFound("There is no stocktake " + id + "."));
    }

    private String known(String store) {
        return fleet().fleet()
                .store(store)
                .map(s -> s.id())
                .orElseThrow(() -> new NotFound("There is no store " + store + "."));
    }

    private FleetNow fleet() {
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

    private static StockView.FindView view(Find f, boolean may) {
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
