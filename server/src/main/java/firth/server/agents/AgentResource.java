package firth.server.agents;

import firth.exchange.Texts;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.server.purge.AgentWork;
import firth.server.purge.Batches;
import firth.store.Agents;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.util.Optional;

/** What the agent of a store asks for and tells (docs/agents.md). It comes to Firth; Firth never goes to a store. */
@Path("/api/agents/{store}")
@RolesAllowed(Roles.AGENT)
public class AgentResource {

    private final Batches handing;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    AgentResource(Batches handing, FactsHolder facts, Lookout lookout, Who who) {
        this.handing = handing;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    /**
     * What it is to do now. Asking counts as a sign of life.
     *
     * @param every how often it asks, an ISO 8601 duration from a second to a day
     */
    @POST
    @Path("/work")
    public AgentWork work(@PathParam("store") String store, @QueryParam("every") @DefaultValue("PT1M") String every) {
        who.checkAgentAt(store);
        Duration asks = Texts.duration(every)
                .filter(d -> d.compareTo(Duration.ofSeconds(1)) >= 0 && d.compareTo(Duration.ofDays(1)) <= 0)
                .orElseThrow(() -> new BadRequest("every", "is not a duration from PT1S to P1D"));
        facts.store().agents().heard(new Agents.Agent(store, lookout.now(), asks));
        return new AgentWork(
                lookout.now(),
                store,
                facts.store().stocktakes().awaited(store).map(t -> t.id()).orElse(null),
                handing.batches(store));
    }

    /** What became of items it was given. */
    @POST
    @Path("/told")
    public AgentWork.Taken told(@PathParam("store") String store, AgentWork.ToldItems said) {
        who.checkAgentAt(store);
        return handing.told(Optional.of(store), said);
    }
}
