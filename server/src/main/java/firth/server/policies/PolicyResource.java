package firth.server.policies;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Check;
import firth.core.findings.Readiness;
import firth.core.model.Id;
import firth.core.model.PolicyVersion;
import firth.exchange.PolicyDocument;
import firth.exchange.Texts;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.evaluation.ProbedNow;
import firth.server.intake.ByHand;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.server.policies.PolicyDocuments.WrittenDocument;
import firth.store.Drafts;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import firth.wording.Wording;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;
import java.util.TreeSet;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.parameters.RequestBody;
import org.jspecify.annotations.Nullable;

/** Policies: what is promised, scheduled and retained, and what changing that would do. */
@Path("/api/policies")
@RolesAllowed(Roles.VIEWER)
public class PolicyResource {

    /** Since when a policy nobody ever put in force is taken to have been one, when it is tried on a history. */
    private static final Duration TRIED = Duration.ofDays(400);

    private final FactsHolder facts;
    private final Lookout lookout;
    private final PolicyFollowers following;
    private final Consequences consequences;
    private final LookAhead lookAhead;
    private final ByHand byHand;
    private final Who who;

    PolicyResource(
            FactsHolder facts,
            Lookout lookout,
            PolicyFollowers following,
            Consequences consequences,
            LookAhead lookAhead,
            ByHand byHand,
            Who who) {
        this.facts = facts;
        this.lookout = lookout;
        this.following = following;
        this.consequences = consequences;
        this.lookAhead = lookAhead;
        this.byHand = byHand;
        this.who = who;
    }

    /** The versions of each policy as they were written, by policy and moment. */
    private Map<String, List<PolicyDocument>> written() {
        Map<String, List<PolicyDocument>> out = new TreeMap<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("policy")) {
                PolicyDocument document = PolicyDocument.of(text);
                out.computeIfAbsent(document.json().path("id").asText(), id -> new ArrayList<>())
                        .add(document);
            }
        }
        return out;
    }

    @GET
    public List<Policies.PolicyRow> list() {
        Map<String, List<PolicyDocument>> written = written();
        Map<String, Drafts.Draft> drafts = facts.store().drafts().all();
        TreeSet<String> ids = new TreeSet<>(written.keySet());
        ids.addAll(drafts.keySet());
        return ids.stream()
                .map(id -> row(id, written.getOrDefault(id, List.of()), Optional.ofNullable(drafts.get(id))))
                .toList();
    }

    private Policies.PolicyRow row(String id, List<PolicyDocument> versions, Optional<Drafts.Draft> draft) {
        Instant now = lookout.now();
        Evaluations.Fleetwide all = following.of(id);
        Optional<PolicyVersion> inForce = all.fleet().fleet().versionAt(id, now);
        Map<String, Integer> grades = new TreeMap<>();
        all.answers().forEach(e -> grades.merge(Wording.grade(e), 1, Integer::sum));
        OptionalDouble attainment = all.answers().stream()
                .map(e -> e.mishap().achieved().attainment())
                .flatMap(Optional::stream)
                .mapToDouble(Double::doubleValue)
                .average();
        return new Policies.PolicyRow(
                id,
                name(id, inForce, draft),
                inForce.map(PolicyVersion::version).orElse(null),
                inForce.map(PolicyVersion::enabled).orElse(false),
                inForce.map(PolicyVersion::effectiveFrom).orElse(null),
                inForce.flatMap(v -> of(versions, v.version()))
                        .map(PolicyDocument::json)
                        .orElse(null),
                all.answers().size(),
                grades.entrySet().stream()
                        .map(g -> new Policies.Grades(g.getKey(), g.getValue()))
                        .toList(),
                attainment.isPresent() ? attainment.getAsDouble() : null,
                inForce.map(v -> Consequences.flaws(v, following.inCommon(all), now))
                        .orElse(List.of()),
                draft.map(Drafts.Draft::saved).orElse(null),
                all.fleet().fleet().versions(id).stream()
                        .map(PolicyVersion::effectiveFrom)
                        .filter(now::isBefore)
                        .findFirst()
                        .orElse(null));
    }

    private static String name(String id, Optional<PolicyVersion> inForce, Optional<Drafts.Draft> draft) {
        return inForce.map(PolicyVersion::name)
                .or(() -> draft.map(
                        d -> PolicyDocument.of(d.document()).json().path("name").asText(id)))
                .orElse(id);
    }

    private static Optional<PolicyDocument> of(List<PolicyDocument> versions, int version) {
        return versions.stream()
                .filter(d -> d.json().path("version").asInt(1) == version)
                .findFirst();
    }

    /** A policy with all its versions, the newest first, and the draft of its next. */
    @GET
    @Path("/{id}")
    public Policies.PolicyView one(@PathParam("id") String id) {
        List<PolicyDocument> versions = written().getOrDefault(id, List.of());
        Optional<Drafts.Draft> draft = facts.store().drafts().of(id);
        if (versions.isEmpty() && draft.isEmpty()) {
            throw new NotFound("There is no policy " + id + ".");
        }
        Instant now = lookout.now();
        Evaluations.Fleetwide all = following.of(id);
        Optional<PolicyVersion> inForce = all.fleet().fleet().versionAt(id, now);
        List<Policies.VersionView> views = new ArrayList<>();
        for (PolicyVersion v : all.fleet().fleet().versions(id)) {
            String state = v.effectiveFrom().isAfter(now)
                    ? "coming"
                    : inForce.filter(v::equals).isPresent() ? "in-force" : "earlier";
            of(versions, v.version())
                    .ifPresent(d ->
                            views.add(0, new Policies.VersionView(v.version(), v.effectiveFrom(), state, d.json())));
        }
        return new Policies.PolicyView(
                id,
                name(id, inForce, draft),
                now,
                views,
                draft.map(d -> new Policies.DraftView(
                                d.saved(), PolicyDocument.of(d.document()).json()))
                        .orElse(null),
                followers(all, now),
                all.fleet().closures().stream()
                        .filter(c -> c.policy().filter(id::equals).isPresent())
                        .filter(c -> c.span().from().isBefore(c.span().to()))
                        .sorted(Comparator.comparing(c -> c.span().from()))
                        .map(c -> new Policies.ClosureView(
                                c.id(), c.span().from(), c.span().to(), c.reason()))
                        .toList());
    }

    private List<Policies.Follower> followers(Evaluations.Fleetwide all, Instant now) {
        try (Snapshot snapshot = facts.store().read()) {
            ProbedNow probed = new ProbedNow(snapshot, all.fleet().fleet(), now);
            return all.answers().stream()
                    .map(e -> follower(all, e, probed.checks(e.database())))
                    .toList();
        }
    }

    private static Policies.Follower follower(Evaluations.Fleetwide all, Evaluation e, List<Check> checks) {
        return new Policies.Follower(
                e.database().id(),
                e.database().name(),
                all.fleet().siteName(e.database().site()),
                e.database().zone().getId(),
                e.grade().word(),
                Readiness.worst(checks).word(),
                checks.stream()
                        .filter(c -> c.state() == Check.State.NOT_READY)
                        .map(ReadinessWords::of)
                        .toList());
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
     */
    @POST
    @Path("/{id}/replay")
    public Policies.Replay replay(
            @PathParam("id") String id,
            @QueryParam("followers") @Nullable String followers,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = WrittenDocument.class)))
                    JsonNode document) {
        PolicyDocument.Reading reading = tried(id, document).read();
        Instant now = lookout.now();
        return reading.version()
                .map(v -> consequences.replay(v, followers == null ? id : followers))
                .orElseGet(() -> new Policies.Replay(
                        bad(reading), 0, now, now, null, null, List.of(), List.of(), List.of(), null));
    }

    /**
     * What rules will do over the next 60 days.
     *
     * @param followers of which policy the databases are taken; absent: of this one
     */
    @POST
    @Path("/{id}/ahead")
    public Policies.Ahead ahead(
            @PathParam("id") String id,
            @QueryParam("followers") @Nullable String followers,
            @RequestBody(
                            content =
                                    @Content(
                                            mediaType = "application/json",
                                            schema = @Schema(implementation = WrittenDocument.class)))
                    JsonNode document) {
        PolicyDocument.Reading reading = tried(id, document).read();
        return reading.version()
                .map(v -> lookAhead.ahead(v, followers == null ? id : followers))
                .orElseGet(() -> new Policies.Ahead(
                        bad(reading), lookout.now(), LookAhead.DAYS, 0, List.of(), null, null, List.of()));
    }

    private static Policies.@Nullable BadValue bad(PolicyDocument.Reading reading) {
        return reading.flaw()
                .map(f -> new Policies.BadValue(f.path(), f.reason()))
                .orElse(null);
    }

    private PolicyDocument tried(String id, JsonNode document) {
        return PolicyDocument.of(document).as(id, next(id), lookout.standsAt().minus(TRIED));
    }

    private int next(String id) {
        return written().getOrDefault(id, List.of()).stream()
                        .mapToInt(d -> d.json().path("version").asInt(1))
                        .max()
                        .orElse(0)
                + 1;
    }

    /** Makes what was written the newest version, from a moment that has not passed. */
    @POST
    @Path("/{id}/versions")
    @RolesAllowed(Roles.PLANNER)
    public Policies.VersionView putInForce(@PathParam("id") String id, Policies.PutInForce order) {
        if (order.why().isBlank()) {
            throw new BadRequest("why", "is missing: what is the reason?");
        }
        Evaluations.Fleetwide all = following.of(id);
        Instant now = lookout.now();
        Instant from = free(all.fleet().fleet().versions(id), moment(order.at(), all));
        PolicyDocument document = PolicyDocument.of(order.document()).as(id, next(id), from);
        PolicyDocument.Reading reading = document.read();
        PolicyVersion version = reading.version()
                .orElseThrow(() -> new BadRequest(
                        reading.flaw().map(PolicyDocument.Flaw::path).orElse("The policy"),
                        reading.flaw().map(PolicyDocument.Flaw::reason).orElse("cannot be read")));
        String despite = Optional.ofNullable(order.despite()).orElse("").strip();
        if (despite.isEmpty()
                && !Consequences.flaws(version, following.inCommon(all), now).isEmpty()) {
            throw new BadRequest(
                    "despite", "is missing: the policy contradicts itself; say why it is put in force all the same");
        }
        PolicyDocument noted = document.noted(who.name(), now, order.why().strip(), despite);
        byHand.take(noted.stated());
        facts.store().drafts().remove(id);
        return new Policies.VersionView(
                version.version(), from, from.isAfter(now) ? "coming" : "in-force", noted.json());
    }

    private Instant moment(String at, Evaluations.Fleetwide all) {
        Instant now = lookout.now();
        if (at == null || at.equals("now")) {
            return now;
        }
        if (at.equals("quiet")) {
            return following
                    .quiet(all)
                    .orElseThrow(() ->
                            new BadRequest("at", "is not possible: within a week somebody is always inside a window"))
                    .at();
        }
        return Texts.instant(at)
                .filter(t -> !t.isBefore(now))
                .orElseThrow(() -> new BadRequest("at", "is neither now, quiet nor an instant that has not passed"));
    }

    /** Two versions never begin at the same moment. */
    private static Instant free(List<PolicyVersion> versions, Instant wanted) {
        Instant from = wanted;
        while (true) {
            Instant at = from;
            if (versions.stream().noneMatch(v -> v.effectiveFrom().equals(at))) {
                return from;
            }
            from = from.plusSeconds(1);
        }
    }
}
