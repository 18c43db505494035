package firth.exchange;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.TreeSet;

/** The one way JSON text is read and written: every module that does takes the mapper from here. */
public final class Json {

    /** Not to be configured: whoever needs more takes a copy. */
    public static final ObjectMapper MAPPER = JsonMapper.builder().build();

    private Json() {}

    /** The same facts always give the same text: fields in the order of their names. */
    static String canonical(JsonNode node) {
        try {
            return MAPPER.writeValueAsString(sorted(node));
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("JSON that was read cannot be written", e);
        }
    }

    static ObjectNode object(String text) {
        try {
            return (ObjectNode) MAPPER.readTree(text);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("JSON that was kept cannot be read", e);
        }
    }

    private static JsonNode sorted(JsonNode node) {
        if (node instanceof ObjectNode object) {
            ObjectNode out = MAPPER.createObjectNode();
            TreeSet<String> names = new TreeSet<>();
            object.fieldNames().forEachRemaining(names::add);
            names.forEach(name -> out.set(name, sorted(object.get(name))));
            return out;
        }
        if (node instanceof ArrayNode array) {
            ArrayNode out = MAPPER.createArrayNode();
            array.forEach(item -> out.add(sorted(item)));
            return out;
        }
        return node;
    }
}
