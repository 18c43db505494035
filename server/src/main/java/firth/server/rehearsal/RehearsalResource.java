package firth.server.rehearsal;

import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.List;

/** The fleet as if chosen things were gone. */
@Path("/api/rehearsals")
@RolesAllowed(Roles.VIEWER)
public class RehearsalResource {

    /** So many rows of each part come at once. */
    private static final int FIRST = 50;

    private final Rehearsals rehearsals;
    private final Rehearsing rehearsing;

    RehearsalResource(Rehearsals rehearsals, Rehearsing rehearsing) {
        this.rehearsals = rehearsals;
        this.rehearsing = rehearsing;
    }

    /** Those that are done, the newest first. */
    @GET
    public List<RehearsalView.RehearsalRow> all() {
        return rehearsals.all();
    }

    /** What can be lost. */
    @GET
    @Path("/losable")
    public RehearsalView.Losable losable() {
        return rehearsing.losable();
    }

    /** Begins one; look at it to see how far it has come. */
    @POST
    @RolesAllowed(Roles.OPERATOR)
    public RehearsalView begin(RehearsalView.Losing losing) {
        return rehearsals.begin(losing);
    }

    /** One with its first rows. */
    @GET
    @Path("/{id}")
    public RehearsalView one(@PathParam("id") String id) {
        return rehearsals.one(id).firstOf(FIRST);
    }

    /**
     * A stretch of the rows of one that is done.
     *
     * @param restored whether of the databases that are restored, in that order, or of the rest
     */
    @GET
    @Path("/{id}/rows")
    public List<RehearsalView.RehearsedRow> rows(
            @PathParam("id") String id,
            @QueryParam("restored") @DefaultValue("true") boolean restored,
            @BeanParam ListPart stretch) {
        RehearsalView.Rehearsed result = rehearsals.one(id).result();
        return result == null ? List.of() : stretch.of(result.rows(restored));
    }

    /** Stops one that is running; one that is done stays. */
    @DELETE
    @Path("/{id}")
    @RolesAllowed(Roles.OPERATOR)
    public void stop(@PathParam("id") String id) {
        rehearsals.stop(id);
    }
}
