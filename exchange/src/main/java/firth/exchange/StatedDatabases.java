package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Catalog;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Databases as somebody states them in a form or a table: what is not said stays as it was, and names of sites, routes, policies and
 * databases become ids, or the record is refused. So a name that is almost an id never stands beside it as another.
 */
public final class StatedDatabases {

    /** Fields that name something else, and what that is. */
    private static final Map<String, String> NAMING = Map.of(
            "site", "site",
            "route", "route",
            "policy", "policy",
            "standbyOf", "database");

    private final Map<String, Map<String, String>> names;
    private final Map<String, ObjectNode> known = new TreeMap<>();
    private final Instant now;

    /**
     * @param names of sites, routes and policies, by {@code site}, {@code route} and {@code policy}: by id what each is called
     * @param databases the databases as they were last stated, as text of the exchange format
     * @param now from when on a database is in service of which nobody says so
     */
    public StatedDatabases(Map<String, Map<String, String>> names, List<String> databases, Instant now) {
        this.names = new TreeMap<>(names);
        for (String text : databases) {
            ObjectNode node = Json.object(text);
            known.put(node.path("id").asText(), node);
        }
        this.names.put(
                "database",
                known.entrySet().stream()
                        .collect(Collectors.toMap(
                                Map.Entry::getKey,
                                e -> e.getValue().path("name").asText(e.getKey()))));
        this.now = now;
    }

    /**
     * Takes them one by one; one that cannot be taken leaves the others unharmed.
     *
     * @param stated each an object with the fields that are said
     * @param whole whether they are said as a whole: a field that is not there is no longer so
     */
    public ImportReport read(List<JsonNode> stated, boolean whole, String name, Catalog catalog) {
        FleetFileReader reader = new FleetFileReader(name, catalog);
        for (int n = 0; n < stated.size(); n++) {
            JsonNode said = stated.get(n);
            reader.take(n + 1L, said.toString(), () -> List.of(record(said, whole)));
        }
        return reader.report();
    }

    /**
     * What would become of a database that is stated.
     *
     * @param id of the database; empty where it cannot be told
     * @param before as it was stated last; empty where it is new
     * @param changes what would be said otherwise; none where all is as it was
     * @param bad why it cannot be taken
     */
    public record Compared(String id, Optional<JsonNode> before, List<FieldChange> changes, Optional<BadField> bad) {}

    /** A field, as text of JSON before and after; empty where nothing was, or would be, said. */
    public record FieldChange(String field, String before, String after) {}

    /** Compares databases with how they were stated last; nothing is taken. */
    public List<Compared> compare(List<JsonNode> stated) {
        return stated.stream().map(this::compare).toList();
    }

    private Compared compare(JsonNode said) {
        try {
            ObjectNode after = record(said, false);
            FleetRecords.read("database", new Fields(after, "", (field, odd) -> {}));
            String id = after.path("id").asText();
            Optional<ObjectNode> before = Optional.ofNullable(known.get(id));
            List<FieldChange> changes = new ArrayList<>();
            Set<String> fields = new TreeSet<>();
            after.fieldNames().forEachRemaining(fields::add);
            for (String field : fields) {
                String was = before.map(b -> text(b.get(field))).orElse("");
                String is = text(after.get(field));
                if (!was.equals(is)) {
                    changes.add(new FieldChange(field, was, is));
                }
            }
            return new Compared(id, before.map(b -> b), changes, Optional.empty());
        } catch (BadField e) {
            return new Compared(said.path("id").asText(""), Optional.empty(), List.of(), Optional.of(e));
        }
    }

    private static String text(@Nullable JsonNode value) {
        return value == null || value.isNull() ? "" : value.isValueNode() ? value.asText() : value.toString();
    }

    /** Texts of one field that name nothing, or more than one thing, and how often each is said. */
    public Map<String, Map<String, Integer>> unknownNames(List<JsonNode> stated) {
        Map<String, Map<String, Integer>> out = new TreeMap<>();
        for (JsonNode said : stated) {
            NAMING.forEach((field, what) -> {
                String text = said.path(field).isTextual() ? said.path(field).textValue() : "";
                if (!text.isBlank() && resolved(what, text).isEmpty()) {
                    out.computeIfAbsent(field, f -> new TreeMap<>()).merge(text, 1, Integer::sum);
                }
            });
        }
        return out;
    }

    private ObjectNode record(JsonNode said, boolean whole) {
        if (!(said instanceof ObjectNode fields)) {
            throw new BadField("", "the record is not a JSON object");
        }
        Optional<String> id = resolved(
                "database", fields.path("id").asText(fields.path("name").asText("")));
        ObjectNode out = whole
                ? Json.MAPPER.createObjectNode()
                : id.map(known::get).map(ObjectNode::deepCopy).orElseGet(Json.MAPPER::createObjectNode);
        JsonNode labels = out.path("labels").deepCopy();
        out.setAll(fields.deepCopy());
        if (labels instanceof ObjectNode kept && out.get("labels") instanceof ObjectNode more) {
            // A table with a column for one label says nothing of the others.
            out.set("labels", kept.setAll(more));
        }
        out.put("type", "database");
        id.ifPresent(i -> out.put("id", i));
        if (!out.hasNonNull("inServiceFrom")) {
            out.put("inServiceFrom", now.toString());
        }
        NAMING.forEach((field, what) -> {
            if (fields.path(field).isTextual()) {
                String text = fields.path(field).textValue();
                out.put(field, resolved(what, text).orElseThrow(() -> new BadField(field, unknown(what, text))));
            }
        });
        return out;
    }

    /** The one id that a text is, or that is called so, whatever its case. */
    private Optional<String> resolved(String what, String text) {
        Map<String, String> all = names.getOrDefault(what, Map.of());
        if (all.containsKey(text)) {
            return Optional.of(text);
        }
        String plain = text.strip();
        Set<String> found = all.entrySet().stream()
                .filter(e -> e.getKey().equalsIgnoreCase(plain) || e.getValue().equalsIgnoreCase(plain))
                .map(Map.Entry::getKey)
                .collect(Collectors.toSet());
        return found.size() == 1 ? found.stream().findFirst() : Optional.empty();
    }

    private String unknown(String what, String text) {
        Map<String, String> all = names.getOrDefault(what, Map.of());
        String known = all.isEmpty()
                ? "none is known yet"
                : "known are "
                        + new TreeMap<>(all)
                                .entrySet().stream()
                                        .limit(8)
                                        .map(e -> e.getKey().equals(e.getValue())
                                                ? e.getKey()
                                                : e.getKey() + " (" + e.getValue() + ")")
                                        .collect(Collectors.joining(", "));
        return "is no " + what + " Firth knows: " + text + "; " + known;
    }
}
