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
import static org.hamcrest.Matchers.notNullValue;
import static org.hamcrest.Matchers.nullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import firth.server.StoreListing;
import firth.server.platform.Secrets;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.RestAssured;
import io.restassured.path.json.JsonPath;
import io.restassured.path.json.config.JsonPathConfig;
import io.restassured.response.Response;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
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

    /** A minute after the newest fact the first test begins; time never goes back from one to the next. */
    @SuppressWarnings("TimeInStaticInitializer")
    private static Duration ago = Duration.between(Instant.now(), DemoFleet.NOW.plus(Duration.ofMinutes(1)));

    @BeforeEach
    void aMinuteAfterTheNewestFact() {
        QuarkusMock.installMockForType(Clock.offset(Clock.systemUTC(), ago), Clock.class);
    }

    private void minutesLater(int minutes) {
        ago = ago.plusMinutes(minutes);
        aMinuteAfterTheNewestFact();
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

    /** A database of which something of a kind may go. */
    private static String free(String store, String kind) {
        return choice(store, List.of())
                .getString("lines.find { it.kept == null && it.kind == '" + kind + "' }.database");
    }

    private static Response ask(String who, String store, List<String> leftOut, String hash) {
        return ask(who, store, leftOut, hash, DemoFleet.NOW.plusSeconds(61).toString());
    }

    private static Response ask(String who, String store, List<String> leftOut, String hash, String asOf) {
        Map<String, Object> body = new HashMap<>();
        body.put("asOf", asOf);
        body.put("store", store);
        body.put("leftOut", leftOut);
        body.put("reason", "Friday");
        body.put("hash", hash);
        return being(who).body(body).post("/api/purge");
    }

    private static String asked(String store, String database, String kind) {
        List<String> leftOut = allBut(choice(store, List.of()), database, kind);
        JsonPath seen = choice(store, leftOut);
        Response made = ask("ines", store, leftOut, seen.getString("hash"), seen.getString("asOf"));
        assertEquals(200, made.statusCode(), made.asString());
        return made.jsonPath().getString("id");
    }

    private static JsonPath items(String purge) {
        return given().get("/api/purge/" + purge + "/items").jsonPath();
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
        Response work = program(token).post("/api/agents/" + store + "/work");
        work.then().statusCode(200);
        return work.jsonPath().getList("batches.find { it.purge == '" + purge + "' }.items");
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
        tell(token, "quay-near", purge, "another", numbers, "deleted").then().statusCode(409);
        tell(token, "quay-near", purge, hash(purge), numbers, "deleted").then().body("taken", equalTo(items.size()));
        tell(token, "quay-near", purge, hash(purge), numbers, "deleted")
                .then()
                .statusCode(409)
                .body("detail", containsString("is done"));
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("done"))
                .body("whole", equalTo(true))
                .body("freed", equalTo(1000.0f * items.size()))
                .body("after.equal", equalTo(true));
        String gone = (String) items.get(0).get("backup");
        given().get("/api/history/lines/" + gone).then().body("copies.gone", hasItem(notNullValue()));
        given().get("/api/record?words=" + purge)
                .then()
                .body(
                        "deeds.act",
                        hasItems("purge-asked", "purge-approved", "purge-begun", "purge-told", "purge-done"));
        given().get("/api/record/whole").then().body("broken", nullValue());
    }

    @Test
    void anAgentsWordAgainstALaterListingIsAFindingThatNamesIt() throws IOException {
        Map<String, Long> files = StoreListing.whole("south-near", Instant.now().plus(ago));
        String purge = approved("south-near", "payroll", "diff");
        String token = agentAt("south-near");
        List<Map<String, Object>> items = batch(token, "south-near", purge);
        List<Integer> numbers = items.stream().map(i -> (Integer) i.get("item")).toList();
        tell(token, "south-near", purge, hash(purge), numbers, "deleted").then().statusCode(200);
        given().get("/api/purge/" + purge).then().body("belied", equalTo(List.of()));
        minutesLater(3);
        being("ines")
                .contentType("text/csv")
                .body(StoreListing.table(files))
                .post("/api/stocktakes/of/south-near/listing")
                .then()
                .statusCode(200);
        JsonPath list = given().get("/api/purge/" + purge).jsonPath();
        assertEquals(items.size(), list.getInt("belied[0].files"));
        String agent = list.getString("belied[0].toldBy");
        assertFalse(agent.isEmpty());
        given().get("/api/watch")
                .then()
                .body("findings.find { it.code == 'agent-belied' }.severity", equalTo("contradiction"))
                .body("findings.find { it.code == 'agent-belied' }.title", containsString(agent + " said was gone"));
    }

    @Test
    void nobodyApprovesTheirOwn() {
        List<String> leftOut = allBut(choice("south-near", List.of()), "payroll", "");
        JsonPath seen = choice("south-near", leftOut);
        String purge = ask("harald", "south-near", leftOut, seen.getString("hash"), seen.getString("asOf"))
                .jsonPath()
                .getString("id");
        approve("harald", purge).then().statusCode(403).body("detail", containsString("cannot approve"));
        approve("ines", purge).then().statusCode(403);
        being("tomas")
                .body("{\"hash\":\"of another\"}")
                .post("/api/purge/" + purge + "/approve")
                .then()
                .statusCode(409)
                .body("detail", containsString("not the one that was looked at"));
        being("oona").post("/api/purge/" + purge + "/cancel").then().statusCode(403);
        being("ines").post("/api/purge/" + purge + "/cancel").then().statusCode(204);
        approve("tomas", purge)
                .then()
                .statusCode(409)
                .body("detail", containsString("is cancelled"))
                .body("unharmed", equalTo("Nothing was changed."));
        given().get("/api/purge/" + purge).then().body("tallies.state", equalTo(List.of("cancelled")));
    }

    @Test
    void asManyDatabasesAreLookedAtAsAreWantedAndNoOthersAreAskedFor() {
        JsonPath all = choice("all", List.of());
        List<String> ids = all.getList("databases");
        assertEquals(0, all.getInt("others"));
        JsonPath one = given().contentType("application/json")
                .body("{\"store\":\"all\",\"leftOut\":[],\"most\":1}")
                .post("/api/purge/choice")
                .jsonPath();
        assertEquals(ids.subList(0, 1), one.getList("databases"), "that with the most");
        assertEquals(ids.size() - 1, one.getInt("others"));
        assertEquals(Set.copyOf(ids.subList(0, 1)), Set.copyOf(one.getList("lines.database")));
        double obsolete = all.getList("stores.obsoleteBytes", Double.class).stream()
                .mapToDouble(b -> b)
                .sum();
        assertEquals(obsolete, one.getDouble("otherBytes") + obsolete(one), obsolete / 1_000);

        Map<String, Object> body = new HashMap<>();
        body.put("asOf", one.getString("asOf"));
        body.put("store", "all");
        body.put("leftOut", List.of());
        body.put("reason", "Friday");
        body.put("hash", one.getString("hash"));
        being("ines").body(body).post("/api/purge").then().statusCode(409);
        body.put(
                "databases",
                IntStream.rangeClosed(0, 200).mapToObj(d -> "d" + d).toList());
        being("ines")
                .body(body)
                .post("/api/purge")
                .then()
                .statusCode(400)
                .body("detail", containsString("at most 200"));
        body.put("databases", one.getList("databases"));
        String made = being("ines").body(body).post("/api/purge").jsonPath().getString("id");
        assertEquals(
                ids.subList(0, 1), given().get("/api/purge/" + made).jsonPath().getList("groups.database.unique()"));
        being("ines").post("/api/purge/" + made + "/cancel").then().statusCode(204);

        for (int most : List.of(0, 201)) {
            being("ines")
                    .body("{\"store\":\"all\",\"leftOut\":[],\"most\":" + most + "}")
                    .post("/api/purge/choice")
                    .then()
                    .statusCode(400);
        }
    }

    /** Bytes that are obsolete, whatever keeps them. */
    private static double obsolete(JsonPath choice) {
        List<Map<String, Object>> lines = choice.getList("lines");
        return lines.stream()
                .filter(l -> !"needed".equals(l.get("verdict")))
                .filter(l -> !List.of("locked", "held").contains(String.valueOf(l.get("kept"))))
                .mapToDouble(l -> ((Number) l.get("bytes")).doubleValue())
                .sum();
    }

    @Test
    void whatWasNotSeenIsNotAskedFor() {
        ask("ines", "quay-near", List.of(), "of another day")
                .then()
                .statusCode(409)
                .body("remedy", containsString("Look again"));
        ask("ines", "quay-near", List.of("bookings|quay-near|nobody|"), "x")
                .then()
                .statusCode(409)
                .body("detail", containsString("cannot be left out"));
    }

    @Test
    void aHoldPlacedMeanwhileTakesItsBackupOut() {
        String purge = asked("quay-near", "cargo", "full");
        approve("tomas", purge).then().statusCode(204);
        String held = items(purge).getString("[0].backup");
        being("ines")
                .body(Map.of("backup", held, "reason", "audit"))
                .post("/api/databases/cargo/holds")
                .then()
                .statusCode(204);
        given().get("/api/purge/" + purge)
                .then()
                .body("now.find { it.backup == '" + held + "' }.why", containsString("held"))
                .body("now.find { it.backup == '" + held + "' }.items", equalTo(1));
        being("ines").post("/api/purge/" + purge + "/carry-out").then().statusCode(204);
        List<Map<String, Object>> items = batch(agentAt("quay-near"), "quay-near", purge);
        assertTrue(
                items == null || items.stream().noneMatch(i -> i.get("backup").equals(held)));
        assertEquals("dropped", items(purge).getString("find { it.backup == '" + held + "' }.state"));
        assertTrue(items(purge)
                .getString("find { it.backup == '" + held + "' }.told")
                .contains("needed again: held"));
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
        approve("tomas", purge).then().statusCode(403).body("detail", containsString("altered"));
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
        assertEquals(
                items,
                batch(token, "quay-near", purge),
                given().get("/api/purge/" + purge).asString());
        program(agentAt("south-near")).post("/api/agents/quay-near/work").then().statusCode(403);
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
        String missing = items(purge).getString("[0].backup");
        given().get("/api/history/lines/" + missing).then().body("copies.spoiled", hasItem(notNullValue()));
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
        approve("tomas", purge).then().statusCode(403).body("detail", containsString("already"));
        given().get("/api/purge/" + purge).then().body("state", equalTo("asked"));
        approve("maren", purge).then().statusCode(204);
        given().get("/api/purge/" + purge).then().body("state", equalTo("approved"));
        being("ines").post("/api/purge/" + purge + "/cancel");
    }

    @Test
    void aRuleInForceSinceASecondAgoKeepsWhatItNeeds() {
        String purge = approved("quay-near", "tides", "full");
        String token = agentAt("quay-near");
        String followed = "sailings";
        JsonPath policy = given().get("/api/policies/" + followed).jsonPath();
        Map<String, Object> document = new HashMap<>(policy.getMap("versions[0].document"));
        List<Map<String, Object>> retain = List.of(Map.of("role", "near", "reach", "P3Y"));
        document.put("retain", retain);
        being("ines")
                .body(Map.of("document", document, "at", "now", "why", "audit", "despite", "room is found"))
                .post("/api/policies/" + followed + "/versions")
                .then()
                .statusCode(200);
        assertEquals(
                null, batch(token, "quay-near", purge), "no fact is newer than the rule, and it counts all the same");
        given().get("/api/purge/" + purge)
                .then()
                .body("state", equalTo("done"))
                .body("tallies.state", equalTo(List.of("dropped")));
        assertTrue(items(purge).getString("[0].told").contains("needed again"));
        document.put("retain", policy.getList("versions[0].document.retain"));
        being("ines")
                .body(Map.of("document", document, "at", "now", "why", "as it was", "despite", "as it was"))
                .post("/api/policies/" + followed + "/versions")
                .then()
                .statusCode(200);
    }

    @Test
    void noCopyIsOnTwoLists() {
        String database = free("south-near", "full");
        String purge = asked("south-near", database, "full");
        JsonPath again = choice("south-near", List.of());
        List<String> kept =
                again.getList("lines.findAll { it.database == '" + database + "' && it.kind == 'full' }.kept");
        assertTrue(!kept.isEmpty() && Set.of("listed").containsAll(kept), kept.toString());
        assertTrue(again.getString("lines.find { it.kept == 'listed' }.why").contains(purge));
        being("ines").post("/api/purge/" + purge + "/cancel").then().statusCode(204);
        assertTrue(choice("south-near", List.of())
                .getList("lines.findAll { it.kept == 'listed' }")
                .isEmpty());
    }

    @Test
    void whatLiesAtThePlaceOfAnotherIsPurgedByNobody() {
        String database = free("harbour-far", "full");
        String purge = approved("harbour-far", database, "full");
        String path = items(purge).getString("[0].path");
        String own = items(purge).getString("[0].backup");
        String ended = DemoFleet.NOW.minus(Duration.ofMinutes(5)).toString();
        String other = "{\"type\":\"backup\",\"id\":\"over\",\"database\":\"" + database
                + "\",\"kind\":\"full\",\"run\":\"run-over\",\"ended\":\"" + ended
                + "\",\"copies\":[{\"store\":\"harbour-far\",\"path\":\"" + path.substring(1) + "\"}]}";
        given().contentType("application/x-ndjson")
                .body(other.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .body("added", equalTo(1));
        List<Map<String, Object>> batch = batch(agentAt("harbour-far"), "harbour-far", purge);
        assertTrue(
                batch == null || batch.stream().noneMatch(i -> i.get("backup").equals(own)),
                "it would delete the other");
        assertTrue(items(purge)
                .getString("find { it.backup == '" + own + "' }.told")
                .contains("over is said to lie"));
        given().get("/api/watch")
                .then()
                .body("findings.find { it.code == 'overwritten' }.text", containsString("run run-over wrote it last"));
        being("ines").post("/api/purge/" + purge + "/cancel");
    }

    @Test
    void whatLiesWithinTheDirectoryOfAnotherOrAroundItIsPurgedByNobody() {
        String database = free("harbour-far", "full");
        String purge = approved("harbour-far", database, "full");
        String path = items(purge).getString("[0].path").substring(1);
        String own = items(purge).getString("[0].backup");
        for (String place : List.of(path + "/base.tar", path.substring(0, path.lastIndexOf('/')))) {
            nested(database, place, "");
            List<String> going = being("ines")
                    .get("/api/purge/" + purge + "/going?hash=" + hash(purge))
                    .asString()
                    .lines()
                    .toList();
            assertTrue(going.stream().noneMatch(r -> r.startsWith("1 ")), place + " keeps the first: " + going);
        }
        assertTrue(sharing(database) > 1, "the directory holds all of them");
        batch(agentAt("harbour-far"), "harbour-far", purge);
        assertTrue(items(purge)
                .getString("find { it.backup == '" + own + "' }.told")
                .contains("nested is said to lie within its directory, or it within that one's"));
        being("ines").post("/api/purge/" + purge + "/cancel");
        nested(
                database,
                path.substring(0, path.lastIndexOf('/')),
                ",\"gone\":\"" + DemoFleet.NOW.minusSeconds(9) + "\"");
        assertEquals(0, sharing(database), "what is gone keeps nothing");
    }

    /** How many lines of a choice stay because of their places. */
    private static int sharing(String database) {
        return choice("harbour-far", List.of())
                .getList("lines.findAll { it.kept == 'shared' && it.database == '" + database + "' }")
                .size();
    }

    /** A backup that says it lies somewhere, or that it lay there. */
    private static void nested(String database, String place, String gone) {
        String other = "{\"type\":\"backup\",\"id\":\"nested\",\"database\":\"" + database
                + "\",\"kind\":\"config\",\"ended\":\"" + DemoFleet.NOW.minus(Duration.ofMinutes(5))
                + "\",\"copies\":[{\"store\":\"harbour-far\",\"path\":\"/" + place + "\"" + gone + "}]}";
        given().contentType("application/x-ndjson")
                .body(other.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .body("rejected", equalTo(List.of()));
    }

    @Test
    void everyItemIsShownAndExportedWithWhatBecameOfItWhenAndByWhom() throws IOException {
        String purge = approved("quay-near", "manifests", "full");
        String token = agentAt("quay-near");
        List<Integer> numbers = batch(token, "quay-near", purge).stream()
                .map(i -> (Integer) i.get("item"))
                .toList();
        tell(token, "quay-near", purge, hash(purge), numbers, "deleted");
        JsonPath list = given().get("/api/purge/" + purge).jsonPath();
        assertEquals(1, list.getList("groups").size(), "one line a database, store and kind");
        assertEquals(1, list.getInt("lines"));
        String address = "/api/purge/" + list.getString("id") + "/groups";
        assertEquals(list.getList("groups"), given().get(address).jsonPath().getList(""));
        assertEquals(List.of(), given().get(address + "?from=1").jsonPath().getList(""));
        assertEquals(numbers.size(), list.getInt("groups[0].items"));
        assertEquals(numbers.size(), list.getInt("groups[0].tallies[0].items"));
        assertTrue(items(purge).getString("[0].by").length() > 3);
        assertTrue(items(purge).getString("[0].at").startsWith("20"));
        String table = given().get("/api/purge/" + purge + "/outcomes.csv").asString();
        assertEquals(numbers.size() + 1, table.lines().count());
        assertTrue(table.lines().skip(1).allMatch(l -> l.contains(",deleted,1000,")), table);
        given().get("/api/purge/" + purge + "/shelves").then().body("database", hasItem("manifests"));
    }

    @Test
    void thoseWhoDeleteByHandGetAScriptAndTellWithItsTable(@TempDir Path store)
            throws IOException, InterruptedException {
        String database = choice("harbour-far", List.of()).getString("lines.find { it.chosen }.database");
        String purge = approved("harbour-far", database, "");
        JsonPath list = given().get("/api/purge/" + purge).jsonPath();
        Path outside = Files.createDirectory(store.resolve("outside"));
        Path root = Files.createDirectory(store.resolve("root"));
        Path file = file(root, purge, 0);
        Path cut = file(root, purge, 1);
        Files.writeString(cut, "cut short");
        Path linked = root.resolve(items(purge).getString("[2].path").substring(1));
        Path elsewhere = outside.resolve("of-another");
        Files.writeString(elsewhere, "precious");
        Files.createDirectories(linked.getParent());
        Files.createSymbolicLink(linked, elsewhere);
        Path script = store.resolve("purge.sh");
        String saved = given().get("/api/purge/" + purge + "/list.sh").asString();
        long expires = Long.parseLong(saved.replaceFirst("(?s).*?\\nexpires=(\\d+).*", "$1"));
        assertTrue(Math.abs(expires - DemoFleet.NOW.plus(Duration.ofHours(24)).getEpochSecond()) < 3600);
        // The server's clock stands elsewhere than that of the machine on which the script runs.
        Files.writeString(script, saved.replaceFirst("expires=\\d+", "expires=99999999999"));
        assertEquals(
                1, run(script, root, Map.of("FIRTH", "http://127.0.0.1:" + RestAssured.port)).code, "it asks first");
        assertTrue(Files.exists(file));
        String agent = agentAt("harbour-far");
        Ran ran = run(script, root, Map.of("FIRTH", "http://127.0.0.1:" + RestAssured.port, "FIRTH_TOKEN", agent));
        assertEquals(0, ran.code, ran.said);
        String told = ran.told;
        assertFalse(Files.exists(file), told);
        assertTrue(told.lines().anyMatch(l -> l.matches("1,deleted,\\d+,")), told);
        assertTrue(told.contains("2,failed,,it is not as large as it was written"), told);
        assertTrue(told.contains("3,failed,,it is not a plain file"), told);
        assertTrue(Files.exists(elsewhere) && Files.exists(cut));
        Path old = store.resolve("old.sh");
        Files.writeString(old, Files.readString(script).replaceFirst("expires=\\d+", "expires=1700000000"));
        assertTrue(run(old, root, Map.of()).said.contains("expired"));
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
                .body("tallies.find { it.state == 'failed' }.items", equalTo(2))
                .body("tallies.find { it.state == 'missing' }.items", equalTo(list.getInt("tallies[0].items") - 3));
        assertEquals("deleted", items(purge).getString("[0].state"));
        being("ines")
                .contentType("text/csv")
                .body("number\n1\n".getBytes(StandardCharsets.UTF_8))
                .post("/api/purge/" + purge + "/told?hash=x")
                .then()
                .statusCode(400)
                .body("detail", containsString("columns item and outcome"));
    }

    /** What a script did. */
    private record Ran(int code, String told, String said) {}

    private static Ran run(Path script, Path root, Map<String, String> more) throws IOException, InterruptedException {
        ProcessBuilder building = new ProcessBuilder("sh", script.toString(), root.toString());
        building.environment().putAll(more);
        Process run = building.start();
        String told = new String(run.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        String said = new String(run.getErrorStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Ran(run.waitFor(), told, said);
    }

    /** Lays the file of an item, as large as it is said to be. */
    private static Path file(Path root, String purge, int item) throws IOException {
        Path file = root.resolve(items(purge).getString("[" + item + "].path").substring(1));
        Files.createDirectories(file.getParent());
        try (RandomAccessFile hollow = new RandomAccessFile(file.toFile(), "rw")) {
            hollow.setLength(items(purge)
                    .using(JsonPathConfig.jsonPathConfig()
                            .numberReturnType(JsonPathConfig.NumberReturnType.BIG_DECIMAL))
                    .<BigDecimal>get("[" + item + "].bytes")
                    .longValue());
        }
        return file;
    }
}
