package firth.server.purge;

import static firth.server.people.Being.agentAt;
import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasItems;
import static org.hamcrest.Matchers.not;
import static org.hamcrest.Matchers.nullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import firth.server.people.Secrets;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** From what no rule needs to files that are gone: who may do which step, and what stops it. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class PurgeTest {

    @ConfigProperty(name = "firth.data")
    String data;

    @BeforeEach
    void aMinuteAfterTheNewestFact() {
        Clock clock = Clock.offset(
                Clock.systemUTC(),
                Duration.between(java.time.Instant.now(), DemoFleet.NOW.plus(Duration.ofMinutes(1))));
        QuarkusMock.installMockForType(clock, Clock.class);
    }

    private static JsonPath choice(String store, List<String> leftOut) {
        Map<String, Object> body = new HashMap<>();
        body.put("store", store);
        body.put("leftOut", leftOut);
        Response answer = being("ines").body(body).post("/api/purge/choice");
        answer.then().statusCode(200);
        return answer.jsonPath();
    }

    /** Leaves out all but what a database has in a store, of some kind. */
    private static List<String> allBut(JsonPath choice, String database, String kind) {
        List<Map<String, Object>> lines = choice.getList("lines");
        return lines.stream()
                .filter(l -> !(l.get("database").equals(database)
                        && (kind.isEmpty() || l.get("kind").equals(kind))))
                .map(l -> (String) l.get("key"))
                .toList();
    }

    private static Response ask(String who, String store, List<String> leftOut, String hash) {
        Map<String, Object> body = new HashMap<>();
        body.put("store", store);
        body.put("leftOut", leftOut);
        body.put("reason", "Friday");
        body.put("hash", hash);
        return being(who).body(body).post("/api/purge");
    }

    private static String asked(String store, String database, String kind) {
        List<String> leftOut = allBut(choice(store, List.of()), database, kind);
        Response made = ask("ines", store, leftOut, choice(store, leftOut).getString("hash"));
        made.then().statusCode(200);
        return made.jsonPath().getString("id");
    }

    private static String hash(String purge) {
        return given().get("/api/purge/" + purge).jsonPath().getString("hash");
    }

    private static Response approve(String who, String purge) {
        return being(who).body("{\"hash\":\"" + hash(purge) + "\"}").post("/api/purge/" + purge + "/approve");
    }

    private static String approved(String store, String database, String kind) {
        String purge = asked(store, database, kind);
        approve("tomas", purge).then().statusCode(204);
        being("ines").post("/api/purge/" + purge + "/carry-out").then().statusCode(204);
        return purge;
    }

    private static List<Map<String, Object>> batch(String token, String store, String purge) {
        return program(token)
                .get("/api/agents/" + store + "/work")
                .jsonPath()
                .getList("batches.find { it.purge == '" + purge + "' }.items");
    }

    private static Response tell(
            String token, String store, String purge, String hash, List<Integer> items, String outcome) {
        List<Map<String, Object>> told = new ArrayList<>();
        items.forEach(i -> told.add(Map.of("item", i, "outcome", outcome, "freed", 1000.0)));
        return program(token)
                .body(Map.of("purge", purge, "hash", hash, "items", told))
                .post("/api/agents/" + store + "/told");
    }

    @Test
    void showsWhatNoRuleNeedsWithTheProofAndWhatOnlyALockKeeps() {
        JsonPath choice = choice("quay-near", List.of());
        assertFalse(choice.getList("lines").isEmpty());
        assertEquals(List.of(), choice.getList("proofs.flaws.flatten()"));
        List<String> verdicts = choice.getList("lines.findAll { it.kept == null }.verdict");
        assertTrue(Set.of("obsolete", "unusable").containsAll(verdicts), verdicts.toString());
        float before = choice.getFloat("levels[0].before");
        assertTrue(choice.getFloat("levels[0].after") < before);
        List<String> fewer = allBut(choice, "bookings", "");
        JsonPath one = choice("quay-near", fewer);
        assertEquals(List.of("bookings"), one.getList("proofs.database"));
        assertTrue(one.getFloat("bytes") < choice.getFloat("bytes"));
        assertNotEquals(choice.getString("hash"), one.getString("hash"));
        JsonPath far = choice("harbour-far", List.of());
        assertTrue(far.getList("lines.findAll { it.kept == 'locked' }").size() > 0, "locked ones are shown");
        assertTrue(far.getList("lines.findAll { it.kept == 'locked' && it.chosen }")
                .isEmpty());
        given().get("/api/purge/coming?store=quay-near").then().statusCode(200).body("size()", equalTo(6));
    }

    @Test
    void oneAsksAnotherApprovesAnAgentDeletesAndCoverStays() {
        String purge = asked("quay-near", "bookings", "full");
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("asked"))
                .body("may", not(hasItem("approve")));
        String token = agentAt("quay-near");
        assertEquals(null, batch(token, "quay-near", purge), "nothing is handed out before it is approved");
        approve("tomas", purge).then().statusCode(204);
        assertEquals(null, batch(token, "quay-near", purge), "nor before somebody says so");
        being("ines").post("/api/purge/" + purge + "/carry-out").then().statusCode(204);
        List<Map<String, Object>> items = batch(token, "quay-near", purge);
        assertFalse(items.isEmpty());
        List<Integer> numbers = items.stream().map(i -> (Integer) i.get("item")).toList();
        tell(token, "quay-near", purge, "another", numbers, "deleted").then().statusCode(400);
        tell(token, "quay-near", purge, hash(purge), numbers, "deleted").then().body("taken", equalTo(items.size()));
        tell(token, "quay-near", purge, hash(purge), numbers, "deleted")
                .then()
                .statusCode(400)
                .body("what", containsString("is done"));
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("done"))
                .body("whole", equalTo(true))
                .body("freed", equalTo(1000.0f * items.size()))
                .body("after.equal", equalTo(true));
        String gone = (String) items.get(0).get("backup");
        assertTrue(given().get("/api/export")
                .asString()
                .lines()
                .anyMatch(l -> l.contains("\"" + gone + "\"") && l.contains("\"gone\"")));
        given().get("/api/record?words=" + purge)
                .then()
                .body(
                        "deeds.act",
                        hasItems("purge-asked", "purge-approved", "purge-begun", "purge-told", "purge-done"));
        given().get("/api/record/whole").then().body("broken", nullValue());
    }

    @Test
    void nobodyApprovesTheirOwn() {
        List<String> leftOut = allBut(choice("south-near", List.of()), "payroll", "");
        String seen = choice("south-near", leftOut).getString("hash");
        String purge = ask("harald", "south-near", leftOut, seen).jsonPath().getString("id");
        approve("harald", purge).then().statusCode(403).body("what", containsString("cannot approve"));
        approve("ines", purge).then().statusCode(403);
        being("tomas")
                .body("{\"hash\":\"of another\"}")
                .post("/api/purge/" + purge + "/approve")
                .then()
                .statusCode(400);
        being("oona").post("/api/purge/" + purge + "/cancel").then().statusCode(403);
        being("ines").post("/api/purge/" + purge + "/cancel").then().statusCode(204);
        approve("tomas", purge).then().statusCode(400);
        given().get("/api/purge/" + purge).then().body("tallies.state", equalTo(List.of("cancelled")));
    }

    @Test
    void whatWasNotSeenIsNotAskedFor() {
        ask("ines", "quay-near", List.of(), "of another day")
                .then()
                .statusCode(400)
                .body("what", containsString("look again"));
    }

    @Test
    void aHoldPlacedMeanwhileTakesItsBackupOut() {
        String purge = asked("quay-near", "cargo", "full");
        approve("tomas", purge).then().statusCode(204);
        String held = given().get("/api/purge/" + purge).jsonPath().getString("items[0].backup");
        being("ines")
                .body(Map.of("backup", held, "reason", "audit"))
                .post("/api/databases/cargo/holds")
                .then()
                .statusCode(204);
        given().get("/api/purge/" + purge)
                .then()
                .body("now.find { it.backup == '" + held + "' }.why", containsString("held"));
        being("ines").post("/api/purge/" + purge + "/carry-out").then().statusCode(204);
        List<Map<String, Object>> items = batch(agentAt("quay-near"), "quay-near", purge);
        assertTrue(
                items == null || items.stream().noneMatch(i -> i.get("backup").equals(held)));
        given().get("/api/purge/" + purge)
                .then()
                .body("items.find { it.backup == '" + held + "' }.state", equalTo("dropped"))
                .body("items.find { it.backup == '" + held + "' }.told", containsString("needed again: held"));
        being("ines").post("/api/purge/" + purge + "/cancel");
    }

    private void sql(String statement) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + data)) {
            connection.createStatement().executeUpdate(statement);
        }
    }

    @Test
    void aListThatWasAlteredIsStopped() throws SQLException {
        String purge = asked("quay-near", "berths", "incr");
        sql("UPDATE purge_item SET path = '/quay-near/bookings/needed' WHERE purge = '" + purge + "' AND num = 1");
        approve("tomas", purge).then().statusCode(403).body("what", containsString("altered"));
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("stopped"))
                .body("whole", equalTo(false));
        given().get("/api/purge/" + purge + "/list.sh").then().statusCode(403);
    }

    @Test
    void aProofThatWasAlteredIsHandedToNobody() throws SQLException {
        String purge = approved("quay-near", "berths", "log");
        sql("UPDATE purge SET proof = replace(proof, '\"copies\":', '\"copies\": 1') WHERE id = '" + purge + "'");
        assertEquals(null, batch(agentAt("quay-near"), "quay-near", purge));
        given().get("/api/purge/" + purge).then().body("state", equalTo("stopped"));
    }

    @Test
    void aListSealedAnewIsBetrayedByTheRecord() throws SQLException {
        String purge = approved("quay-near", "fares", "full");
        sql("UPDATE purge SET hash = '" + Secrets.hash("x") + "' WHERE id = '" + purge + "'");
        assertEquals(null, batch(agentAt("quay-near"), "quay-near", purge));
        given().get("/api/purge/" + purge).then().body("state", equalTo("stopped"));
    }

    @Test
    void whatAnAgentDidNotTellOfIsHandedOutAgainToItAlone() {
        String purge = approved("quay-near", "bookings", "incr");
        String token = agentAt("quay-near");
        List<Map<String, Object>> items = batch(token, "quay-near", purge);
        assertEquals(items, batch(token, "quay-near", purge), "it may have died");
        program(agentAt("south-near")).get("/api/agents/quay-near/work").then().statusCode(403);
        String south = agentAt("south-near");
        tell(south, "south-near", purge, hash(purge), List.of(1), "deleted")
                .then()
                .body("taken", equalTo(0));
        being("ines").post("/api/purge/" + purge + "/pause").then().statusCode(204);
        assertEquals(null, batch(token, "quay-near", purge), "a paused list waits");
        being("ines").post("/api/purge/" + purge + "/carry-out").then().statusCode(204);
        List<Integer> numbers = batch(token, "quay-near", purge).stream()
                .map(i -> (Integer) i.get("item"))
                .toList();
        tell(token, "quay-near", purge, hash(purge), numbers, "missing").then().body("taken", equalTo(numbers.size()));
        String missing = given().get("/api/purge/" + purge).jsonPath().getString("items[0].backup");
        assertTrue(given().get("/api/export")
                .asString()
                .lines()
                .anyMatch(l -> l.contains("\"" + missing + "\"") && l.contains("\"spoiled\"")));
    }

    @Test
    void aPolicyMayAskForTwoOrForNone() {
        JsonPath policy = given().get("/api/policies/kiosks").jsonPath();
        Map<String, Object> document = new HashMap<>(policy.getMap("versions[0].document"));
        document.put("purgeApprovals", 2);
        being("ines")
                .body(Map.of("document", document, "at", "now", "why", "auditors", "despite", "as it was"))
                .post("/api/policies/kiosks/versions")
                .then()
                .statusCode(200);
        String purge = asked("quay-near", "kiosk-north", "full");
        given().get("/api/purge/" + purge).then().body("approvalsNeeded", equalTo(2));
        approve("tomas", purge).then().statusCode(204);
        approve("tomas", purge).then().statusCode(403).body("what", containsString("already"));
        given().get("/api/purge/" + purge).then().body("state", equalTo("asked"));
        approve("maren", purge).then().statusCode(204);
        given().get("/api/purge/" + purge).then().body("state", equalTo("approved"));
        being("ines").post("/api/purge/" + purge + "/cancel");
    }

    @Test
    void thoseWhoDeleteByHandGetAScriptAndTellWithItsTable(@TempDir Path store)
            throws IOException, InterruptedException {
        String database = choice("harbour-far", List.of()).getString("lines.find { it.chosen }.database");
        String purge = approved("harbour-far", database, "");
        JsonPath list = given().get("/api/purge/" + purge).jsonPath();
        String path = list.getString("items[0].path");
        Path file = store.resolve(path.substring(1));
        Files.createDirectories(file.getParent());
        Files.writeString(file, "backup");
        Path script = store.resolve("purge.sh");
        Files.writeString(
                script, given().get("/api/purge/" + purge + "/list.sh").asString());
        Process run = new ProcessBuilder("sh", script.toString(), store.toString()).start();
        String told = new String(run.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertEquals(0, run.waitFor());
        assertFalse(Files.exists(file));
        assertTrue(told.contains("1,deleted,6,"), told);
        being("ines")
                .contentType("text/csv")
                .body(told.getBytes(StandardCharsets.UTF_8))
                .post("/api/purge/" + purge + "/told?hash=" + list.getString("hash"))
                .then()
                .statusCode(200)
                .body("refused", equalTo(List.of()));
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("done"))
                .body("items[0].state", equalTo("deleted"))
                .body("tallies.find { it.state == 'missing' }.items", equalTo(list.getInt("tallies[0].items") - 1));
        being("ines")
                .contentType("text/csv")
                .body("number\n1\n".getBytes(StandardCharsets.UTF_8))
                .post("/api/purge/" + purge + "/told?hash=x")
                .then()
                .statusCode(400)
                .body("what", containsString("columns item and outcome"));
    }
}
