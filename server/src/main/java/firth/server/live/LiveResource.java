package firth.server.live;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.io.IOException;

/** Faults to try on the live fleet. */
@Path("/api/live")
@RolesAllowed(Roles.VIEWER)
public class LiveResource {

    private final LiveFleet fleet;

    LiveResource(LiveFleet fleet) {
        this.fleet = fleet;
    }

    @GET
    public LiveView all() throws IOException {
        return fleet.view();
    }

    /** Asks for one to be broken, or to be put right. */
    @POST
    @Path("/{fault}")
    @RolesAllowed(Roles.OPERATOR)
    public void ask(@PathParam("fault") String fault, LiveView.FaultWish wish) throws IOException {
        fleet.ask(fault, wish.broken());
    }
}
