package firth.server.restore;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Database;
import firth.server.evaluation.Evaluations;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The facts that follow from a restore that ended, as lines of a fleet file. */
final class EndedRestore {

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final ObjectMapper json;

    EndedRestore(Evaluations evaluations, FactsHolder facts, ObjectMapper json) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.json = json;
    }

    List<String> lines(RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened, String by) {
        List<String> out = new ArrayList<>();
        if (ended.ok() && kept.over()) {
            out.add(withLineage(kept, ended, opened).toString());
        } else if (ended.ok() && ended.enrol()) {
            out.add(enrolled(kept, opened).toString());
        }
        out.add(restore(kept, ended, opened, by).toString());
        return out;
    }

    private ObjectNode restore(
            RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened, String by) {
        ObjectNode out = json.createObjectNode()
                .put("type", "restore")
                .put("id", kept.id())
                .put("database", kept.plan().database())
                .put("backup", kept.plan().ways().get(0).tip())
                .put("started", kept.at().toString())
                .put("ended", opened.toString())
                .put("outcome", ended.ok() ? "ok" : "failed")
                .put("by", by);
        Optional.ofNullable(kept.plan().target()).ifPresent(t -> out.put("moment", t.toString()));
        Optional.ofNullable(ended.reached()).ifPresent(r -> out.put("reached", r.toString()));
        if (!kept.over()) {
            out.put("into", kept.name());
        }
        if (ended.message() != null && !ended.message().isBlank()) {
            out.put("message", ended.message().strip());
        }
        return out;
    }

    /** The old database with the lineage the restore opened: it forks where logs stopped being applied. */
    private ObjectNode withLineage(RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened) {
        ObjectNode database = stated(kept.plan().database());
        ArrayNode lineages = database.path("lineages").isArray()
                ? (ArrayNode) database.path("lineages")
                : database.putArray("lineages").add(json.createObjectNode().put("id", "1"));
        String id = ended.lineage() == null || ended.lineage().isBlank()
                ? Integer.toString(lineages.size() + 1)
                : ended.lineage().strip();
        for (JsonNode l : lineages) {
            if (l.path("id").asText().equals(id)) {
                throw new BadRequest("lineage", id + " is known already");
            }
        }
        List<RestoreView.StreamPosition> positions =
                ended.positions().isEmpty() ? kept.plan().positions() : ended.positions();
        if (positions.size() != kept.plan().streams().size()) {
            throw new BadRequest(
                    "positions",
                    "are missing: at which position of "
                            + String.join(", ", kept.plan().streams()) + " did logs stop being applied?");
        }
        ObjectNode forks = json.createObjectNode();
        positions.forEach(p -> forks.put(p.stream(), p.position()));
        ObjectNode lineage = json.createObjectNode()
                .put("id", id)
                .put("parent", kept.plan().ways().get(0).lineage())
                .put("openedAt", opened.toString());
        lineage.set("forkPos", forks);
        lineages.add(lineage);
        return database;
    }

    /** A new database under the rules of the old one. */
    private ObjectNode enrolled(RestoreView.KeptRestore kept, Instant opened) {
        ObjectNode database = stated(kept.plan().database());
        ObjectNode out = json.createObjectNode().put("type", "database").put("id", kept.name());
        out.put("name", kept.name()).put("inServiceFrom", opened.toString());
        for (String same : List.of(
                "engine",
                "site",
                "zone",
                "streams",
                "sizeBytes",
                "replayBytesPerSecond",
                "labels",
                "owner",
                "components")) {
            if (database.has(same)) {
                out.set(same, database.get(same));
            }
        }
        // The rules now in force, wherever they were stated: in the record, by an assignment, or by a standing rule.
        try (Snapshot snapshot = facts.store().read()) {
            Database known =
                    evaluations.fleet(snapshot).databases().get(kept.plan().database());
            known.policyAt(opened).ifPresent(p -> out.put("policy", p));
            known.particulars().route().ifPresent(r -> out.put("route", r));
        }
        if (!kept.host().isEmpty()) {
            out.put("host", kept.host());
        }
        return out;
    }

    private ObjectNode stated(String database) {
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("database")) {
                JsonNode node = json.readTree(text);
                if (node.path("id").asText().equals(database)) {
                    return (ObjectNode) node;
                }
            }
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A database kept here is not JSON", e);
        }
        throw new NotFound("There is no database " + database + ".");
    }
}
