package firth.server.database;

import firth.core.history.Happening;
import firth.core.history.History;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Entries;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** From one thing that happened to the next, so that one can look back event by event. */
@Path("/api/step")
@RolesAllowed(Roles.VIEWER)
public class StepResource {

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;

    StepResource(Evaluations evaluations, FactsHolder facts, Lookout lookout) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
    }

    /**
     * What happened next, or last before: of one database also that a copy landed, went or was found spoiled; of the fleet
     * that a run or backup began or ended.
     *
     * @param asOf the moment to step from; absent: the newest fact
     * @param to {@code next} or {@code previous}
     * @param database its id; absent: the fleet
     */
    @GET
    public StepView step(
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("to") @Nullable String to,
            @QueryParam("database") @Nullable String database) {
        if (!"next".equals(to) && !"previous".equals(to)) {
            throw new BadRequest("to", "is neither next nor previous");
        }
        boolean on = "next".equals(to);
        Instant moment = lookout.view(asOf, "").asOf();
        Optional<StepView> found =
                database == null || database.isEmpty() ? ofFleet(moment, on) : ofOne(database, moment, on);
        return found.orElse(new StepView(null, null, null, null, null, null));
    }

    private Optional<StepView> ofFleet(Instant moment, boolean on) {
        try (Snapshot snapshot = facts.store().read()) {
            Optional<Entries.Turn> turn = snapshot.entries().turn(moment, on);
            if (turn.isEmpty() || on && turn.get().at().isAfter(lookout.standsAt())) {
                return Optional.empty();
            }
            FleetNow fleet = evaluations.fleet(snapshot);
            Instant at = turn.get().at();
            String primary = fleet.standbys().primaryOf(turn.get().database());
            if (!fleet.databases().containsKey(primary)) {
                return Optional.of(new StepView(at, primary, primary, null, null, null));
            }
            History history = evaluations
                    .one(primary, lookout.view("", ""))
                    .answers()
                    .get(0)
                    .history();
            return Happening.after(history, at.minusMillis(1), at).map(h -> view(fleet, primary, h));
        }
    }

    private Optional<StepView> ofOne(String database, Instant moment, boolean on) {
        Evaluations.Fleetwide one = evaluations.one(database, lookout.view("", ""));
        History history = one.answers().get(0).history();
        Optional<Happening> found =
                on ? Happening.after(history, moment, lookout.standsAt()) : Happening.before(history, moment);
        return found.map(h -> view(one.fleet(), database, h));
    }

    private static StepView view(FleetNow fleet, String database, Happening h) {
        return new StepView(
                h.at(),
                database,
                fleet.databaseName(database),
                h.what().name().toLowerCase(Locale.ROOT).replace('_', '-'),
                h.kind().word() + " " + h.id(),
                h.store().map(fleet::storeName).orElse(null));
    }
}
