package firth.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Compares an answer with an expected one in the fields the expected one has. Instants and seconds may differ by 2 ms,
 * ratios by a millionth; the order of arrays says nothing; breaches that touch are one.
 */
final class Comparison {

    private static final Map<String, List<String>> KEYS = Map.of(
            "databases", List.of("id"),
            "gaps", List.of("lineage", "stream", "from", "to"),
            "slots", List.of("schedule", "open"),
            "cadence", List.of("schedule", "stream", "from"),
            "retention", List.of("backup", "store"));
    private static final Set<String> RATIOS = Set.of("cover", "attainment");

    private final List<String> differences = new ArrayList<>();

    List<String> of(JsonNode expected, JsonNode actual) {
        compare("$", "", expected, actual);
        return differences;
    }

    private void compare(String path, String name, JsonNode e, JsonNode a) {
        if (e.isObject() && a.isObject()) {
            for (Map.Entry<String, JsonNode> field : e.properties()) {
                String key = field.getKey();
                if (!key.equals("findings")) {
                    if (a.has(key)) {
                        compare(path + "." + key, key, field.getValue(), a.get(key));
                    } else {
                        differences.add(path + "." + key + " is missing");
                    }
                }
            }
        } else if (e.isArray() && a.isArray()) {
            arrays(path, name, (ArrayNode) e, (ArrayNode) a);
        } else if (!same(name, e, a)) {
            differences.add(path + ": expected " + e + ", got " + a);
        }
    }

    private void arrays(String path, String name, ArrayNode e, ArrayNode a) {
        if (name.equals("rejected")) {
            if (!lines(e).equals(lines(a))) {
                differences.add(path + ": expected the lines " + lines(e) + ", got " + lines(a));
            }
        } else if (KEYS.containsKey(name)) {
            Map<String, JsonNode> es = keyed(name, e);
            Map<String, JsonNode> as = keyed(name, a);
            Set<String> keys = new TreeSet<>(es.keySet());
            keys.addAll(as.keySet());
            for (String key : keys) {
                if (es.containsKey(key) && as.containsKey(key)) {
                    compare(path + "[" + key + "]", name, es.get(key), as.get(key));
                } else {
                    differences.add(path + "[" + key + "]: expected " + es.get(key) + ", got " + as.get(key));
                }
            }
        } else {
            List<JsonNode> es = name.equals("breaches") ? joined(e) : sorted(e);
            List<JsonNode> as = name.equals("breaches") ? joined(a) : sorted(a);
            if (es.size() != as.size()) {
                differences.add(path + ": expected " + es + ", got " + as);
                return;
            }
            for (int i = 0; i < es.size(); i++) {
                compare(path + "[" + i + "]", "", es.get(i), as.get(i));
            }
        }
    }

    private static Set<Integer> lines(ArrayNode rejected) {
        Set<Integer> out = new TreeSet<>();
        rejected.forEach(r -> out.add(r.get("line").asInt()));
        return out;
    }

    private static Map<String, JsonNode> keyed(String name, ArrayNode array) {
        Map<String, JsonNode> out = new TreeMap<>();
        array.forEach(item -> {
            StringBuilder key = new StringBuilder();
            KEYS.get(name).forEach(k -> key.append(item.path(k).asText()).append('/'));
            out.put(key.toString(), item);
        });
        return out;
    }

    private static List<JsonNode> sorted(ArrayNode array) {
        List<JsonNode> out = new ArrayList<>();
        array.forEach(out::add);
        Collections.sort(out, (x, y) -> key(x).compareTo(key(y)));
        return out;
    }

    private static String key(JsonNode n) {
        return n.isObject()
                ? n.path("lineage").asText()
                        + n.path("from").asText()
                        + n.path("to").asText()
                : n.asText();
    }

    private static List<JsonNode> joined(ArrayNode breaches) {
        List<JsonNode> out = new ArrayList<>();
        for (JsonNode b : sorted(breaches)) {
            if (!out.isEmpty() && out.get(out.size() - 1).get("to").equals(b.get("from"))) {
                com.fasterxml.jackson.databind.node.ObjectNode last =
                        out.remove(out.size() - 1).deepCopy();
                last.set("to", b.get("to"));
                last.put(
                        "worstSeconds",
                        Math.max(
                                last.get("worstSeconds").asDouble(),
                                b.get("worstSeconds").asDouble()));
                out.add(last);
            } else {
                out.add(b);
            }
        }
        return out;
    }

    private static boolean same(String name, JsonNode e, JsonNode a) {
        if (e.isNumber() && a.isNumber()) {
            double tolerance = RATIOS.contains(name) ? 1e-6 : name.endsWith("Seconds") ? 0.002 : 0;
            return Math.abs(e.asDouble() - a.asDouble()) <= tolerance + 1e-12;
        }
        Optional<Instant> x = instant(e);
        Optional<Instant> y = instant(a);
        if (x.isPresent() && y.isPresent()) {
            return Duration.between(x.get(), y.get()).abs().toMillis() <= 2;
        }
        return e.equals(a);
    }

    private static Optional<Instant> instant(JsonNode n) {
        if (!n.isTextual() || !n.textValue().endsWith("Z")) {
            return Optional.empty();
        }
        try {
            return Optional.of(Instant.parse(n.textValue()));
        } catch (DateTimeParseException notAnInstant) {
            return Optional.empty();
        }
    }
}
