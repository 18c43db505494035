package firth.server.runners;

import static io.restassured.RestAssured.given;
import static org.awaitility.Awaitility.await;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.not;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.adherence.Due;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.Json;
import firth.exchange.MemoryCatalog;
import firth.server.DemoFleet;
import firth.server.evaluation.Evaluations;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** What runners ask and are told, and a backup started by hand from order to end. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class RunnerTest {

    @Inject
    Evaluations evaluations;

    private static JsonPath get(String path) {
        return given().get(path).then().statusCode(200).extract().jsonPath();
    }

    private static JsonPath work(String host, String how) {
        return given().post("/api/runners/" + host + "/work" + how)
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    private static void tell(String... lines) {
        given().contentType("application/x-ndjson")
                .body(String.join("\n", lines).getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=runner")
                .then()
                .statusCode(200);
    }

    @Test
    void aRunnerServesTheVersionsInForceAndSaysSo() {
        JsonPath work = work("southquay-1", "?every=PT10S");
        assertEquals("southquay-1", work.getString("host"));
        int version = work.getInt("policies.find { it.policy == 'kiosks' }.version");
        assertTrue(work.getList("policies.find { it.policy == 'kiosks' }.databases")
                .contains("kiosk-south"));
        assertEquals("Kiosks", work.getString("policies.find { it.policy == 'kiosks' }.document.name"));
        given().get("/api/runners").then().body("find { it.host == 'southquay-1' }.behind", hasItem("kiosks"));
        given().contentType("application/json")
                .body(Map.of("version", version))
                .put("/api/runners/southquay-1/policies/kiosks")
                .then()
                .statusCode(204);
        given().get("/api/runners").then().body("find { it.host == 'southquay-1' }.behind", not(hasItem("kiosks")));
        given().contentType("application/json")
                .body(Map.of("version", 99))
                .put("/api/runners/southquay-1/policies/kiosks")
                .then()
                .statusCode(400)
                .body("detail", containsString("version"));
    }

    /** What a runner is given is all it takes to come to the same while Firth is away. */
    @Test
    void whatIsDueFollowsFromTheAnswerAndTheHistoryOfTheHost() throws Exception {
        int due = 0;
        List<String> known = given().get("/api/export").asString().lines().toList();
        for (String host : List.of("southquay-1", "southquay-2")) {
            String answer = given().post("/api/runners/" + host + "/work?every=PT1H&fleet=true")
                    .then()
                    .statusCode(200)
                    .extract()
                    .asString();
            JsonNode work = Json.MAPPER.readTree(answer);
            MemoryCatalog catalog = new MemoryCatalog();
            List<String> lines = new ArrayList<>();
            work.path("policies").forEach(p -> lines.add(p.path("document").toString()));
            work.path("fleet").forEach(f -> lines.add(f.toString()));
            Set<String> ids = new TreeSet<>();
            work.path("fleet").forEach(f -> {
                if (f.path("type").asText().equals("database")) {
                    ids.add(f.path("id").asText());
                }
            });
            List<String> own =
                    ids.stream().map(id -> "\"database\":\"" + id + "\"").toList();
            known.stream()
                    .filter(l -> l.contains("\"type\":\"run\"") || l.contains("\"type\":\"backup\""))
                    .filter(l -> own.stream().anyMatch(l::contains))
                    .forEach(lines::add);
            ImportReport taken = FleetFileReader.read(
                    new ByteArrayInputStream(String.join("\n", lines).getBytes(StandardCharsets.UTF_8)),
                    "what a runner knows",
                    catalog);
            assertEquals(List.of(), taken.rejected());
            Instant now = Instant.parse(work.path("now").asText());
            for (int hours = 0; hours < 24; hours++) {
                Instant at = now.plus(hours, ChronoUnit.HOURS);
                List<Due> here = catalog.databases().stream()
                        .flatMap(f -> Due.of(f, catalog.fleet(), at).stream())
                        .toList();
                List<Due> there = evaluations.ofFacts(ids, (fleet, facts) -> Due.of(facts, fleet.fleet(), at)).stream()
                        .flatMap(List::stream)
                        .toList();
                assertEquals(Set.copyOf(there), Set.copyOf(here), host + " at " + at);
                due += here.size();
            }
        }
        assertTrue(due > 0, "some are due");
    }

    @Test
    void aRunnerThatShouldHaveAskedThreeTimesIsSilentAndThatIsFound() {
        work("southquay-2", "?every=PT1S");
        given().get("/api/runners").then().body("find { it.host == 'southquay-2' }.silent", not(true));
        await().atMost(Duration.ofSeconds(20))
                .until(() -> get("/api/runners").getBoolean("find { it.host == 'southquay-2' }.silent"));
        JsonPath watch = get("/api/watch");
        assertNotNull(watch.getMap("findings.find { it.code == 'runner-silent' && it.key.endsWith('southquay-2') }"));
        given().post("/api/runners/southquay-2/work?every=PT0S").then().statusCode(400);
    }

    @Test
    void aBackupByHandIsOrderedTakenUpAndKept() {
        JsonPath offers = get("/api/databases/moorings/starts");
        assertTrue(offers.getList("offers.kind").contains("full"));
        String until = DemoFleet.now()
                .plus(40, ChronoUnit.DAYS)
                .truncatedTo(ChronoUnit.SECONDS)
                .toString();
        String run = given().contentType("application/json")
                .body(Map.of("kind", "full", "reason", "before the move", "keepUntil", until))
                .post("/api/databases/moorings/starts")
                .then()
                .statusCode(200)
                .extract()
                .path("run");
        assertTrue(get("/api/watch").getList("ordered.run").contains(run));
        JsonPath work = work("southquay-1", "");
        Map<String, Object> task = work.getMap("tasks.find { it.run == '" + run + "' }");
        assertEquals("hand", task.get("trigger"));
        assertEquals("before the move", task.get("reason"));
        // Told of as if it had been at the newest fact: the other tests' fleet must not grow old.
        Instant now = Instant.parse(get("/api/sources").getString("newest"));
        String head = "{\"type\":\"run\",\"id\":\"" + run
                + "\",\"database\":\"moorings\",\"kind\":\"full\",\"started\":\"" + now + "\"";
        tell(head + ",\"outcome\":\"running\",\"course\":[{\"at\":\"" + now
                + "\",\"readBytes\":0,\"writtenBytes\":0},{\"at\":\"" + now.plusSeconds(10)
                + "\",\"readBytes\":9,\"writtenBytes\":500}]}");
        JsonPath watch = get("/api/watch");
        assertEquals(List.of(), watch.getList("ordered.findAll { it.run == '" + run + "' }"));
        assertEquals(50f, watch.getFloat("running.find { it.run == '" + run + "' }.progress.bytesPerSecond"));
        tell(
                head + ",\"ended\":\"" + now.plusSeconds(20) + "\",\"outcome\":\"ok\"}",
                "{\"type\":\"backup\",\"id\":\"" + task.get("backup") + "\",\"run\":\"" + run
                        + "\",\"database\":\"moorings\",\"kind\":\"full\",\"started\":\"" + now + "\",\"ended\":\""
                        + now.plusSeconds(20)
                        + "\",\"bytes\":1000,\"selfContained\":true,\"copies\":[{\"store\":\"south-near\"}]}");
        JsonPath copies = get("/api/databases/moorings/backups?kinds=full&asOf="
                + DemoFleet.now().truncatedTo(ChronoUnit.SECONDS));
        assertTrue(copies.getList("items.find { it.id == '" + task.get("backup") + "' }.reasons.word")
                .contains("held"));
    }

    @Test
    void anOrderWithoutAReasonIsRefused() {
        given().contentType("application/json")
                .body(Map.of("kind", "full", "reason", ""))
                .post("/api/databases/moorings/starts")
                .then()
                .statusCode(400)
                .body("detail", containsString("reason"));
        given().contentType("application/json")
                .body(Map.of("kind", "half", "reason", "r"))
                .post("/api/databases/moorings/starts")
                .then()
                .statusCode(400);
    }
}
