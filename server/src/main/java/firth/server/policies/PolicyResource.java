package firth.server.policies;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Id;
import firth.exchange.PolicyDocument;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.policies.PolicyDocuments.WrittenDocument;
import firth.store.Drafts;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.parameters.RequestBody;
import org.jspecify.annotations.Nullable;

/** Policies: what is promised, scheduled and retained, and what changing that would do. */
@Path("/api/policies")
@RolesAllowed(Roles.VIEWER)
public class PolicyResource {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final PolicyViews policyViews;
    private final Forcing forcing;
    private final TriedRules triedRules;

    PolicyResource(
            FactsHolder facts, Lookout lookout, PolicyViews policyViews, Forcing forcing, TriedRules triedRules) {
        this.facts = facts;
        this.lookout = lookout;
        this.policyViews = policyViews;
        this.forcing = forcing;
        this.triedRules = triedRules;
    }

    @GET
    public List<Policies.PolicyRow> list() {
        return policyViews.list();
    }

    /** A policy with all its versions, the newest first, and the draft of its next. */
    @GET
    @Path("/{id}")
    public Policies.PolicyView one(@PathParam("id") String id) {
        return policyViews.one(id);
    }

    /** Keeps what somebody is writing; it is in force nowhere. */
    @PUT
    @Path("/{id}/draft")
    @RolesAllowed(Roles.PLANNER)
    public void keep(
            @PathParam("id") String id,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = WrittenDocument.class)))
                    JsonNode document) {
        if (!Id.isId(id)) {
            throw new BadRequest("The policy's id", Id.IS_NONE);
        }
        if (!(document instanceof ObjectNode)) {
            throw new BadRequest("The policy", "is not a JSON object");
        }
        facts.store()
                .drafts()
                .put(new Drafts.Draft(
                        id, lookout.now(), PolicyDocument.of(document).line()));
    }

    @DELETE
    @Path("/{id}/draft")
    @RolesAllowed(Roles.PLANNER)
    public void drop(@PathParam("id") String id) {
        facts.store().drafts().remove(id);
    }

    /**
     * What rules would have done, replayed over the last 30 days.
     *
     * @param followers of which policy the databases are taken; absent: of this one
     * @param enough how many of them, taken evenly, are enough for a first look; absent: all
     */
    @POST
    @Path("/{id}/replay")
    public Policies.Replay replay(
            @PathParam("id") String id,
            @QueryParam("followers") @Nullable String followers,
            @QueryParam("enough") @Nullable Integer enough,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = WrittenDocument.class)))
                    JsonNode document) {
        return triedRules.replay(id, followers, enough, document);
    }

    /**
     * What rules will do over the next 60 days.
     *
     * @param followers of which policy the databases are taken; absent: of this one
     * @param enough how many of them, taken evenly, are enough for a first look; absent: all
     */
    @POST
    @Path("/{id}/ahead")
    public Policies.Ahead ahead(
            @PathParam("id") String id,
            @QueryParam("followers") @Nullable String followers,
            @QueryParam("enough") @Nullable Integer enough,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = WrittenDocument.class)))
                    JsonNode document) {
        return triedRules.ahead(id, followers, enough, document);
    }

    /** Makes what was written the newest version, from a moment that has not passed. */
    @POST
    @Path("/{id}/versions")
    @RolesAllowed(Roles.PLANNER)
    public Policies.VersionView putInForce(@PathParam("id") String id, Policies.PutInForce order) {
        return forcing.putInForce(id, order);
    }

    /** Withdraws a version that is still to come: it never comes into force. */
    @POST
    @Path("/{id}/versions/{version}/withdrawn")
    @RolesAllowed(Roles.PLANNER)
    public Policies.PolicyView withdraw(
            @PathParam("id") String id, @PathParam("version") int version, Policies.Withdrawal withdrawal) {
        forcing.withdraw(id, version, withdrawal.why());
        return policyViews.one(id);
    }
}
