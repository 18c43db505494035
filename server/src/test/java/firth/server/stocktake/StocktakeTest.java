package firth.server.stocktake;

import static firth.server.people.Being.agentAt;
import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.not;
import static org.hamcrest.Matchers.notNullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import firth.server.StoreListing;
import firth.server.purge.PurgeFleet;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A store's listing against the catalog: what follows at once, and what only a person decides. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class StocktakeTest {

    /** Every test comes so long after the one before: longer than what landed just now is left out, and short enough for most answers to stand. */
    private static final Duration A_WHILE = Duration.ofMinutes(5);

    private static Instant now = DemoFleet.NOW.plus(Duration.ofMinutes(5));

    @BeforeEach
    void aWhileLater() {
        now = now.plus(A_WHILE);
        QuarkusMock.installMockForType(Clock.fixed(now, ZoneOffset.UTC), Clock.class);
    }

    private static Map<String, Long> whole(String store) throws IOException {
        return StoreListing.whole(store, now);
    }

    private static Response list(String store, Map<String, Long> files, String more) {
        return being("ines")
                .contentType("text/csv")
                .body(StoreListing.table(files))
                .post("/api/stocktakes/of/" + store + "/listing" + more);
    }

    private static String listed(String store, Map<String, Long> files) {
        Response answer = list(store, files, "");
        answer.then().statusCode(200);
        return answer.jsonPath().getString("take.id");
    }

    private static JsonPath stock(String id) {
        return being("ines").get("/api/stocktakes/" + id).jsonPath();
    }

    private static String newest(Map<String, Long> files, String beginning) {
        return files.keySet().stream()
                .filter(p -> p.startsWith(beginning))
                .reduce((a, b) -> b)
                .orElseThrow();
    }

    private static boolean spoiled(String backup) {
        return since(backup, "spoiled").isPresent();
    }

    /** Since when one of its copies is gone, or spoiled, as history tells. */
    private static Optional<String> since(String backup, String what) {
        return given().get("/api/history/lines/" + backup).jsonPath().<String>getList("copies." + what).stream()
                .filter(Objects::nonNull)
                .findFirst();
    }

    private static List<String> titles() {
        return given().get("/api/watch").jsonPath().getList("findings.title");
    }

    @Test
    void aWholeListingAgrees() throws IOException {
        Map<String, Long> files = whole("south-near");
        JsonPath stock = stock(listed("south-near", files));
        assertEquals(List.of(), stock.getList("finds"));
        assertEquals(files.size(), stock.getInt("take.agreed"));
    }

    @Test
    void aListingBegunThisVerySecondIsTakenAndOneOfTomorrowIsNot() throws IOException {
        Map<String, Long> files = whole("south-near");
        Instant late = now.plusMillis(900);
        QuarkusMock.installMockForType(Clock.fixed(late, ZoneOffset.UTC), Clock.class);
        list("south-near", files, "?taken=" + late.minusMillis(100)).then().statusCode(200);
        // Clocks of hosts differ; nothing counts as taken later than it came.
        list("south-near", files, "?taken=" + late.plusSeconds(20))
                .then()
                .statusCode(200)
                .body("take.taken", equalTo(late.toString()));
        list("south-near", files, "?taken=" + late.plus(Duration.ofDays(1)))
                .then()
                .statusCode(400)
                .body("detail", containsString("is not a moment that has passed"));
    }

    /** How a copy is known, as history tells. */
    private static String evidence(String backup, String store) {
        return given().get("/api/history/lines/" + backup)
                .jsonPath()
                .getString("copies.find { it.store == '" + store + "' }.evidence.is");
    }

    @Test
    void aListingShowsWhatIsThereAndWhatIsNot() throws IOException {
        Map<String, Long> files = whole("south-near");
        String path = newest(files, "/south-near/").toString();
        String backup = path.substring(path.lastIndexOf('/') + 1);
        listed("south-near", files);
        assertEquals("listed", evidence(backup, "south-near"));
        JsonPath why = given().get("/api/databases/" + path.split("/")[2] + "/why?about=age&hazard=mishap")
                .jsonPath();
        assertTrue(
                why.getString("facts.find { it.label == 'Evidence' }.note").contains("listed by the store"),
                why.prettify());
        aWhileLater();
        Map<String, Long> fewer = new TreeMap<>(files);
        fewer.remove(path);
        listed("south-near", fewer);
        assertEquals("told", evidence(backup, "south-near"), "it is not there: what was seen is seen no more");
    }

    @Test
    void ofSeveralInOneSecondTheLastCounts() throws IOException {
        Map<String, Long> files = whole("south-near");
        for (int extra = 0; extra < 4; extra++) {
            files.put("/south-near/old/dump" + extra, 5L);
            String id = listed("south-near", files);
            List<Map<String, Object>> newest = being("ines")
                    .get("/api/stores")
                    .jsonPath()
                    .getList("stores.findAll { it.id == 'south-near' }.stock.take");
            assertEquals(List.of(id), newest.stream().map(t -> t.get("id")).toList());
            assertEquals(
                    id,
                    being("ines")
                            .get("/api/stocktakes/of/south-near")
                            .jsonPath()
                            .getString("[0].id"));
        }
    }

    @Test
    void whatIsMissingOrOtherIsSpoiledAtOnceAndAFinding() throws IOException {
        Map<String, Long> files = whole("quay-near");
        listed("quay-near", files);
        Instant seen = now;
        aWhileLater();
        String missing = newest(files, "/quay-near/fuel/fuel-full-");
        String other = newest(files, "/quay-near/crew-rota/crew-rota-full-");
        String age = given().get("/api/databases/fuel").jsonPath().getString("row.hazards[0].ageSeconds");
        files.remove(missing);
        files.put(other, 7L);
        files.put("/quay-near/old/dump", 5L);
        JsonPath stock = stock(listed("quay-near", files));
        assertEquals(
                List.of("missing", "mismatch", "stray"),
                new ArrayList<>(stock.getList("finds.what", String.class))
                        .stream()
                                .sorted(java.util.Comparator.comparing(
                                        List.of("missing", "mismatch", "stray")::indexOf))
                                .toList());
        assertEquals(List.of(1, 1, 1), stock.getList("found.finds"));
        String id = stock.getString("take.id");
        assertEquals(
                List.of("/quay-near/old/dump"),
                given().get("/api/stocktakes/" + id + "/finds?what=stray")
                        .jsonPath()
                        .getList("path"));
        assertEquals(
                List.of(),
                given().get("/api/stocktakes/" + id + "/finds?what=stray&from=1")
                        .jsonPath()
                        .getList("path"));
        assertEquals(seen.toString(), stock.getString("finds.find { it.what == 'missing' }.since"));
        assertTrue(stock.getBoolean("finds.find { it.what == 'missing' }.unasked"));
        String backup = stock.getString("finds.find { it.what == 'missing' }.backup");
        assertTrue(spoiled(backup));
        assertTrue(
                titles().contains("a file was deleted from Quay near without an approved list"), titles().toString());
        assertTrue(titles().contains("a copy is not what was written in Quay near"));
        assertTrue(age != null);
        given().get("/api/databases/fuel/backups?kinds=full&limit=200")
                .then()
                .body("items.findAll { it.id == '" + backup + "' && it.store == 'quay-near' }", equalTo(List.of()));
    }

    @Test
    void onlyAPersonDropsAndUndoesUntilTheNext() throws IOException {
        Map<String, Long> files = whole("quay-near");
        String missing = newest(files, "/quay-near/kiosk-north/kiosk-north-full-");
        files.remove(missing);
        String id = listed("quay-near", files);
        String num = stock(id).getString("finds.find { it.path == '" + missing + "' }.num");
        String backup = stock(id).getString("finds.find { it.path == '" + missing + "' }.backup");
        being("oona")
                .body("{\"what\":\"drop\"}")
                .post("/api/stocktakes/" + id + "/finds/" + num)
                .then()
                .statusCode(403);
        being("ines")
                .body("{\"what\":\"adopt\"}")
                .post("/api/stocktakes/" + id + "/finds/" + num)
                .then()
                .statusCode(400);
        being("ines")
                .body("{\"what\":\"drop\"}")
                .post("/api/stocktakes/" + id + "/finds/" + num)
                .then()
                .statusCode(204);
        assertEquals(Optional.of(now.toString()), since(backup, "gone"));
        being("ines")
                .body("{\"what\":\"undo\"}")
                .post("/api/stocktakes/" + id + "/finds/" + num)
                .then()
                .statusCode(204);
        assertTrue(spoiled(backup));
        assertEquals(Optional.empty(), since(backup, "gone"));
        aWhileLater();
        listed("quay-near", files);
        being("ines")
                .body("{\"what\":\"drop\"}")
                .post("/api/stocktakes/" + id + "/finds/" + num)
                .then()
                .statusCode(400)
                .body("detail", containsString("newest"));
    }

    @Test
    void aStrayThatIsKnownIsAdoptedAndOneThatIsNotIsListed() throws IOException {
        Map<String, Long> files = whole("south-near");
        String missing = newest(files, "/south-near/loyalty/loyalty-full-");
        long size = files.remove(missing);
        String first = listed("south-near", files);
        String backup = stock(first).getString("finds[0].backup");
        assertTrue(spoiled(backup));
        aWhileLater();
        files.put(missing, size);
        files.put("/south-near/unknown", 3L);
        String id = listed("south-near", files);
        JsonPath stock = stock(id);
        int known = stock.getInt("finds.find { it.backup == '" + backup + "' }.num");
        int unknown = stock.getInt("finds.find { it.path == '/south-near/unknown' }.num");
        assertEquals(List.of("remove"), stock.getList("finds.find { it.num == " + unknown + " }.may"));
        being("ines")
                .body("{\"what\":\"adopt\"}")
                .post("/api/stocktakes/" + id + "/finds/" + known)
                .then()
                .statusCode(204);
        assertTrue(!spoiled(backup));
        being("ines")
                .body("{\"what\":\"undo\"}")
                .post("/api/stocktakes/" + id + "/finds/" + known)
                .then()
                .statusCode(204);
        assertTrue(spoiled(backup));
        being("ines")
                .body("{\"what\":\"adopt\"}")
                .post("/api/stocktakes/" + id + "/finds/" + known)
                .then()
                .statusCode(204);
        being("ines")
                .body("{\"what\":\"remove\"}")
                .post("/api/stocktakes/" + id + "/finds/" + unknown)
                .then()
                .statusCode(204);
        given().get("/api/stocktakes/" + id + "/to-remove.csv").then().body(containsString("/south-near/unknown,3,"));
        given().get("/api/record?words=" + id).then().body("deeds.act", hasItem("stocktake-adopt"));
        given().get("/api/record/whole").then().body("broken", equalTo(null));
    }

    @Test
    void aPartOfAListingIsNotBelieved() throws IOException {
        Map<String, Long> files = whole("south-near");
        Map<String, Long> few = new TreeMap<>();
        files.keySet().stream().limit(20).forEach(p -> few.put(p, files.get(p)));
        list("south-near", few, "").then().statusCode(400).body("detail", containsString("taken for a part of one"));
        being("ines")
                .contentType("text/csv")
                .body("name\nx\n".getBytes(StandardCharsets.UTF_8))
                .post("/api/stocktakes/of/south-near/listing")
                .then()
                .statusCode(400)
                .body("detail", containsString("column path"));
        given().get("/api/stocktakes/of/nowhere").then().statusCode(200);
        list("nowhere", few, "").then().statusCode(404);
    }

    @Test
    void anAgentListsWhenAskedAndOnlyItsOwnStore() throws IOException {
        String token = agentAt("south-near");
        program(token).post("/api/agents/south-near/work").then().body("sums", equalTo(false));
        String id = being("ines")
                .post("/api/stocktakes/of/south-near?sums=true")
                .jsonPath()
                .getString("id");
        program(token)
                .post("/api/agents/south-near/work")
                .then()
                .body("stocktake", equalTo(id))
                .body("sums", equalTo(true));
        program(agentAt("quay-near"))
                .contentType("application/x-ndjson")
                .body("{}".getBytes(StandardCharsets.UTF_8))
                .post("/api/agents/south-near/listing?stocktake=" + id)
                .then()
                .statusCode(403);
        StringBuilder lines = new StringBuilder();
        whole("south-near")
                .forEach((p, s) -> lines.append("{\"path\":\"")
                        .append(p)
                        .append("\",\"size\":")
                        .append(s)
                        .append("}\n"));
        program(token)
                .contentType("application/x-ndjson")
                .body(lines.toString().getBytes(StandardCharsets.UTF_8))
                .post("/api/agents/south-near/listing?stocktake=" + id)
                .then()
                .statusCode(200)
                .body("take.state", equalTo("taken"));
        program(token).post("/api/agents/south-near/work").then().body("stocktake", not(notNullValue()));
        program(token)
                .contentType("application/x-ndjson")
                .body(lines.toString().getBytes(StandardCharsets.UTF_8))
                .post("/api/agents/south-near/listing?stocktake=" + id)
                .then()
                .statusCode(404);
    }
}
