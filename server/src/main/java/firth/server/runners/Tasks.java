package firth.server.runners;

import firth.core.adherence.Due;
import firth.core.forecast.LogHabit;
import firth.core.forecast.Trial;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Order;
import firth.core.model.Route;
import firth.server.cover.CoverRows;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What a runner is to do for one database now: what somebody ordered, then what is due. */
final class Tasks {

    private final DatabaseFacts facts;
    private final Fleet fleet;
    private final Instant now;

    Tasks(DatabaseFacts facts, Fleet fleet, Instant now) {
        this.facts = facts;
        this.fleet = fleet;
        this.now = now;
    }

    List<RunnerWork.Task> of(List<Order> orders) {
        List<Due> due = Due.of(facts, fleet, now);
        List<Order> open = orders.stream()
                .filter(o -> o.database().equals(facts.database().id()) && Orders.isOpen(o, facts.history()))
                .toList();
        if (due.isEmpty() && open.isEmpty()) {
            return List.of();
        }
        Trial trial = new Trial(facts, fleet, now);
        List<RunnerWork.Task> out = new ArrayList<>();
        for (Order o : open) {
            out.add(task(trial, o.id(), o.backup(), o.kind(), null, o.at(), Optional.empty(), Optional.of(o)));
        }
        for (Due d : due) {
            if (open.stream().anyMatch(o -> o.kind() == d.kind())) {
                // What somebody ordered serves the slot, too.
                continue;
            }
            out.add(task(
                    trial,
                    d.id(),
                    d.id() + ":backup",
                    d.kind(),
                    d.schedule().orElse(null),
                    d.since(),
                    d.until(),
                    Optional.empty()));
        }
        return out;
    }

    private RunnerWork.Task task(
            Trial trial,
            String run,
            String backup,
            Kind kind,
            @Nullable String schedule,
            Instant since,
            Optional<Instant> until,
            Optional<Order> order) {
        Database database = facts.database();
        Trial.Plan plan = trial.plan(kind);
        Optional<Route> route = fleet.route(database);
        List<String> choices = order.flatMap(Order::store).map(List::of).orElseGet(() -> trial.destinations(kind));
        return new RunnerWork.Task(
                run,
                backup,
                database.id(),
                kind.word(),
                order.isPresent() ? "hand" : "schedule",
                schedule,
                since,
                until.orElse(null),
                plan.parent().orElse(null),
                lineage(),
                reached(trial.habits().logs()),
                choices,
                route.map(Route::copies).orElse(List.of()),
                CoverRows.seconds(plan.takes()),
                plan.bytes(),
                order.map(Order::by).orElse(null),
                order.map(Order::reason).orElse(null));
    }

    /** The lineage that goes on. */
    private String lineage() {
        return facts.database().lineages().stream()
                .filter(l -> l.openedAt().filter(now::isBefore).isEmpty())
                .reduce((one, other) -> other)
                .map(l -> l.id())
                .orElse("1");
    }

    private Map<String, RunnerWork.Reached> reached(LogHabit logs) {
        Map<String, RunnerWork.Reached> out = new LinkedHashMap<>();
        List<String> streams = facts.database().streams();
        for (int s = 0; s < streams.size(); s++) {
            if (logs.lastTo(s) >= 0) {
                out.put(
                        streams.get(s),
                        new RunnerWork.Reached(logs.lastTo(s), Instant.ofEpochMilli(logs.lastToTimeMs(s))));
            }
        }
        return out;
    }
}
