package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import firth.core.model.Database;
import firth.core.model.Lineage;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A database as it was last stated in the exchange format, to be stated anew with a change: fields Firth does not know are kept. */
public final class DatabaseDocument {

    /** What a database that came of a restore has as the old one has it. */
    private static final List<String> INHERITED = List.of(
            "engine", "site", "zone", "streams", "sizeBytes", "replayBytesPerSecond", "labels", "owner", "components");

    private final ObjectNode node;

    private DatabaseDocument(ObjectNode node) {
        this.node = node;
    }

    /** @param documents databases as they were kept; empty where none has the id */
    public static Optional<DatabaseDocument> among(List<String> documents, String id) {
        return documents.stream()
                .map(Json::object)
                .filter(n -> n.path("id").asText().equals(id))
                .findFirst()
                .map(DatabaseDocument::new);
    }

    /**
     * With a lineage that a restore opened.
     *
     * @param id of the lineage; empty: the next number
     * @param forks by stream, the position at which logs of the parent stopped being applied
     * @throws BadField where the lineage is known already
     */
    public DatabaseDocument withLineage(Optional<String> id, String parent, Instant openedAt, Map<String, Long> forks) {
        ObjectNode out = node.deepCopy();
        ArrayNode lineages = out.path("lineages") instanceof ArrayNode known
                ? known
                : out.putArray("lineages").add(Json.MAPPER.createObjectNode().put("id", Lineage.FIRST.id()));
        String own = id.orElseGet(() -> Integer.toString(lineages.size() + 1));
        for (JsonNode l : lineages) {
            if (l.path("id").asText().equals(own)) {
                throw new BadField("lineage", own + " is known already");
            }
        }
        ObjectNode lineage =
                lineages.addObject().put("id", own).put("parent", parent).put("openedAt", openedAt.toString());
        ObjectNode positions = lineage.putObject("forkPos");
        forks.forEach(positions::put);
        return new DatabaseDocument(out);
    }

    /** Another database, alike but for its name, where it runs and what it follows. */
    public DatabaseDocument restoredAs(
            String id, Instant inServiceFrom, Optional<String> host, Optional<String> policy, Optional<String> route) {
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("type", "database")
                .put("id", id)
                .put("name", id)
                .put("inServiceFrom", inServiceFrom.toString());
        INHERITED.stream().filter(node::has).forEach(field -> out.set(field, node.get(field)));
        host.ifPresent(h -> out.put("host", h));
        policy.ifPresent(p -> out.put("policy", p));
        route.ifPresent(r -> out.put("route", r));
        return new DatabaseDocument(out);
    }

    /** @throws BadField naming the first value that cannot be taken */
    public Stated stated() {
        Database database = DatabaseRecords.database(new Fields(node, "", (field, text) -> {}));
        return new Stated(database, Json.canonical(node));
    }
}
