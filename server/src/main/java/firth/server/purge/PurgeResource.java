package firth.server.purge;

import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.UriInfo;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Freeing room: what may go, the proof, asking, approving and carrying out. */
@Path("/api/purge")
@RolesAllowed(Roles.VIEWER)
public class PurgeResource {

    private final ListDecisions decisions;
    private final Batches handing;
    private final ComingObsolete coming;
    private final PurgeLists lists;
    private final ChoiceViews choiceViews;
    private final ListFiles listFiles;

    PurgeResource(
            ListDecisions decisions,
            Batches handing,
            ComingObsolete coming,
            PurgeLists lists,
            ChoiceViews choiceViews,
            ListFiles listFiles) {
        this.decisions = decisions;
        this.handing = handing;
        this.coming = coming;
        this.lists = lists;
        this.choiceViews = choiceViews;
        this.listFiles = listFiles;
    }

    /** What may go now, with the proof for what is chosen of it. Nothing is asked for by asking this. */
    @POST
    @Path("/choice")
    public PurgeView choice(PurgeView.Chosen chosen) {
        return choiceViews.choice(chosen);
    }

    /** What becomes obsolete in the weeks to come, as the forecast has it. */
    @GET
    @Path("/coming")
    public List<PurgeView.Week> coming(@QueryParam("store") @Nullable String store) {
        return coming.weeks(ChoiceViews.store(store));
    }

    /** Asks for what was seen to be deleted. */
    @POST
    @RolesAllowed(Roles.KEEPER)
    public PurgeView.Made ask(PurgeView.Asked asked) {
        return new PurgeView.Made(decisions.ask(asked));
    }

    @GET
    @Path("/{id}")
    public PurgeList one(@PathParam("id") String id) {
        return lists.one(decisions.find(id));
    }

    @POST
    @Path("/{id}/approve")
    @RolesAllowed(Roles.APPROVER)
    public void approve(@PathParam("id") String id, PurgeView.Approved seen) {
        decisions.approve(id, seen.hash());
    }

    @POST
    @Path("/{id}/carry-out")
    @RolesAllowed(Roles.KEEPER)
    public void carryOut(@PathParam("id") String id) {
        decisions.carryOut(id);
    }

    @POST
    @Path("/{id}/pause")
    @RolesAllowed(Roles.KEEPER)
    public void pause(@PathParam("id") String id) {
        decisions.pause(id);
    }

    @POST
    @Path("/{id}/cancel")
    @RolesAllowed(Roles.KEEPER)
    public void cancel(@PathParam("id") String id) {
        decisions.cancel(id);
    }

    /** A stretch of the lines of a list, each the copies of one kind a database has in one store. */
    @GET
    @Path("/{id}/groups")
    public List<PurgeList.Group> groups(@PathParam("id") String id, @BeanParam ListPart stretch) {
        return lists.groups(decisions.find(id).id(), stretch);
    }

    /** The items of a list, those of a group or in a state alone, from a number on. */
    @GET
    @Path("/{id}/items")
    public List<PurgeList.ItemView> items(@PathParam("id") String id, @BeanParam ItemsAsked asked) {
        return lists.items(decisions.find(id).id(), asked);
    }

    /** What lay in the stores of the list's databases when it was asked for, as whoever asked saw it. */
    @GET
    @Path("/{id}/shelves")
    public List<PurgeView.ShelfRow> shelves(@PathParam("id") String id) {
        return lists.shelves(decisions.find(id));
    }

    /** The list for those who delete by hand. */
    @GET
    @Path("/{id}/list.{format: csv|ndjson|sh}")
    @Produces(MediaType.TEXT_PLAIN)
    public Response list(@PathParam("id") String id, @PathParam("format") String format, @Context UriInfo asked) {
        return listFiles.list(id, format, asked);
    }

    /** Every item with what became of it, when, and who told. */
    @GET
    @Path("/{id}/outcomes.{format: csv|ndjson}")
    @Produces(MediaType.TEXT_PLAIN)
    public Response outcomes(@PathParam("id") String id, @PathParam("format") String format, @Context UriInfo asked) {
        return listFiles.outcomes(id, format, asked);
    }

    /** Which items may be deleted by hand at this moment: ranges of their numbers, a line each, its ends parted by a blank. */
    @GET
    @Path("/{id}/going")
    @RolesAllowed({Roles.VIEWER, Roles.AGENT})
    @Produces(MediaType.TEXT_PLAIN)
    public String going(@PathParam("id") String id, @QueryParam("hash") @Nullable String hash) {
        return listFiles.going(id, hash);
    }

    /** What became of items somebody deleted by hand, as JSON. */
    @POST
    @Path("/{id}/told")
    @RolesAllowed(Roles.KEEPER)
    public AgentWork.Taken told(@PathParam("id") String id, AgentWork.ToldItems said) {
        return handing.told(Optional.empty(), new AgentWork.ToldItems(id, said.hash(), said.items()));
    }

    /** The same as a table: the list as it was given out, with a column outcome filled in. */
    @POST
    @Path("/{id}/told")
    @Consumes("text/csv")
    @RolesAllowed(Roles.KEEPER)
    public AgentWork.Taken toldAsTable(
            @PathParam("id") String id, @QueryParam("hash") @Nullable String hash, InputStream table)
            throws IOException {
        return handing.told(Optional.empty(), new AgentWork.ToldItems(id, hash, ByHandLists.read(table)));
    }
}
