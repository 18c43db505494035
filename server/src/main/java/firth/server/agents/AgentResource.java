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
import firth.store.Stocktakes;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** What the agent of a store asks for and tells (docs/agents.md). It comes to Firth; Firth never goes to a store. */
@Path("/api/agents/{store}")
@RolesAllowed(Roles.AGENT)
public class AgentResource {

    private static final List<String> LOCKS = List.of("unknown", "none", "until", "immutable", "read-only");

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
        facts.store().agents().heard(store, lookout.now(), asks);
        Optional<Stocktakes.Take> awaited = facts.store().stocktakes().awaited(store);
        return new AgentWork(
                lookout.now(),
                store,
                awaited.map(Stocktakes.Take::id).orElse(null),
                awaited.filter(Stocktakes.Take::sums).isPresent(),
                handing.batches(store));
    }

    /** What it measured: how much room is left, and whether it can be written to. */
    @POST
    @Path("/room")
    public void room(@PathParam("store") String store, AgentWork.Measured said) {
        who.checkAgentAt(store);
        if (said.freeBytes() < 0 || said.capacityBytes() < said.freeBytes()) {
            throw new BadRequest("freeBytes", "is below 0 or above capacityBytes");
        }
        String locks = said.locks() == null ? "unknown" : said.locks();
        if (!LOCKS.contains(locks)) {
            throw new BadRequest("locks", "is none of " + String.join(", ", LOCKS));
        }
        facts.store()
                .agents()
                .measured(
                        store,
                        new Agents.Room(
                                lookout.now(),
                                said.freeBytes(),
                                said.capacityBytes(),
                                Optional.ofNullable(said.writable()),
                                locks,
                                said.trouble() == null ? "" : said.trouble(),
                                Optional.empty()));
    }

    /** What became of items it was given. */
    @POST
    @Path("/told")
    public AgentWork.Taken told(@PathParam("store") String store, AgentWork.ToldItems said) {
        who.checkAgentAt(store);
        return handing.told(Optional.of(store), said);
    }
}
