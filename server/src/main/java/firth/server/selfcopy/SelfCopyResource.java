package firth.server.selfcopy;

import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;

/** Copies of Firth's own facts. */
@Path("/api/own")
@RolesAllowed(Roles.VIEWER)
public class SelfCopyResource {

    private final SelfCopying safety;

    SelfCopyResource(SelfCopying safety) {
        this.safety = safety;
    }

    @GET
    public SelfCopyView view() {
        return safety.view();
    }

    /** Writes a copy now. */
    @POST
    @RolesAllowed(Roles.ADMINISTRATOR)
    public SelfCopyView write() {
        return safety.write();
    }
}
