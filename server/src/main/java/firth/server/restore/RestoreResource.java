package firth.server.restore;

import com.fasterxml.jackson.databind.ObjectMapper;
import firth.server.documents.Rendering;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Getting databases back: plans, and restores that are done by them. */
@Path("/api/restore")
@RolesAllowed(Roles.VIEWER)
public class RestoreResource {

    private final Plans plans;
    private final WayInFull ways;
    private final Restores restores;
    private final Rendering rendering;
    private final ObjectMapper json;

    RestoreResource(Plans plans, WayInFull ways, Restores restores, Rendering rendering, ObjectMapper json) {
        this.plans = plans;
        this.ways = ways;
        this.restores = restores;
        this.rendering = rendering;
        this.json = json;
    }

    /** How to get a database back to a moment. */
    @GET
    @Path("/of/{database}")
    public RestoreView plan(@PathParam("database") String database, @BeanParam PlanAsked asked) {
        return plans.plan(database, asked);
    }

    /** The checklist of a plan, as it would be. */
    @GET
    @Path("/of/{database}/checklist.{form}")
    public Response checklist(
            @PathParam("database") String database,
            @PathParam("form") String form,
            @BeanParam PlanAsked asked,
            @QueryParam("name") @Nullable String name,
            @QueryParam("host") @Nullable String host)
            throws IOException {
        RestoreView plan = plans.plan(database, asked);
        RestoreView.RestoreBegun begun = new RestoreView.RestoreBegun(
                "",
                name == null || name.isEmpty() ? plan.destination().name() : name,
                host == null || host.isEmpty() ? plan.destination().host() : host,
                database.equals(name),
                List.of());
        WayInFull.InFull way = ways.of(database, asked);
        return written(
                new Restores.Stored(restores.list("not begun", plan, begun, way.logs()), way.logs(), way.recipe()),
                form);
    }

    /** Begins a restore: its checklist is kept. */
    @POST
    @Path("/of/{database}")
    @RolesAllowed(Roles.OPERATOR)
    public RestoreView.KeptRestore begin(
            @PathParam("database") String database, @BeanParam PlanAsked asked, RestoreView.RestoreBegun begun) {
        return restores.begin(plans.plan(database, asked), begun, ways.of(database, asked));
    }

    /** Restores that were begun, the newest first. */
    @GET
    @Path("/begun")
    public List<RestoreView.RestoreRow> all() {
        return restores.all();
    }

    @GET
    @Path("/begun/{id}")
    public RestoreView.KeptRestore one(@PathParam("id") String id) {
        return restores.one(id).kept();
    }

    @GET
    @Path("/begun/{id}/checklist.{form}")
    public Response kept(@PathParam("id") String id, @PathParam("form") String form) throws IOException {
        return written(restores.one(id), form);
    }

    /** Ticks a line off, or takes that back. */
    @POST
    @Path("/begun/{id}/tick")
    @RolesAllowed(Roles.OPERATOR)
    public RestoreView.KeptRestore tick(@PathParam("id") String id, RestoreView.Ticked ticked) {
        return restores.tick(id, ticked);
    }

    /** Takes how far a program is that carries it out (docs/drills.md, "A restore by machine"). */
    @POST
    @Path("/begun/{id}/course")
    @RolesAllowed({Roles.DRILLER, Roles.OPERATOR})
    public RestoreView.KeptRestore course(@PathParam("id") String id, RestoreView.RestoreCourse course) {
        return restores.course(id, course);
    }

    /** Enters how it ended. */
    @POST
    @Path("/begun/{id}/end")
    @RolesAllowed(Roles.OPERATOR)
    public RestoreView.KeptRestore end(@PathParam("id") String id, RestoreView.RestoreEnded ended) {
        return restores.end(id, ended);
    }

    private Response written(Restores.Stored document, String form) throws IOException {
        var sheet = Checklist.sheet(document.kept(), document.logs(), document.recipe());
        return switch (form) {
            case "html" -> answer(rendering.html(sheet), MediaType.TEXT_HTML);
            case "md" -> answer(rendering.markdown(sheet), "text/markdown");
            case "json" ->
                answer(json.writerWithDefaultPrettyPrinter().writeValueAsString(document), MediaType.APPLICATION_JSON);
            case "sh" -> answer(script(document), "text/x-shellscript");
            default -> throw new NotFound("A checklist is there as html, md, json or sh.");
        };
    }

    private static String script(Restores.Stored document) {
        if (document.recipe() == null) {
            throw new NotFound(
                    "There is no script for this plan: Firth has recipes for PostgreSQL, MariaDB and SQLite alone,"
                            + " for targets that are moments, and for copies that were looked at in their store (./firth observe).");
        }
        return document.recipe().script();
    }

    private static Response answer(String text, String type) {
        return Response.ok(text.getBytes(StandardCharsets.UTF_8), type + ";charset=UTF-8")
                .build();
    }
}
