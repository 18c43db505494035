package firth.server.own;

import firth.server.api.OwnView;
import firth.server.people.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;

/** Copies of Firth's own facts. */
@Path("/api/own")
@RolesAllowed(Roles.VIEWER)
public class OwnResource {

    private final OwnSafety safety;

    OwnResource(OwnSafety safety) {
        this.safety = safety;
    }

    @GET
    public OwnView view() {
        return safety.view();
    }

    /** Writes a copy now. */
    @POST
    @RolesAllowed(Roles.ADMINISTRATOR)
    public OwnView write() {
        return safety.write();
    }
}
