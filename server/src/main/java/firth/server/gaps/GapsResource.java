package firth.server.gaps;

import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
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
    public GapsView gaps(@BeanParam GapsAsked asked, @BeanParam ListPart stretch) {
        return gapViews.gaps(asked, stretch);
    }

    /** Where outages line up, by store. */
    @GET
    @Path("/outages")
    public GapsView.Outages outages(
            @QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        return gapViews.outages(asOf, period);
    }
}
