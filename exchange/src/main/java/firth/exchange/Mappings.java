package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Mapping;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads how tables are to be read. */
public final class Mappings {

    private static final Map<String, String> OF = Map.of("run", "run", "backup", "backup", "both", "both");

    private Mappings() {}

    /**
     * Reads one from text.
     *
     * @throws IllegalArgumentException naming the field and what is wrong with it
     */
    public static Mapping of(String document) {
        try {
            if (!(Json.MAPPER.readTree(document) instanceof ObjectNode object)) {
                throw new IllegalArgumentException("is not a JSON object");
            }
            return mapping(new Fields(object, "", (field, text) -> {}));
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw new IllegalArgumentException("is not JSON", e);
        } catch (BadField e) {
            throw new IllegalArgumentException(e.field() + " " + e.getMessage(), e);
        }
    }

    static Mapping mapping(Fields f) {
        f.warnUnknown(Set.of("type", "id", "name", "of", "columns", "words", "fixed", "zone", "pattern"));
        String id = f.requiredId("id");
        Map<String, Map<String, String>> words = new LinkedHashMap<>();
        for (Map.Entry<String, JsonNode> e : f.value("words").properties()) {
            words.put(e.getKey(), texts(f, "words." + e.getKey(), e.getValue()));
        }
        Map<String, String> columns = texts(f, "columns", f.value("columns"));
        columns.forEach((header, target) -> {
            if (!TableRow.reads(target)) {
                throw f.bad("columns." + header, "points at " + target + ", which is not a field of a run or backup");
            }
        });
        return new Mapping(
                id,
                f.text("name").orElse(id),
                f.word("of", OF).orElse("backup"),
                columns,
                words,
                texts(f, "fixed", f.value("fixed")),
                f.text("zone").map(z -> zone(f, z)),
                f.text("pattern").map(p -> pattern(f, p)));
    }

    private static Map<String, String> texts(Fields f, String name, JsonNode node) {
        Map<String, String> out = new LinkedHashMap<>();
        for (Map.Entry<String, JsonNode> e : node.properties()) {
            if (!e.getValue().isTextual()) {
                throw f.bad(name + "." + e.getKey(), "is not text");
            }
            out.put(e.getKey(), e.getValue().textValue());
        }
        return out;
    }

    private static ZoneId zone(Fields f, String text) {
        try {
            return ZoneId.of(text);
        } catch (DateTimeException e) {
            throw f.bad("zone", "is not a time zone such as Europe/Lisbon");
        }
    }

    private static String pattern(Fields f, String text) {
        try {
            DateTimeFormatter unused = DateTimeFormatter.ofPattern(text, Locale.ENGLISH);
            return text;
        } catch (IllegalArgumentException e) {
            throw f.bad("pattern", "is not a pattern of times such as dd/MM/yyyy HH:mm:ss");
        }
    }

    /** One that takes the headers for the names of fields. */
    public static Mapping plain(String of) {
        return new Mapping("plain", "plain", of, Map.of(), Map.of(), Map.of(), Optional.empty(), Optional.empty());
    }
}
