package firth.server.stocktake;

import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Stocktakes.Take;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Comparing stores with the catalog. */
@Path("/api/stocktakes")
@RolesAllowed(Roles.VIEWER)
public class StocktakeResource {

    private final Stocktaking taking;
    private final Listings listings;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;
    private final StockViews stockViews;

    StocktakeResource(
            Stocktaking taking, Listings listings, FactsHolder facts, Lookout lookout, Who who, StockViews stockViews) {
        this.taking = taking;
        this.listings = listings;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
        this.stockViews = stockViews;
    }

    /** The stocktakes of a store, the newest first. */
    @GET
    @Path("/of/{store}")
    public List<StockView.TakeView> all(@PathParam("store") String store) {
        FleetNow fleet = stockViews.fleet();
        return facts.store().stocktakes().ofStore(store).stream()
                .map(t -> StockViews.view(t, fleet))
                .toList();
    }

    /**
     * Asks the agent of a store for a listing.
     *
     * @param sums whether it is to read every file through, and not look at its size alone
     */
    @POST
    @Path("/of/{store}")
    @RolesAllowed(Roles.OPERATOR)
    public StockView.TakeView ask(@PathParam("store") String store, @QueryParam("sums") boolean sums) {
        return StockViews.view(taking.ask(known(store), sums), stockViews.fleet());
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
                Stocktaking.newId(),
                known(store),
                who.id(),
                lookout.now(),
                Optional.empty(),
                "asked",
                "",
                0,
                0,
                0,
                false);
        return listings.take(asked, body, taken, whole);
    }

    /** One with what it found. */
    @GET
    @Path("/{id}")
    public StockView one(@PathParam("id") String id) {
        return stockViews.one(id);
    }

    /** Decides about a find, or undoes that. */
    @POST
    @Path("/{id}/finds/{num}")
    @RolesAllowed(Roles.OPERATOR)
    public void decide(@PathParam("id") String id, @PathParam("num") int num, StockView.Decided decided) {
        taking.decide(stockViews.find(id), num, String.valueOf(decided.what()));
    }

    /** A stretch of the finds of one sort. */
    @GET
    @Path("/{id}/finds")
    public List<StockView.FindView> finds(
            @PathParam("id") String id,
            @QueryParam("what") @DefaultValue("missing") String what,
            @BeanParam ListPart part) {
        return stockViews.finds(id, what, part);
    }

    /** The strays somebody wants removed, for whoever removes them. */
    @GET
    @Path("/{id}/to-remove.csv")
    @Produces(MediaType.TEXT_PLAIN)
    public String toRemove(@PathParam("id") String id) throws IOException {
        return stockViews.toRemove(id);
    }

    private String known(String store) {
        return stockViews
                .fleet()
                .fleet()
                .store(store)
                .map(s -> s.id())
                .orElseThrow(() -> new NotFound("There is no store " + store + "."));
    }
}
