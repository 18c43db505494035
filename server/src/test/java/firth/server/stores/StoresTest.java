package firth.server.stores;

import static firth.server.people.Being.agentAt;
import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.not;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.findings.Finding;
import firth.server.DemoFleet;
import firth.server.purge.PurgeFleet;
import firth.wording.FindingWords;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What stores hold, held and will hold. */
@QuarkusTest
@TestProfile(StoresTest.Untouched.class)
class StoresTest {

    /** A fleet of which nobody else has purged or spoiled anything. */
    public static class Untouched extends PurgeFleet {}

    @BeforeEach
    void aMinuteAfterTheNewestFact() {
        QuarkusMock.installMockForType(
                Clock.fixed(DemoFleet.NOW.plus(Duration.ofMinutes(3)), ZoneOffset.UTC), Clock.class);
    }

    private static JsonPath quay() {
        return given().get("/api/stores").jsonPath().setRootPath("stores.find { it.id == 'quay-near' }");
    }

    @Inject
    FillingStores filling;

    @Test
    void aStoreThatRunsFullWithinTwoWeeksWillBreakAndSaysWhatEndsIt() {
        filling.look();
        List<Finding> found = filling.findings(DemoFleet.NOW);
        assertEquals(List.of("quay-near"), found.stream().map(Finding::about).toList());
        Finding full = found.get(0);
        assertEquals(Finding.Severity.WILL_BREAK, full.severity());
        Instant said = Instant.parse(quay().getString("full"));
        Instant breaks = full.breaks().orElseThrow();
        assertTrue(
                !breaks.isAfter(said) && breaks.isAfter(said.minus(Duration.ofDays(1))),
                "within the day Stores names: " + breaks + ", " + said);
        assertTrue(full.databases().contains("bookings"), full::toString);
        assertTrue(
                FindingWords.of(full).action().startsWith("Purge the "),
                FindingWords.of(full).action());
    }

    private static Response measured(String body) {
        return program(agentAt("quay-near"))
                .contentType("application/json")
                .body(body)
                .post("/api/agents/quay-near/room");
    }

    @Test
    void whatTheAgentMeasuredIsShownAndAStoreThatCannotBeWrittenToIsAFinding() {
        measured("{\"freeBytes\":1,\"capacityBytes\":2}").then().statusCode(204);
        assertNull(quay().get("measured"), "it never asked for work");
        program(agentAt("quay-near")).post("/api/agents/quay-near/work").then().statusCode(200);
        measured("{\"freeBytes\":2,\"capacityBytes\":1}")
                .then()
                .statusCode(400)
                .body("detail", containsString("freeBytes"));
        measured("{\"freeBytes\":1,\"capacityBytes\":2,\"locks\":\"bolted\"}")
                .then()
                .statusCode(400);
        measured(
                        "{\"freeBytes\":500000000000,\"capacityBytes\":2000000000000,\"writable\":true,\"locks\":\"none\",\"trouble\":\"\"}")
                .then()
                .statusCode(204);
        assertEquals(5e11, quay().getDouble("measured.freeBytes"), 1e6);
        assertEquals("none", quay().getString("measured.locks"));
        given().get("/api/watch").then().body("findings.code", not(hasItem("store-refuses")));
        measured(
                        "{\"freeBytes\":500000000000,\"capacityBytes\":2000000000000,\"writable\":false,\"locks\":\"read-only\",\"trouble\":\"Read-only file system\"}")
                .then()
                .statusCode(204);
        given().get("/api/watch")
                .then()
                .body(
                        "findings.find { it.code == 'store-refuses' }.text",
                        containsString("Its agent tried and failed: Read-only file system."));
        measured("{\"freeBytes\":500000000000,\"capacityBytes\":2000000000000,\"writable\":true}")
                .then()
                .statusCode(204);
        given().get("/api/watch").then().body("findings.code", not(hasItem("store-refuses")));
    }

    @Test
    void curvesMeetNowAndPurgingNeverTakesMoreRoom() {
        JsonPath quay = quay();
        List<Float> back = quay.getList("back", Float.class);
        List<Float> ahead = quay.getList("ahead", Float.class);
        List<Float> purged = quay.getList("purged", Float.class);
        assertEquals(61, back.size());
        assertEquals(back.get(60), ahead.get(0));
        assertEquals(back.get(60), purged.get(0));
        for (int d = 1; d <= 60; d++) {
            assertTrue(ahead.get(d) >= purged.get(d), "day " + d);
            assertTrue(ahead.get(d) >= ahead.get(d - 1), "nothing goes on day " + d);
        }
        assertTrue(quay.getString("full") != null, "it is nearly full");
        assertTrue(quay.getString("fullPurged") == null);
    }

    @Test
    void whatIsHeldByDatabaseAddsUpAndTheRoomNeededIsComputed() {
        JsonPath detail = given().get("/api/stores/quay-near").jsonPath();
        double held = detail.getList("rows.held", Float.class).stream()
                .mapToDouble(f -> f)
                .sum();
        List<Float> back = quay().getList("back", Float.class);
        assertEquals(back.get(60), held, held * 1e-3);
        for (int i = 0; i < detail.getList("rows").size(); i++) {
            assertTrue(detail.getFloat("rows[" + i + "].needed") <= detail.getFloat("rows[" + i + "].held") * 1.0001);
        }
        given().get("/api/stores/quay-near")
                .then()
                .body("reliefs.what", hasItem("purging once what no rule needs"))
                .body("rows.find { it.id == 'bookings' }.copies", equalTo("kept"));
        given().get("/api/stores/nowhere").then().statusCode(404);
    }

    @Test
    void theForecastOfAMonthAgoComesNearToWhatCame() {
        JsonPath test = given().get("/api/stores/back-test").jsonPath();
        assertEquals(30, test.getInt("days"));
        float error = test.getFloat("stores.find { it.store == 'quay-near' }.error");
        assertTrue(Math.abs(error) < 0.15, "off by " + error);
    }

    @Test
    void whatGivesWayIsStatedPerStoreAndKeepsToIt() {
        assertEquals("refuse-new", quay().getString("givesWay"));
        assertEquals(0, quay().getFloat("way"));
        String store = """
                {"type":"store","id":"quay-near","name":"Quay near","site":"northquay","medium":"disk","role":"near","capacityBytes":1.72e13,\
                "readBytesPerSecond":4e8,"lockable":true,"givesWay":"%s","minimumStay":"%s"}""";
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("obsolete-first", "P40D").getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .body("updated", equalTo(1));
        float young = quay().getFloat("way");
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("obsolete-first", "PT0S").getBytes(StandardCharsets.UTF_8))
                .post("/api/import");
        float free = quay().getFloat("way");
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("copied-elsewhere-first", "PT0S").getBytes(StandardCharsets.UTF_8))
                .post("/api/import");
        float more = quay().getFloat("way");
        assertTrue(young < free && free < more, young + " " + free + " " + more);
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("newest-first", "P1D").getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .body("rejected[0].reason", containsString("is none of copied-elsewhere-first"));
        // A copy that has to stay is no part of what may be purged.
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("refuse-new", "P400D").getBytes(StandardCharsets.UTF_8))
                .post("/api/import");
        being("ines")
                .body("{\"store\":\"quay-near\",\"leftOut\":[]}")
                .post("/api/purge/choice")
                .then()
                .body("copies", equalTo(0))
                .body("lines.kept", hasItem("stay"));
        being("ines")
                .contentType("application/x-ndjson")
                .body(store.formatted("refuse-new", "PT0S").getBytes(StandardCharsets.UTF_8))
                .post("/api/import");
    }
}
