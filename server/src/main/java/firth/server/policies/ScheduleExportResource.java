package firth.server.policies;

import firth.core.model.Database;
import firth.exchange.FleetFileWriter;
import firth.exchange.HostSchedules;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.StreamingOutput;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Rules for programs other than Firth. */
@Path("/api/out")
@RolesAllowed(Roles.VIEWER)
public class ScheduleExportResource {

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Lookout lookout;

    ScheduleExportResource(FactsHolder facts, Evaluations evaluations, Lookout lookout) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    private static boolean isOn(@Nullable String host, Database d) {
        return host == null
                || host.isBlank()
                || d.particulars().host().filter(h -> h.equals(host)).isPresent();
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
            FleetNow fleet = evaluations.fleet(snapshot);
            fleet.databases().values().stream()
                    .filter(d -> !d.retiredAt(now) && isOn(host, d))
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
