package firth.server;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.startsWith;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.Response;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.eclipse.microprofile.config.ConfigProvider;
import org.junit.jupiter.api.Test;

/** What the description of the API says of its answers is so: of every address that can be asked, over the demo's fleet. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class DescribedApiTest {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Map<String, String> SAMPLES =
            Map.of("id", "berths", "host", "northquay-1", "store", "north-near", "database", "berths");

    private final Set<String> wrong = new TreeSet<>();
    private final Set<String> seen = new TreeSet<>();
    private final JsonNode api = read();

    private static JsonNode read() {
        try {
            return JSON.readTree(Path.of("openapi/openapi.json").toFile());
        } catch (IOException e) {
            throw new AssertionError(e);
        }
    }

    /** Every word of a field that is said to hold some words alone is one of them. */
    @Test
    void everyWordIsOneThatIsDescribed() throws IOException {
        for (Map.Entry<String, JsonNode> path : api.path("paths").properties()) {
            JsonNode get = path.getValue().path("get");
            JsonNode schema = get.at("/responses/200/content/application~1json/schema");
            if (!schema.isMissingNode() && !filled(path.getKey()).contains("{")) {
                Response answer = given().queryParam("period", "P30D").get(filled(path.getKey()));
                if (answer.statusCode() == 200 && answer.contentType().startsWith("application/json")) {
                    check(path.getKey(), schema, JSON.readTree(answer.asString()));
                }
            }
        }
        assertEquals(Set.of(), wrong);
        assertTrue(
                seen.containsAll(Set.of("Row.grade", "FindingView.severity", "SlotView.verdict", "StoreRow.role")),
                seen::toString);
    }

    /** Whatever is asked for by GET leaves the file as it was. */
    @Test
    void askingChangesNothing() throws SQLException {
        String file = ConfigProvider.getConfig().getValue("firth.data", String.class);
        Set<String> changed = new TreeSet<>();
        int asked = 0;
        try (Connection beside = DriverManager.getConnection("jdbc:sqlite:" + file)) {
            for (Map.Entry<String, JsonNode> path : api.path("paths").properties()) {
                if (path.getValue().has("get") && !path.getKey().contains("/changes")) {
                    long before = version(beside);
                    given().queryParam("period", "P30D")
                            .get(filled(path.getKey())
                                    .replace("{format}", "csv")
                                    .replaceAll("\\{\\w+}", "x"));
                    asked++;
                    if (version(beside) != before) {
                        changed.add(path.getKey());
                    }
                }
            }
        }
        assertEquals(Set.of(), changed);
        assertTrue(asked > 40, "asked " + asked);
    }

    /** Moves with every change that another connection commits. */
    private static long version(Connection beside) throws SQLException {
        try (Statement statement = beside.createStatement();
                ResultSet row = statement.executeQuery("PRAGMA data_version")) {
            return row.getLong(1);
        }
    }

    private static String filled(String path) {
        String out = path;
        for (Map.Entry<String, String> sample : SAMPLES.entrySet()) {
            out = out.replace("{" + sample.getKey() + "}", sample.getValue());
        }
        return out.contains("/policies/berths")
                ? out.replace("berths", "sailings")
                : out.contains("/stores/berths") ? out.replace("berths", "north-near") : out;
    }

    private void check(String where, JsonNode schema, JsonNode value) {
        if (value.isNull() || value.isMissingNode()) {
            return;
        }
        String ref = schema.path("$ref").asText();
        for (JsonNode any : schema.path("anyOf")) {
            ref = any.has("$ref") ? any.path("$ref").asText() : ref;
        }
        if (!ref.isEmpty()) {
            String name = ref.substring(ref.lastIndexOf('/') + 1);
            check(name, api.path("components").path("schemas").path(name), value);
            return;
        }
        for (JsonNode element : value.isArray() ? value : JSON.createArrayNode()) {
            check(where, schema.path("items"), element);
        }
        for (Map.Entry<String, JsonNode> field : schema.path("properties").properties()) {
            JsonNode own = value.path(field.getKey());
            JsonNode words = field.getValue().path("enum");
            String name = where + "." + field.getKey();
            if (words.isArray() && own.isTextual()) {
                seen.add(name);
                Set<String> allowed = new TreeSet<>();
                words.forEach(w -> allowed.add(w.asText()));
                if (!allowed.contains(own.asText())) {
                    wrong.add(name + " is " + own.asText());
                }
            }
            check(name, field.getValue(), own);
        }
    }

    /** Errors are problems as RFC 9457 has them, with what is unharmed and what to do. */
    @Test
    void whatIsRefusedIsAProblem() {
        given().get("/api/databases/atlantis")
                .then()
                .statusCode(404)
                .contentType(startsWith("application/problem+json"))
                .body("type", equalTo("/problems/not-found"))
                .body("title", equalTo("Not found"))
                .body("status", equalTo(404))
                .body("detail", startsWith("There is no database atlantis"))
                .body("unharmed", equalTo("Nothing was changed."));
        JsonNode problems =
                api.path("paths").path("/api/databases/{id}").path("get").path("responses");
        assertEquals(
                "#/components/schemas/Problem",
                problems.path("404")
                        .path("content")
                        .path("application/problem+json")
                        .path("schema")
                        .path("$ref")
                        .asText());
    }

    /** Each operation has a name of its own, so that a program can be made from the description. */
    @Test
    void everyOperationIsNamedOnce() {
        Set<String> names = new TreeSet<>();
        api.path("paths")
                .forEach(path -> path.forEach(operation -> {
                    if (operation.has("responses")) {
                        assertTrue(
                                names.add(operation.path("operationId").asText()),
                                operation.path("operationId")::asText);
                    }
                }));
        assertTrue(names.size() > 100 && !names.contains(""), names::toString);
    }
}
