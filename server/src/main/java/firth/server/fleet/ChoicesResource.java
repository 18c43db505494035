package firth.server.fleet;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What forms offer to choose among. */
@Path("/api/choices")
@RolesAllowed(Roles.VIEWER)
public class ChoicesResource {

    private final FleetViews fleetViews;

    ChoicesResource(FleetViews fleetViews) {
        this.fleetViews = fleetViews;
    }

    @GET
    public FleetChoices choices() {
        return fleetViews.choices();
    }

    /**
     * A few databases in service.
     *
     * @param words in their names or ids; empty: the first by name
     */
    @GET
    @Path("/databases")
    public List<FleetView.NamedDatabase> databases(@QueryParam("words") @Nullable String words) {
        return fleetViews.named(words);
    }
}
