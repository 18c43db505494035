package firth.server.watch;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What still needs a backup, over HTTP, and what can be started against it. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class NeedsTest {

    private static JsonPath get(String path) {
        return given().get(path).then().statusCode(200).extract().jsonPath();
    }

    @Test
    void namesKindMomentAndReasonTheMostUrgentFirst() {
        JsonPath needs = get("/api/needs");
        String asOf = needs.getString("asOf");
        List<String> by = needs.getList("rows.by");
        assertEquals(
                by.stream().map(Instant::parse).sorted().toList(),
                by.stream().map(Instant::parse).toList());
        String webshop = "rows.find { it.database == 'webshop' && it.why == 'nothing' }.";
        assertEquals("full", needs.getString(webshop + "kind"));
        assertEquals(asOf, needs.getString(webshop + "by"));
        assertNull(needs.get(webshop + "restore"));
        String harbour = "rows.find { it.database == 'harbour-log' && it.why == 'gap' }.";
        assertEquals("incr", needs.getString(harbour + "kind"));
        String manifests = "rows.find { it.database == 'manifests' && it.why == 'behind' }.";
        assertEquals("log", needs.getString(manifests + "kind"), "its archiver has but to catch up");
        assertNull(needs.get("rows.find { it.database == 'moorings' }"), "nothing is asked of it");
    }

    @Test
    void saysWhatARestoreTakesTodayAsThePlanDoes() {
        JsonPath needs = get("/api/needs");
        String berths = "rows.find { it.database == 'berths' && it.restore != null }.restore.";
        JsonPath plan = get("/api/restore/of/berths");
        int logs = needs.getInt(berths + "logs");
        assertEquals(plan.getInt("ways[0].logs"), logs);
        assertTrue(needs.getInt(berths + "increments") >= 0);
    }

    @Test
    void theKindsADatabaseTakesAreOfferedTheLikeliestFirst() {
        List<String> kinds = get("/api/databases/harbour-log/starts").getList("offers.kind");
        assertEquals("incr", kinds.get(0), "what ends the finding");
        assertEquals("full", kinds.get(kinds.size() - 1));
        List<String> dumps = get("/api/databases/kiosk-north/starts").getList("offers.kind");
        assertFalse(dumps.contains("incr"), "it takes none");
        assertFalse(dumps.contains("diff"));
        assertNotNull(dumps.get(0));
    }
}
