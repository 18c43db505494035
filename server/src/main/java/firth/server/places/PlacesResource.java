package firth.server.places;

import com.fasterxml.jackson.databind.JsonNode;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.parameters.RequestBody;
import org.jspecify.annotations.Nullable;

/** Where backups lie and how they get there. */
@Path("/api/places")
@RolesAllowed(Roles.VIEWER)
public class PlacesResource {

    private final Places places;

    PlacesResource(Places places) {
        this.places = places;
    }

    /** All sites, stores and routes, retired ones, too. */
    @GET
    public PlacesView all() {
        return places.all();
    }

    /**
     * Takes a site, a store or a route as it is said as a whole: what is not said is no longer so.
     *
     * @param fresh {@code yes}: it is a new one, and refused where there is one of its id
     */
    @POST
    @Path("/{type}")
    @RolesAllowed(Roles.PLANNER)
    public PlacesView state(
            @PathParam("type") String type,
            @QueryParam("fresh") @Nullable String fresh,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = Map.class)))
                    JsonNode said) {
        places.state(type, said, "yes".equals(fresh));
        return places.all();
    }

    /**
     * Has something offered to nothing new any longer, once nothing that is in use goes by it; or offered again.
     *
     * @param type site, store or route
     */
    @POST
    @Path("/{type}/{id}/retired")
    @RolesAllowed(Roles.PLANNER)
    public PlacesView retire(@PathParam("type") String type, @PathParam("id") String id, Retired retired) {
        places.retire(type, id, retired.retired());
        return places.all();
    }

    /** Whether it is to be retired, or in use again. */
    public record Retired(boolean retired) {}
}
