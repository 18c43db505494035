package firth.server.watch;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The morning watch over the demo fleet, asked of the running server. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class WatchTest {

    private static JsonPath watch(String query) {
        return given().get("/api/watch" + query)
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    private static Map<String, Object> finding(JsonPath watch, String code, String database) {
        return watch.getMap("findings.find { it.code == '" + code + "' && it.databases.find { d -> d.id == '" + database
                + "' } != null }");
    }

    private static ValidatableResponse accept(String key, String reason, Instant until) {
        return given().contentType("application/json")
                .body(Map.of("finding", key, "reason", reason, "until", until.toString()))
                .post("/api/watch/accepts")
                .then();
    }

    @Test
    void namesWhatIsWrongWorstFirst() {
        JsonPath watch = watch("");
        List<String> severities = watch.getList("findings.severity");
        assertEquals("stranded", severities.get(0));
        assertEquals("webshop", watch.getString("findings[0].databases[0].id"));
        assertTrue(
                finding(watch, "behind", "manifests").get("action").toString().contains("backlog"));
        assertTrue(
                finding(watch, "behind", "harbour-log").get("action").toString().contains("Take an incremental"));
        assertNotNull(finding(watch, "hole-in-reach", "berths"));
        assertNotNull(finding(watch, "site-loss-missed", "fuel"));
        assertNotNull(finding(watch, "no-policy", "moorings"));
        assertNotNull(watch.getList("findings[0].row.sand"));
    }

    @Test
    void tellsOfTheNightAndOfWhatComes() {
        JsonPath watch = watch("");
        assertTrue(watch.getInt("night.asked") >= watch.getInt("night.kept"));
        assertTrue(watch.getList("night.failed.first.id").contains("manifests"));
        assertTrue(watch.getDouble("night.bytes") > 0);
        assertTrue(watch.getInt("logs.streamed") >= 1);
        assertNotNull(watch.getString("glance.lastFailed.at"));
        assertNull(watch.get("since"));
    }

    @Test
    void findingsOfOneKindAreHadPageByPage() {
        List<String> all = watch("").getList("findings.findAll { it.code == 'behind' }.key");
        String query = "/api/watch/findings?code=behind&severity=behind";
        assertEquals(all, given().get(query).jsonPath().getList("key"));
        assertEquals(
                all.stream().skip(1).limit(1).toList(),
                given().get(query + "&from=1&most=1").jsonPath().getList("key"));
        assertEquals(List.of(), given().get(query + "&from=99").jsonPath().getList("key"));
        given().get(query + "&from=-1").then().statusCode(400).body("detail", containsString("from"));
        given().get(query + "&most=101").then().statusCode(400).body("detail", containsString("most"));
    }

    @Test
    void looksBackOnWhatWasWrongThen() {
        Instant then = Instant.parse(watch("").getString("asOf")).minus(4, ChronoUnit.DAYS);
        JsonPath watch = watch("?asOf=" + then);
        assertNull(finding(watch, "behind", "manifests"));
        assertNotNull(finding(watch, "stranded", "webshop"));
    }

    @Test
    void aFindingIsBorneForAWhileAndCalledBack() {
        String key = finding(watch(""), "site-loss-missed", "fuel").get("key").toString();
        Instant until = DemoFleet.now().plus(7, ChronoUnit.DAYS).truncatedTo(ChronoUnit.SECONDS);
        accept(key, "the link is being replaced", until).statusCode(204);
        Map<String, Object> borne = finding(watch(""), "site-loss-missed", "fuel");
        Map<?, ?> accepted = (Map<?, ?>) borne.get("accepted");
        assertEquals("the link is being replaced", accepted.get("reason"));
        given().delete("/api/watch/accepts/" + accepted.get("id")).then().statusCode(204);
        assertNull(finding(watch(""), "site-loss-missed", "fuel").get("accepted"));
    }

    @Test
    void anAcceptWithoutReasonOrWithAnEndGoneByIsRefused() {
        accept("k", " ", DemoFleet.now().plusSeconds(60)).statusCode(400).body("detail", containsString("reason"));
        accept("k", "r", DemoFleet.now().minusSeconds(60)).statusCode(400).body("detail", containsString("until"));
        given().delete("/api/watch/accepts/none").then().statusCode(404);
    }

    @Test
    void whatBeganSinceOneLastLookedIsSaid() {
        given().post("/api/watch/looked").then().statusCode(204);
        JsonPath later = watch("?looked=" + DemoFleet.now().minus(1, ChronoUnit.HOURS));
        assertTrue(later.getList("since.began.databases").contains("webshop"));
        assertEquals(
                List.of(),
                watch("?looked=" + DemoFleet.now().plus(1, ChronoUnit.HOURS)).getList("since.began"));
    }

    @Test
    void checkGivesTheSameFindingsOfADatabase() {
        JsonPath all =
                given().get("/api/evaluations").then().statusCode(200).extract().jsonPath();
        List<String> codes = all.getList("databases.find { it.id == 'manifests' }.findings.code");
        assertTrue(codes.contains("behind"), codes.toString());
    }
}
