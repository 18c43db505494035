package firth.server.rehearsal;

import static firth.server.people.Being.being;
import static io.restassured.RestAssured.given;
import static org.awaitility.Awaitility.await;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.notNullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.purge.PurgeFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Loss rehearsals over HTTP. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class RehearsalTest {

    private static Map<String, Object> losing(
            List<String> sites, List<String> hosts, boolean unlocked, int sideBySide) {
        Map<String, Object> out = new HashMap<>();
        out.put("title", "");
        out.put("sites", sites);
        out.put("stores", List.of());
        out.put("hosts", hosts);
        out.put("unlocked", unlocked);
        out.put("sideBySide", sideBySide);
        return out;
    }

    private static JsonPath rehearsed(Map<String, Object> losing) {
        String id = being("ines")
                .body(losing)
                .post("/api/rehearsals")
                .then()
                .statusCode(200)
                .extract()
                .path("id");
        return await().atMost(Duration.ofSeconds(20))
                .until(() -> given().get("/api/rehearsals/" + id).jsonPath(), now -> {
                    assertEquals("", now.getString("trouble"));
                    return now.get("result") != null;
                });
    }

    @Test
    void theLossOfASiteRestoresWhatStoodThereInAnOrder() {
        JsonPath loss = rehearsed(losing(List.of("northquay"), List.of(), false, 3));
        assertEquals("Northquay", loss.getString("losing.title"));
        int down = loss.getInt("result.down");
        assertEquals(down, loss.getInt("result.restored"));
        List<Double> ends = loss.<Number>getList("result.rows.findAll { it.ends != null }.ends").stream()
                .map(Number::doubleValue)
                .toList();
        assertEquals(
                loss.getDouble("result.seconds"),
                ends.stream().max(Double::compare).orElseThrow(),
                0.01);
        assertTrue(
                loss.getList("result.rows.findAll { it.restored }.stores.flatten()").stream()
                        .noneMatch("Quay near"::equals),
                "nothing is read at the lost site");
        String id = loss.getString("id");
        String rows = "/api/rehearsals/" + id + "/rows";
        assertEquals(
                loss.getList("result.rows.findAll { it.restored }.database").subList(1, 3),
                given().get(rows + "?from=1&most=2").jsonPath().getList("database"));
        assertEquals(
                loss.getInt("result.databases") - down,
                given().get(rows + "?restored=false")
                        .jsonPath()
                        .getList("database")
                        .size());
        given().get("/api/rehearsals").then().body("id", hasItem(id));
        given().get("/api/record?words=" + id).then().body("deeds.act", hasItem("loss-rehearsed"));
        JsonPath single = rehearsed(losing(List.of("northquay"), List.of(), false, 1));
        assertTrue(
                single.getDouble("result.seconds") >= loss.getDouble("result.seconds"), "one at a time is no faster");
    }

    @Test
    void withoutLocksWhatCannotBeRestoredHasACure() {
        JsonPath loss = rehearsed(losing(List.of(), List.of(), true, 2));
        assertEquals(0, loss.getInt("result.down"));
        assertEquals(loss.getInt("result.databases"), loss.getInt("result.restored"));
        assertTrue(loss.getInt("result.unreachable") > 0);
        List<String> cures = loss.getList("result.rows.findAll { it.reached == null }.cure");
        assertTrue(cures.stream().allMatch(c -> c != null && !c.isEmpty()), cures::toString);
    }

    @Test
    void theLossOfAHostLeavesItsBackups() {
        JsonPath loss = rehearsed(losing(List.of(), List.of("northquay-3"), false, 2));
        assertTrue(loss.getInt("result.down") > 0);
        assertEquals(0, loss.getInt("result.unreachable"));
    }

    @Test
    void whatIsAskedForWronglyIsSaid() {
        being("oona")
                .body(losing(List.of("northquay"), List.of(), false, 1))
                .post("/api/rehearsals")
                .then()
                .statusCode(403);
        being("ines")
                .body(losing(List.of("atlantis"), List.of(), false, 1))
                .post("/api/rehearsals")
                .then()
                .statusCode(400)
                .body("detail", containsString("atlantis"));
        being("ines")
                .body(losing(List.of(), List.of(), false, 1))
                .post("/api/rehearsals")
                .then()
                .statusCode(400);
        being("ines")
                .body(losing(List.of("northquay"), List.of(), false, 0))
                .post("/api/rehearsals")
                .then()
                .statusCode(400);
        given().get("/api/rehearsals/nothing").then().statusCode(404);
        given().get("/api/rehearsals/losable")
                .then()
                .body("sites.name", hasItem("Northquay"))
                .body("hosts", notNullValue())
                .body("stores.find { it.id == 'quay-near' }.name", equalTo("Quay near"));
    }
}
