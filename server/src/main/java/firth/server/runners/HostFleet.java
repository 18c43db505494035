package firth.server.runners;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.exchange.FleetFileReader;
import firth.server.evaluation.FleetNow;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;

/** The part of the fleet that the databases on a host speak of, as they stand now. */
final class HostFleet {

    private HostFleet() {}

    /** As records of the exchange format; a database says itself which policy and route are its own now, however it came to them. */
    static List<JsonNode> of(FactsHolder facts, FleetNow fleet, List<Database> own, Instant now) {
        List<JsonNode> out = new ArrayList<>();
        TreeSet<String> routes = new TreeSet<>();
        TreeSet<String> stores = new TreeSet<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (Database d : own) {
                Optional<Route> route = fleet.fleet().route(d);
                document(snapshot, "database", d.id()).ifPresent(written -> {
                    written.remove(List.of("assigned", "policy", "route"));
                    d.policyAt(now).ifPresent(p -> written.put("policy", p));
                    route.ifPresent(r -> written.put("route", r.id()));
                    out.add(written);
                });
                route.ifPresent(r -> {
                    routes.add(r.id());
                    stores.addAll(r.dataStores());
                    stores.addAll(r.logStores());
                    stores.addAll(r.copies());
                });
            }
            routes.forEach(r -> document(snapshot, "route", r).ifPresent(out::add));
            stores.forEach(s -> document(snapshot, "store", s).ifPresent(out::add));
            for (String text : snapshot.documents("closure")) {
                Closure closure = (Closure) FleetFileReader.recordOf(text);
                if (closure.span().to().isAfter(now) && isOf(closure, fleet, own, now)) {
                    out.add(TaskHanding.parsed(text));
                }
            }
        }
        return out;
    }

    private static Optional<ObjectNode> document(Snapshot snapshot, String type, String id) {
        return snapshot.document(type, id).map(text -> (ObjectNode) TaskHanding.parsed(text));
    }

    private static boolean isOf(Closure closure, FleetNow fleet, List<Database> own, Instant now) {
        return own.stream()
                .anyMatch(d -> closure.database().filter(d.id()::equals).isPresent()
                        || closure.policy().isPresent()
                                && closure.policy()
                                        .equals(fleet.fleet().versionAt(d, now).map(PolicyVersion::id)));
    }
}
