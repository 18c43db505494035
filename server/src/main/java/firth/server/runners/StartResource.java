package firth.server.runners;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;

/** Backups started now: what each would cost and give, and the order for one. */
@Path("/api/databases/{id}/starts")
@RolesAllowed(Roles.VIEWER)
public class StartResource {

    private final Offering offering;

    StartResource(Offering offering) {
        this.offering = offering;
    }

    /** What can be started, with what it would cost and give. */
    @GET
    public RunnerWork.Offers offers(@PathParam("id") String id) {
        return offering.offers(id);
    }

    /** Orders one. A hold keeps its backup where that is asked for. */
    @POST
    @RolesAllowed(Roles.OPERATOR)
    public RunnerWork.OrderedRun start(@PathParam("id") String id, RunnerWork.Start wanted) {
        return offering.start(id, wanted);
    }
}
