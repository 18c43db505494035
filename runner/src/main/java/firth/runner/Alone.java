package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.adherence.Due;
import firth.core.forecast.Trial;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.exchange.FleetFileReader;
import firth.exchange.Json;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** What is due while Firth is away, by the same computation on what Firth said last and on what was done here since. */
final class Alone {

    private Alone() {}

    /**
     * The runs to start now, as Firth would hand them out and under the ids it would give them.
     *
     * @param facts lines of the exchange format: databases, policies, routes and stores, and the runs and backups that are known
     */
    static List<JsonNode> due(List<String> facts, Instant now) throws IOException {
        if (facts.isEmpty()) {
            return List.of();
        }
        MemoryCatalog catalog = new MemoryCatalog();
        byte[] bytes = String.join("\n", facts).getBytes(StandardCharsets.UTF_8);
        FleetFileReader.read(new ByteArrayInputStream(bytes), "what Firth said last", catalog);
        Fleet fleet = catalog.fleet();
        List<JsonNode> out = new ArrayList<>();
        for (DatabaseFacts own : catalog.databases()) {
            List<Due> due = Due.of(own, fleet, now);
            if (!due.isEmpty()) {
                Trial trial = new Trial(own, fleet, now);
                due.forEach(d -> out.add(task(d, own, fleet, trial)));
            }
        }
        return out;
    }

    private static JsonNode task(Due due, DatabaseFacts own, Fleet fleet, Trial trial) {
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("run", due.id())
                .put("backup", due.id() + ":backup")
                .put("database", own.database().id())
                .put("kind", due.kind().word())
                .put("trigger", "schedule")
                .put("since", due.since().toString());
        due.schedule().ifPresent(s -> out.put("schedule", s));
        trial.plan(due.kind()).parent().ifPresent(p -> out.put("parent", p));
        trial.destinations(due.kind()).forEach(out.putArray("stores")::add);
        fleet.route(own.database()).ifPresent(r -> r.copies().forEach(out.withArray("copies")::add));
        return out;
    }
}
