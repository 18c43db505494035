package firth.server;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** Whatever is sent where JSON is expected, with fields left out, null or of another kind, is answered with what is wrong. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class BodiesTest {

    private static final ObjectMapper JSON = new ObjectMapper();

    private final Set<String> broke = new TreeSet<>();
    private final JsonNode api = read();
    private int sent;

    private static JsonNode read() {
        try {
            return JSON.readTree(Path.of("openapi/openapi.json").toFile());
        } catch (IOException e) {
            throw new AssertionError(e);
        }
    }

    @Test
    void nothingThatIsSentBreaksOff() {
        for (Map.Entry<String, JsonNode> path : api.path("paths").properties()) {
            for (String verb : List.of("post", "put")) {
                JsonNode schema = path.getValue().at("/" + verb + "/requestBody/content/application~1json/schema");
                if (!schema.isMissingNode()) {
                    bodies(schema).forEach(b -> send(verb, path.getKey(), b));
                    List.of("", "{", "7", "\"x\"", "null").forEach(b -> send(verb, path.getKey(), b));
                }
            }
        }
        assertEquals(Set.of(), broke);
        assertTrue(sent > 500, "asked " + sent);
    }

    @Test
    void theFieldIsNamed() {
        assertEquals("sideBySide is not a number.", detail("/api/rehearsals", "{\"sideBySide\":\"x\"}"));
        assertEquals("sites is not a list.", detail("/api/rehearsals", "{\"sites\":7,\"sideBySide\":1}"));
        assertEquals("asOf is missing.", detail("/api/purge", "{}"));
        assertEquals(
                "until is not a moment such as 2026-11-23T09:12:00Z.",
                detail("/api/watch/accepts", "{\"finding\":\"x\",\"reason\":\"y\",\"until\":\"z\"}"));
        assertEquals("items[0].item is not a number.", detail("/api/purge/x/told", "{\"items\":[{\"item\":{}}]}"));
        assertEquals("The body is missing.", detail("/api/purge/choice", ""));
        assertEquals("What was sent is not JSON: line 1, column 2.", detail("/api/purge/choice", "{x"));
    }

    private static String detail(String path, String body) {
        return given().contentType("application/json")
                .body(body)
                .post(path)
                .then()
                .statusCode(400)
                .extract()
                .path("detail");
    }

    private List<String> bodies(JsonNode schema) {
        List<String> out = new ArrayList<>(List.of("{}", "[]", "[{}]"));
        ObjectNode whole =
                (ObjectNode) sample(schema.path("type").asText().equals("array") ? schema.path("items") : schema);
        for (Map.Entry<String, JsonNode> field : whole.deepCopy().properties()) {
            out.add(whole.deepCopy().without(field.getKey()).toString());
            for (JsonNode other : List.of(
                    JSON.nullNode(),
                    JSON.getNodeFactory().textNode("x"),
                    JSON.getNodeFactory().numberNode(7),
                    JSON.createObjectNode(),
                    JSON.createArrayNode().addNull())) {
                ObjectNode bad = whole.deepCopy();
                bad.set(field.getKey(), other);
                out.add(schema.path("type").asText().equals("array") ? "[" + bad + "]" : bad.toString());
            }
        }
        return out;
    }

    /** Something that has every field, of the kind that is described. */
    private JsonNode sample(JsonNode schema) {
        String ref = schema.path("$ref").asText();
        for (JsonNode any : schema.path("anyOf")) {
            ref = any.has("$ref") ? any.path("$ref").asText() : ref;
        }
        if (!ref.isEmpty()) {
            return sample(api.at(ref.substring(1)));
        }
        JsonNode type = schema.path("type");
        String kind = type.isArray() ? type.get(0).asText() : type.asText();
        return switch (kind) {
            case "array" -> JSON.createArrayNode().add(sample(schema.path("items")));
            case "integer", "number" -> JSON.getNodeFactory().numberNode(1);
            case "boolean" -> JSON.getNodeFactory().booleanNode(true);
            case "string" ->
                JSON.getNodeFactory()
                        .textNode(
                                schema.path("format").asText().equals("date-time")
                                        ? "2030-01-01T00:00:00Z"
                                        : schema.path("enum").path(0).asText("a word"));
            default -> {
                ObjectNode out = JSON.createObjectNode();
                schema.path("properties").properties().forEach(p -> out.set(p.getKey(), sample(p.getValue())));
                yield out;
            }
        };
    }

    private void send(String verb, String path, String body) {
        sent++;
        String address = path.replace("{store}", "north-near")
                .replace("{database}", "berths")
                .replace("{host}", "northquay-1")
                .replace("{num}", "1")
                .replace("{type}", "site")
                .replace("{version}", "1")
                .replace("{fault}", "archiver")
                .replace("{policy}", "sailings")
                .replace("/policies/{id}", "/policies/sailings")
                .replace("{id}", "berths");
        Response answer = given().contentType("application/json").body(body).request(verb, address);
        boolean bad = answer.statusCode() >= 500;
        boolean told = answer.statusCode() < 400
                || answer.contentType().startsWith("application/problem+json")
                        && !answer.jsonPath().getString("detail").matches("The request was refused.*");
        if (bad || !told) {
            broke.add(answer.statusCode() + " " + verb + " " + path + " " + body + " -> " + answer.asString());
        }
    }
}
