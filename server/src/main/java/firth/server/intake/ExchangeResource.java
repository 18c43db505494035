package firth.server.intake;

import firth.core.evaluation.Evaluation;
import firth.core.model.Database;
import firth.exchange.EvaluationJson;
import firth.exchange.FleetFileReader;
import firth.exchange.FleetFileWriter;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Summaries;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Facts in and out, and answers for scripts, in the exchange format. */
@Path("/api")
@RolesAllowed(Roles.VIEWER)
public class ExchangeResource {

    /** The answers of so many databases are in memory at a time. */
    private static final int AT_ONCE = 64;

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Evaluations evaluations;
    private final Importing importing;
    private final FindingsNow findings;
    private final Summaries summaries;

    ExchangeResource(
            FactsHolder facts,
            Lookout lookout,
            Evaluations evaluations,
            Importing importing,
            FindingsNow findings,
            Summaries summaries) {
        this.facts = facts;
        this.lookout = lookout;
        this.evaluations = evaluations;
        this.importing = importing;
        this.findings = findings;
        this.summaries = summaries;
    }

    /**
     * Takes in a fleet file, plain or gzip, in one transaction.
     *
     * @param source who sends it; facts of one source are judged new or old together
     * @param turn {@code yes}: known runs and backups may become ones of another database, kind or lineage
     */
    @POST
    @Path("/import")
    @Consumes("application/x-ndjson")
    @RolesAllowed({Roles.OPERATOR, Roles.PLANNER, Roles.KEEPER, Roles.RUNNER})
    public ImportView take(
            InputStream body,
            @QueryParam("source") @DefaultValue("import") String source,
            @QueryParam("turn") @Nullable String turn)
            throws IOException {
        return importing.take(
                source, "yes".equals(turn), body, (bytes, catalog) -> FleetFileReader.read(bytes, source, catalog));
    }

    /** Everything that came in, as a fleet file. */
    @GET
    @Path("/export")
    @Produces("application/x-ndjson")
    public StreamingOutput export() {
        return to -> {
            try (Snapshot snapshot = facts.store().read();
                    FleetFileWriter out = new FleetFileWriter(to)) {
                for (String document : snapshot.documents()) {
                    out.write(document);
                }
                snapshot.runs(out::write);
                snapshot.backups(out::write);
            }
        };
    }

    /** The answers for the whole fleet, as {@code firth check} gives them. */
    @GET
    @Path("/evaluations")
    @Produces("application/json")
    public StreamingOutput evaluations(
            @QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        return to -> {
            try (EvaluationJson out = new EvaluationJson(to, view.asOf(), view.period(), List.of())) {
                // As of this very moment, though an answer of a little earlier would stand still.
                Lookout.View exact = new Lookout.View(view.asOf(), view.period());
                List<Database> shown = evaluations.fleetNow().databases().values().stream()
                        .filter(d -> !d.inServiceFrom().isAfter(view.asOf()))
                        .toList();
                for (int from = 0; from < shown.size(); from += AT_ONCE) {
                    Set<Database> some = Set.copyOf(shown.subList(from, Math.min(from + AT_ONCE, shown.size())));
                    Evaluations.Fleetwide answers = evaluations.once(some::contains, exact);
                    for (Evaluation answer : answers.answers()) {
                        out.write(answer, findings.of(answers, answer));
                    }
                }
            }
        };
    }

    /** Where the facts come from and how new they are. */
    @GET
    @Path("/sources")
    @Produces("application/json")
    public Sources sources() {
        Instant newest = lookout.newestFact();
        try (Snapshot snapshot = facts.store().read()) {
            List<Sources.SourceView> sources = snapshot.sources().stream()
                    .map(s -> new Sources.SourceView(
                            s.name(), s.received(), s.newestFact().orElse(null)))
                    .toList();
            Instant oldest = sources.stream()
                    .map(Sources.SourceView::newestFact)
                    .filter(java.util.Objects::nonNull)
                    .min(Comparator.naturalOrder())
                    .orElse(null);
            return new Sources(
                    lookout.now(),
                    facts.store().programReported(),
                    summaries.behind(lookout.view("", "")),
                    newest,
                    oldest,
                    sources,
                    silent(lookout.now()));
        }
    }

    private List<Sources.Silent> silent(Instant now) {
        Map<String, List<String>> byHost = evaluations.fleetNow().databases().values().stream()
                .filter(d -> d.particulars().host().isPresent() && !d.retiredAt(now))
                .collect(Collectors.groupingBy(
                        d -> d.particulars().host().orElseThrow(),
                        Collectors.mapping(Database::id, Collectors.toList())));
        return facts.store().runners().all().values().stream()
                .filter(r -> r.isSilentAt(now) && byHost.containsKey(r.host()))
                .map(r -> new Sources.Silent(r.host(), r.heard(), byHost.get(r.host())))
                .toList();
    }
}
