package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Expected;
import firth.core.model.Database;
import firth.core.time.Span;
import firth.exchange.FleetFileWriter;
import firth.exchange.HostSchedules;
import firth.exchange.SlotCalendar;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Rules for programs other than Firth. */
@Path("/api/out")
@RolesAllowed(Roles.VIEWER)
public class ScheduleExportResource {

    private static final Duration AHEAD = Duration.ofDays(35);

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final PolicyFollowers following;
    private final Lookout lookout;

    ScheduleExportResource(FactsHolder facts, Evaluations evaluations, PolicyFollowers following, Lookout lookout) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.following = following;
        this.lookout = lookout;
    }

    private boolean wanted(Database d, @Nullable String policy, @Nullable String host) {
        Instant now = lookout.now();
        return !d.retiredAt(now)
                && (absent(policy)
                        || d.policyAt(now).filter(p -> p.equals(policy)).isPresent())
                && (absent(host)
                        || d.particulars().host().filter(h -> h.equals(host)).isPresent());
    }

    private static boolean absent(@Nullable String text) {
        return text == null || text.isBlank();
    }

    /**
     * The slots of the next five weeks, with closures.
     *
     * @param policy absent: of all policies
     * @param host absent: of all hosts
     */
    @GET
    @Path("/slots.ics")
    @Produces("text/calendar")
    public String calendar(@QueryParam("policy") @Nullable String policy, @QueryParam("host") @Nullable String host) {
        Evaluations.Fleetwide all = evaluations.those(d -> wanted(d, policy, host), lookout.view("", ""));
        Instant now = lookout.now();
        Map<Database, List<Expected>> expected = new TreeMap<>((a, b) -> a.id().compareTo(b.id()));
        for (Evaluation e : all.answers()) {
            expected.put(
                    e.database(),
                    Expected.of(
                            all.facts(e),
                            all.fleet().fleet(),
                            following.basis(all, e).habits(),
                            now,
                            new Span(now, now.plus(AHEAD))));
        }
        return SlotCalendar.of(
                expected,
                all.fleet().closures().stream()
                        .filter(c -> c.span().to().isAfter(now))
                        .toList(),
                now);
    }

    /** Crontab lines by host. */
    @GET
    @Path("/crontab")
    @Produces("text/plain")
    public String crontab(@QueryParam("host") @Nullable String host) {
        return HostSchedules.crontab(served(host));
    }

    /** systemd timer units by host. */
    @GET
    @Path("/timers")
    @Produces("text/plain")
    public String timers(@QueryParam("host") @Nullable String host) {
        return HostSchedules.timers(served(host));
    }

    private List<HostSchedules.Served> served(@Nullable String host) {
        Instant now = lookout.now();
        List<HostSchedules.Served> out = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = FleetNow.read(snapshot);
            fleet.databases().values().stream()
                    .filter(d -> wanted(d, null, host))
                    .forEach(d ->
                            fleet.fleet().versionAt(d, now).ifPresent(v -> out.add(new HostSchedules.Served(d, v))));
        }
        return out;
    }

    /** Policies with all versions, routes and standing rules, as a fleet file that goes in again as it came out. */
    @GET
    @Path("/rules.ndjson")
    @Produces("application/x-ndjson")
    public StreamingOutput rules() {
        return to -> {
            try (Snapshot snapshot = facts.store().read();
                    FleetFileWriter out = new FleetFileWriter(to)) {
                for (String type : List.of("policy", "route", "standing")) {
                    for (String document : snapshot.documents(type)) {
                        out.write(document);
                    }
                }
            }
        };
    }
}
