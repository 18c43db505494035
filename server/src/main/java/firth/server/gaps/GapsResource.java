package firth.server.gaps;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import org.jspecify.annotations.Nullable;

/** The holes in the logs of the whole fleet, and where outages line up. */
@Path("/api/gaps")
@RolesAllowed(Roles.VIEWER)
public class GapsResource {

    private final GapViews gapViews;

    GapsResource(GapViews gapViews) {
        this.gapViews = gapViews;
    }

    @GET
    public GapsView gaps(@QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        return gapViews.gaps(asOf, period);
    }
}
