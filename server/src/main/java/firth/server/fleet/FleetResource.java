package firth.server.fleet;

import com.fasterxml.jackson.databind.JsonNode;
import firth.server.intake.ImportView;
import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import firth.server.platform.SearchWords;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The fleet as a list to be kept: who is enrolled, who follows what, and who is not there that should be. */
@Path("/api/fleet")
@RolesAllowed(Roles.VIEWER)
public class FleetResource {

    private final FleetViews fleetViews;
    private final Enrolment enrolment;
    private final Falling falling;

    FleetResource(FleetViews fleetViews, Enrolment enrolment, Falling falling) {
        this.fleetViews = fleetViews;
        this.enrolment = enrolment;
        this.falling = falling;
    }

    /**
     * @param words in what is known of a database; empty: all
     * @param retired {@code yes}: retired ones, too
     */
    @GET
    public FleetView fleet(
            @QueryParam("words") @Nullable String words,
            @QueryParam("retired") @Nullable String retired,
            @BeanParam ListPart stretch) {
        return fleetViews.fleet(SearchWords.of(words), "yes".equals(retired), stretch);
    }

    /** Whether a database is fit for its schedules to be trusted, fact by fact. */
    @GET
    @Path("/{id}/readiness")
    public FleetView.ReadyView readiness(@PathParam("id") String id) {
        return fleetViews.readiness(id);
    }

    /** A database as it was last stated, to be stated anew with changes. */
    @GET
    @Path("/{id}")
    public FleetView.Written one(@PathParam("id") String id) {
        return enrolment.one(id);
    }

    /**
     * Takes databases as a form or a table says them; one that cannot be taken leaves the others unharmed.
     *
     * @param whole {@code yes}: each is said as a whole; else what is not said stays as it was
     */
    @POST
    @Path("/databases")
    @RolesAllowed(Roles.PLANNER)
    public ImportView state(List<JsonNode> stated, @QueryParam("whole") @Nullable String whole) throws IOException {
        return enrolment.state(stated, whole);
    }

    /** What would become of databases as a table says them, field by field; nothing is taken. */
    @POST
    @Path("/databases/compared")
    @RolesAllowed(Roles.PLANNER)
    public FleetView.ComparedTable compare(List<JsonNode> stated) {
        return enrolment.compare(stated);
    }

    /** Who would fall under which of some rules, whatever they follow now. */
    @POST
    @Path("/falls")
    public FleetView.FallsView falls(List<FleetChoices.Standing> rules) {
        return falling.falls(rules);
    }
}
