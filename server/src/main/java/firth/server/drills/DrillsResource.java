package firth.server.drills;

import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Proving that restores work. */
@Path("/api/drills")
@RolesAllowed(Roles.VIEWER)
public class DrillsResource {

    private final Drills drills;

    DrillsResource(Drills drills) {
        this.drills = drills;
    }

    @GET
    public DrillsView view(@QueryParam("asOf") @Nullable String asOf, @BeanParam ListPart stretch) {
        return drills.view(asOf, stretch);
    }

    /** Proposes a drill; the proposal is kept until somebody tells what became of it. */
    @POST
    @RolesAllowed({Roles.OPERATOR, Roles.DRILLER})
    public DrillsView.Proposal propose(DrillsView.DrillWanted wanted) {
        return drills.propose(Optional.ofNullable(wanted.database()).filter(d -> !d.isBlank()));
    }

    /** Takes what became of a proposed drill. */
    @POST
    @Path("/{id}/result")
    @RolesAllowed({Roles.OPERATOR, Roles.DRILLER})
    public void tell(@PathParam("id") String id, DrillsView.DrillResult result) {
        drills.tell(id, result);
    }

    /** Marks the copies a failed drill read as spoiled. */
    @POST
    @Path("/{id}/suspect")
    @RolesAllowed(Roles.OPERATOR)
    public DrillsView.Suspected suspect(@PathParam("id") String id) {
        return drills.suspect(id);
    }
}
