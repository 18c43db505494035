package firth.server.purge;

import firth.core.model.BackupStore;
import firth.core.model.Role;
import firth.server.database.DatabaseView;
import firth.server.database.Shelves;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Agents;
import firth.store.PurgeState;
import firth.store.Purges;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.StreamingOutput;
import jakarta.ws.rs.core.UriInfo;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Freeing room: what may go, the proof, asking, approving and carrying out. */
@Path("/api/purge")
@RolesAllowed(Roles.VIEWER)
public class PurgeResource {

    private static final List<String> KINDS = List.of("full", "diff", "incr", "log", "config");

    private final PurgeChoices choices;
    private final ListDecisions decisions;
    private final Batches handing;
    private final ComingObsolete coming;
    private final PurgeLists lists;
    private final FactsHolder facts;
    private final Lookout lookout;

    PurgeResource(
            PurgeChoices choices,
            ListDecisions decisions,
            Batches handing,
            ComingObsolete coming,
            PurgeLists lists,
            FactsHolder facts,
            Lookout lookout) {
        this.choices = choices;
        this.decisions = decisions;
        this.handing = handing;
        this.coming = coming;
        this.lists = lists;
        this.facts = facts;
        this.lookout = lookout;
    }

    /** What may go now, with the proof for what is chosen of it. Nothing is asked for by asking this. */
    @POST
    @Path("/choice")
    public PurgeView choice(PurgeView.Chosen chosen) {
        Optional<String> store = chosen.store() == null ? choices.fullest() : store(chosen.store());
        Set<String> leftOut = leftOut(chosen.leftOut());
        PurgeChoices.FleetChoice choice = choices.choose(store, leftOut);
        List<Purges.Item> items = ListDecisions.items(choice, leftOut);
        return new PurgeView(
                choice.asOf(),
                stores(choice),
                store.orElse(null),
                rows(choice, store),
                choice.parts().stream()
                        .flatMap(p -> p.candidates().lines(leftOut).stream())
                        .sorted(Comparator.comparing(PurgeView.LineView::name)
                                .thenComparing(PurgeView.LineView::storeName)
                                .thenComparing(l -> KINDS.indexOf(l.kind()))
                                .thenComparing(PurgeView.LineView::from, Comparator.reverseOrder()))
                        .toList(),
                choice.parts().stream()
                        .filter(p -> p.proof().copies() > 0)
                        .map(PurgeChoices::view)
                        .toList(),
                ChoiceMark.of(items),
                items.size(),
                items.stream().mapToDouble(Purges.Item::bytes).sum(),
                levels(choice, items),
                lists.all(choice.all().fleet()));
    }

    /** The one store named; empty where the whole fleet is. */
    private static Optional<String> store(@Nullable String named) {
        return Optional.ofNullable(named).filter(s -> !s.isBlank() && !s.equals(PurgeView.ALL));
    }

    private static Set<String> leftOut(List<String> given) {
        return given == null ? Set.of() : new HashSet<>(given);
    }

    private List<PurgeView.StoreChoice> stores(PurgeChoices.FleetChoice choice) {
        Map<String, Double> obsolete = PurgeChoices.obsolete(choice.all());
        Map<String, Agents.Agent> agents = facts.store().agents().all();
        return choice.all().fleet().fleet().stores().stream()
                .sorted(Comparator.comparing(
                                (BackupStore s) -> s.role().map(Role::ordinal).orElse(9))
                        .thenComparing(BackupStore::id))
                .map(s -> new PurgeView.StoreChoice(
                        s.id(),
                        choice.all().fleet().storeName(s.id()),
                        s.role().map(Role::word).orElse(""),
                        obsolete.getOrDefault(s.id(), 0.0),
                        agents.containsKey(s.id()) && !agents.get(s.id()).isSilentAt(lookout.now())))
                .toList();
    }

    private static List<PurgeView.ShelfRow> rows(PurgeChoices.FleetChoice choice, Optional<String> store) {
        List<PurgeView.ShelfRow> out = new ArrayList<>();
        for (PurgeChoices.DatabaseChoice part : choice.parts()) {
            for (DatabaseView.Shelf shelf : new Shelves(choice.all().fleet(), part.e()).all()) {
                if (store.filter(s -> !s.equals(shelf.store())).isEmpty()) {
                    out.add(new PurgeView.ShelfRow(
                            part.e().database().id(), part.e().database().name(), shelf, shelf.obsoleteBytes()));
                }
            }
        }
        out.sort(Comparator.comparing(PurgeView.ShelfRow::bytes).reversed());
        return out;
    }

    /** What each store holds that something goes from. */
    private static List<PurgeView.Level> levels(PurgeChoices.FleetChoice choice, List<Purges.Item> items) {
        Map<String, Double> freed = new TreeMap<>();
        items.forEach(i -> freed.merge(i.store(), i.bytes(), Double::sum));
        Map<String, Double> held = RetainedBytes.byStore(choice.all().answers(), v -> true);
        return freed.entrySet().stream()
                .map(f -> new PurgeView.Level(
                        f.getKey(),
                        choice.all().fleet().storeName(f.getKey()),
                        choice.all()
                                .fleet()
                                .fleet()
                                .store(f.getKey())
                                .filter(s -> s.capacityBytes().isPresent())
                                .map(s -> s.capacityBytes().getAsDouble())
                                .orElse(null),
                        held.getOrDefault(f.getKey(), 0.0),
                        held.getOrDefault(f.getKey(), 0.0) - f.getValue()))
                .toList();
    }

    /** What becomes obsolete in the weeks to come, as the forecast has it. */
    @GET
    @Path("/coming")
    public List<PurgeView.Week> coming(@QueryParam("store") @Nullable String store) {
        return coming.weeks(store(store));
    }

    /** Asks for what was seen to be deleted. */
    @POST
    @RolesAllowed(Roles.KEEPER)
    public PurgeView.Made ask(PurgeView.Asked asked) {
        return new PurgeView.Made(decisions.ask(
                store(asked.store()), leftOut(asked.leftOut()), asked.reason(), asked.hash(), asked.asOf()));
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

    /** The items of a list, those of a group or in a state alone, from a number on. */
    @GET
    @Path("/{id}/items")
    public List<PurgeList.ItemView> items(
            @PathParam("id") String id,
            @QueryParam("database") @Nullable String database,
            @QueryParam("store") @Nullable String store,
            @QueryParam("kind") @Nullable String kind,
            @QueryParam("state") @Nullable String state,
            @QueryParam("after") @DefaultValue("0") int after) {
        return lists.items(decisions.find(id).id(), new PurgeLists.Wanted(database, store, kind, state), after);
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
        decisions.checkWhole(id);
        return file(id, "list", format, asked, i -> i.state().isOpen());
    }

    /** Every item with what became of it, when, and who told. */
    @GET
    @Path("/{id}/outcomes.{format: csv|ndjson}")
    @Produces(MediaType.TEXT_PLAIN)
    public Response outcomes(@PathParam("id") String id, @PathParam("format") String format, @Context UriInfo asked) {
        return file(id, "outcomes", format, asked, i -> true);
    }

    private Response file(String id, String what, String format, UriInfo asked, Predicate<Purges.Item> which) {
        Purges.Purge purge = decisions.find(id);
        List<Purges.Item> items =
                facts.store().purges().items(id).stream().filter(which).toList();
        ByHandLists lists = new ByHandLists(
                purge,
                items,
                purge.state() == PurgeState.RUNNING,
                asked.getBaseUri().toString().replaceFirst("/$", ""),
                lookout.now().plus(ByHandLists.GOOD_FOR));
        StreamingOutput body = to -> lists.write(format, to);
        String name = what.equals("list") ? id : id + "-" + what;
        return Response.ok(body)
                .header("Content-Disposition", "attachment; filename=\"" + name + "." + format + "\"")
                .build();
    }

    /** Which items may be deleted by hand at this moment: ranges of their numbers, a line each, its ends parted by a blank. */
    @GET
    @Path("/{id}/going")
    @RolesAllowed({Roles.VIEWER, Roles.AGENT})
    @Produces(MediaType.TEXT_PLAIN)
    public String going(@PathParam("id") String id, @QueryParam("hash") @Nullable String hash) {
        StringBuilder out = new StringBuilder();
        int from = 0;
        int last = 0;
        for (int n : handing.going(id, hash)) {
            if (n != last + 1 || from == 0) {
                if (from > 0) {
                    out.append(from).append(' ').append(last).append('\n');
                }
                from = n;
            }
            last = n;
        }
        return from == 0
                ? ""
                : out.append(from).append(' ').append(last).append('\n').toString();
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
