package firth.server.agents;

import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.server.stocktake.Listings;
import firth.server.stocktake.StockView;
import firth.store.Stocktakes.Take;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.io.InputStream;
import org.jspecify.annotations.Nullable;

/** What lies in a store, as its agent lists it (docs/agents.md). */
@Path("/api/agents/{store}/listing")
@RolesAllowed(Roles.AGENT)
public class AgentListingResource {

    private final Listings listings;
    private final FactsHolder facts;
    private final Who who;

    AgentListingResource(Listings listings, FactsHolder facts, Who who) {
        this.listings = listings;
        this.facts = facts;
        this.who = who;
    }

    /** Takes the listing an agent was asked for. */
    @POST
    @Consumes("application/x-ndjson")
    public StockView.ListingTaken listed(
            @PathParam("store") String store,
            @QueryParam("stocktake") @Nullable String stocktake,
            @QueryParam("taken") @Nullable String taken,
            InputStream body)
            throws IOException {
        who.checkAgentAt(store);
        Take asked = facts.store()
                .stocktakes()
                .awaited(store)
                .filter(t -> t.id().equals(stocktake))
                .orElseThrow(
                        () -> new NotFound("Nobody waits for a listing of " + store + " called " + stocktake + "."));
        return listings.take(asked, body, taken, false);
    }
}
