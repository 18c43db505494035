package firth.server.fleet;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.findings.Check;
import firth.core.findings.Check.State;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.NearMiss;
import firth.core.model.Particulars;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.model.Sighting;
import firth.core.model.Site;
import firth.core.model.StandingRule;
import firth.exchange.StatedDatabases;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.ProbedNow;
import firth.server.intake.ImportView;
import firth.server.intake.Importing;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import firth.wording.ReadinessWords;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The fleet as a list to be kept: who is enrolled, who follows what, and who is not there that should be. */
@Path("/api/fleet")
@RolesAllowed(Roles.VIEWER)
public class FleetResource {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final ObjectMapper json;

    private final Importing importing;

    FleetResource(FactsHolder facts, Lookout lookout, ObjectMapper json, Importing importing) {
        this.importing = importing;
        this.facts = facts;
        this.lookout = lookout;
        this.json = json;
    }

    @GET
    public FleetView fleet() {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = FleetNow.read(snapshot);
            ProbedNow probed = new ProbedNow(snapshot, fleet.fleet(), now);
            return new FleetView(
                    now,
                    fleet.databases().values().stream()
                            .map(d -> row(fleet, probed, d, now))
                            .toList(),
                    unenrolled(fleet, snapshot.changes().keySet()),
                    fleet.fleet().policies().stream()
                            .sorted()
                            .map(p -> new FleetView.NamedDatabase(p, policyName(fleet, p, now)))
                            .toList(),
                    fleet.routes().stream()
                            .map(r -> new FleetView.RouteView(r.id(), r.name(), r.data(), r.log(), r.copies()))
                            .toList(),
                    fleet.fleet().stores().stream()
                            .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))
                            .sorted((a, b) -> a.name().compareTo(b.name()))
                            .toList(),
                    fleet.sites().values().stream()
                            .map(s -> new FleetView.NamedDatabase(s.id(), s.name()))
                            .sorted((a, b) -> a.name().compareTo(b.name()))
                            .toList(),
                    fleet.standing().stream()
                            .sorted((a, b) -> Integer.compare(a.order(), b.order()))
                            .map(FleetResource::standing)
                            .toList());
        }
    }

    private static String policyName(FleetNow fleet, String policy, Instant now) {
        return fleet.fleet()
                .versionAt(policy, now)
                .map(PolicyVersion::name)
                .orElse(fleet.fleet().versions(policy).get(0).name());
    }

    private static FleetView.FleetRow row(FleetNow fleet, ProbedNow probed, Database d, Instant now) {
        Particulars known = d.particulars();
        List<StandingRule> rules = StandingRule.of(d, fleet.standing());
        Optional<Sighting> clone = clone(fleet, d);
        return new FleetView.FleetRow(
                d.id(),
                d.name(),
                d.engine().orElse(""),
                fleet.siteName(d.site()),
                known.host().orElse(""),
                known.system().orElse(""),
                d.zone().getId(),
                known.owner().orElse(""),
                known.identity().orElse(""),
                known.labels(),
                d.policyAt(now).orElse(null),
                known.route().orElse(null),
                known.standbyOf().orElse(null),
                d.inServiceFrom(),
                known.retired().orElse(null),
                d.clock().stopped().contains(now.toEpochMilli()),
                attention(fleet, d, now, rules, clone),
                rules.stream().map(StandingRule::id).toList(),
                clone.map(FleetResource::seen).orElse(null),
                summary(probed.checks(d)));
    }

    private static FleetView.ReadySummary summary(List<Check> checks) {
        return new FleetView.ReadySummary(
                Readiness.worst(checks).word(), count(checks, State.NOT_READY), count(checks, State.UNKNOWN));
    }

    private static int count(List<Check> checks, State state) {
        return (int) checks.stream().filter(c -> c.state() == state).count();
    }

    /** Whether a database is fit for its schedules to be trusted, fact by fact. */
    @GET
    @Path("/{id}/readiness")
    public FleetView.ReadyView readiness(@PathParam("id") String id) {
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = FleetNow.read(snapshot);
            Database database = fleet.database(id).orElseThrow(() -> new NotFound("There is no database " + id + "."));
            List<Check> checks = new ProbedNow(snapshot, fleet.fleet(), now).checks(database);
            return new FleetView.ReadyView(
                    id,
                    database.name(),
                    now,
                    Readiness.worst(checks).word(),
                    checks.stream()
                            .map(c -> new FleetView.CheckView(
                                    c.item().word(),
                                    c.state().word(),
                                    ReadinessWords.of(c),
                                    c.source().orElse(null),
                                    c.at().orElse(null)))
                            .toList());
        }
    }

    private static List<String> attention(
            FleetNow fleet, Database d, Instant now, List<StandingRule> rules, Optional<Sighting> clone) {
        List<String> out = new ArrayList<>();
        if (d.retiredAt(now)) {
            return out;
        }
        Optional<String> policy = d.policyAt(now);
        boolean asked = !fleet.standbys().isStandby(d.id());
        if (asked && policy.isEmpty()) {
            out.add("no-policy");
        } else if (asked && fleet.fleet().versions(policy.get()).isEmpty()) {
            out.add("unknown-policy");
        }
        if (divided(rules)) {
            out.add("two-rules");
        }
        if (clone.isPresent()) {
            out.add("clone");
        }
        return out;
    }

    private static boolean divided(List<StandingRule> rules) {
        return rules.stream()
                        .map(StandingRule::policy)
                        .flatMap(Optional::stream)
                        .distinct()
                        .count()
                > 1;
    }

    /** Another that was seen under a database's name: the engine calls itself something else there. */
    private static Optional<Sighting> clone(FleetNow fleet, Database d) {
        Optional<String> own = d.particulars().identity();
        return fleet.sightings().stream()
                .filter(s -> s.database().equals(d.name()) || s.database().equals(d.id()))
                .filter(s -> own.isPresent()
                        && s.identity().filter(i -> !i.equals(own.get())).isPresent())
                .findFirst();
    }

    private static FleetView.Seen seen(Sighting s) {
        return new FleetView.Seen(s.host().orElse(""), s.identity().orElse(""), s.seen());
    }

    private static List<FleetView.Unenrolled> unenrolled(FleetNow fleet, Set<String> reported) {
        Set<String> known = fleet.databases().values().stream()
                .flatMap(d -> java.util.stream.Stream.of(d.id(), d.name()))
                .collect(Collectors.toSet());
        List<FleetView.Unenrolled> out = new ArrayList<>();
        for (Sighting s : fleet.sightings()) {
            if (!known.contains(s.database())) {
                out.add(new FleetView.Unenrolled(
                        s.database(),
                        s.engine().orElse(""),
                        reported.contains(s.database()),
                        near(known, s.database()),
                        seen(s)));
            }
        }
        Set<String> named = out.stream().map(FleetView.Unenrolled::name).collect(Collectors.toSet());
        reported.stream()
                .filter(id -> !id.isEmpty() && !known.contains(id) && !named.contains(id))
                .sorted()
                .forEach(id -> out.add(new FleetView.Unenrolled(id, "", true, near(known, id), null)));
        return out;
    }

    private static @Nullable String near(Set<String> known, String name) {
        return known.stream()
                .filter(k -> NearMiss.between(k, name))
                .sorted()
                .findFirst()
                .orElse(null);
    }

    private static FleetView.Standing standing(StandingRule r) {
        return new FleetView.Standing(
                r.id(),
                r.order(),
                r.labels(),
                r.engine().orElse(null),
                r.site().orElse(null),
                r.system().orElse(null),
                r.name().orElse(null),
                r.policy().orElse(null),
                r.route().orElse(null),
                r.enabled());
    }

    /** A database as it was last stated, to be stated anew with changes. */
    @GET
    @Path("/{id}")
    public FleetView.Written one(@PathParam("id") String id) {
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("database")) {
                Map<String, Object> document = read(text);
                if (id.equals(document.get("id"))) {
                    return new FleetView.Written(document);
                }
            }
        }
        throw new NotFound("There is no database " + id + ".");
    }

    private Map<String, Object> read(String text) {
        try {
            return json.readValue(text, new TypeReference<Map<String, Object>>() {});
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("JSON that was kept cannot be read", e);
        }
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
        StatedDatabases databases;
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = FleetNow.read(snapshot);
            databases = new StatedDatabases(names(fleet), snapshot.documents("database"), lookout.now());
        }
        return importing.take("by hand", catalog -> databases.read(stated, "yes".equals(whole), "by hand", catalog));
    }

    private Map<String, Map<String, String>> names(FleetNow fleet) {
        Map<String, String> policies = new TreeMap<>();
        fleet.fleet().policies().forEach(p -> policies.put(p, policyName(fleet, p, lookout.now())));
        return Map.of(
                "site",
                fleet.sites().values().stream().collect(Collectors.toMap(Site::id, Site::name)),
                "route",
                fleet.routes().stream().collect(Collectors.toMap(Route::id, Route::name)),
                "policy",
                policies);
    }

    /** Who would fall under which of some rules, whatever they follow now. */
    @POST
    @Path("/falls")
    public List<FleetView.Falls> falls(List<FleetView.Standing> rules) {
        List<StandingRule> tried = rules.stream().map(FleetResource::rule).toList();
        Instant now = lookout.now();
        try (Snapshot snapshot = facts.store().read()) {
            return FleetNow.read(snapshot).databases().values().stream()
                    .filter(d -> !d.retiredAt(now))
                    .map(d -> falls(d, StandingRule.of(d, tried), now))
                    .toList();
        }
    }

    private static FleetView.Falls falls(Database d, List<StandingRule> rules, Instant now) {
        return new FleetView.Falls(
                d.id(),
                d.name(),
                rules.stream().map(StandingRule::id).toList(),
                divided(rules),
                d.policyAt(now).orElse(null),
                rules.stream().findFirst().flatMap(StandingRule::policy).orElse(null));
    }

    private static StandingRule rule(FleetView.Standing r) {
        return new StandingRule(
                r.id(),
                r.order(),
                r.labels() == null ? Map.of() : r.labels(),
                stated(r.engine()),
                stated(r.site()),
                stated(r.system()),
                stated(r.name()),
                stated(r.policy()),
                stated(r.route()),
                r.enabled());
    }

    private static Optional<String> stated(@Nullable String text) {
        return Optional.ofNullable(text).filter(t -> !t.isBlank());
    }
}
