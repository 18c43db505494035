package firth.server;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Each story of docs/demo.md, asked of the running server. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class StoriesTest {

    private static JsonPath database(String id) {
        return given().get("/api/databases/" + id)
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    private static double age(JsonPath database, String hazard) {
        return database.getDouble("row.hazards.find { it.hazard == '" + hazard + "' }.ageSeconds");
    }

    @Test
    void cargoHasAPartThatIsInNoBackup() {
        JsonPath cargo = database("cargo");
        assertEquals(List.of("customs", "freight", "waybills", "tariffs"), cargo.getList("components.name"));
        assertEquals(0, cargo.getInt("components[3].backups"));
        assertTrue(cargo.getInt("components[0].backups") > 20);
        assertTrue(cargo.getList("findings.code").contains("component-nowhere"));
    }

    @Test
    void roomAtTheEndIsThatOfTheCopiesOnTheShelf() {
        JsonPath fares = database("fares");
        double held = fares.getList("tallies.bytes", Double.class).stream()
                .mapToDouble(b -> b)
                .sum();
        double room = fares.getList("room.stores.bytes", List.class).stream()
                .mapToDouble(b -> ((Number) b.get(b.size() - 1)).doubleValue())
                .sum();
        assertTrue(held > 1e11);
        assertEquals(held, room, held * 1e-6, "as exact as the test reads numbers");
        assertFalse(fares.getList("room.sizes").isEmpty());
    }

    @ParameterizedTest
    @CsvSource({
        // id, grade, gaps, their state, least and greatest age after a mishap in minutes
        "bookings,      covered,  0, none,      0,    15",
        "fares,         covered,  0, none,      0,    15",
        "manifests,     behind,   0, none,      3000, 3020",
        "berths,        short,    1, bridged,   0,    15",
        "harbour-log,   behind,   1, unbridged, 195,  215",
        "tides,         covered,  0, none,      0,    15",
        "crew-rota,     covered,  0, none,      0,    61",
        "cargo,         covered,  0, none,      0,    61",
        "fuel,          behind,   0, none,      0,    61",
        "payroll,       covered,  0, none,      0,    61",
        "loyalty,       covered,  0, none,      0,    61",
        "kiosk-north,   covered,  0, none,      0,    1560",
        "kiosk-south,   covered,  0, none,      0,    1560",
        "lost-property, covered,  0, none,      0,    1560",
        "moorings,      covered,  0, none,      0,    1560",
        "webshop,       stranded, 0, none,      86000, 86500",
    })
    void hasItsGradeGapsAndAge(String id, String grade, int gaps, String state, double least, double greatest) {
        JsonPath found = database(id);
        assertEquals(grade, found.getString("row.grade"));
        assertEquals(gaps, found.getList("gaps").size());
        if (gaps > 0) {
            assertEquals(state, found.getString("gaps[0].state"));
        }
        double minutes = age(found, "mishap") / 60;
        assertTrue(minutes >= least && minutes <= greatest, id + " is " + minutes + " min old");
    }

    @Test
    void kiosksAreMomentsOnTheirOwn() {
        assertTrue(database("kiosk-north").getBoolean("row.pointsOnly"));
        assertEquals(List.of(), database("kiosk-north").getList("row.sand"));
    }

    @Test
    void manifestsEndsInSandWithFailedRuns() {
        JsonPath manifests = database("manifests");
        assertEquals("after", manifests.getString("row.sand[0].where"));
        assertTrue(manifests.getList("row.marks.findAll { it.failed }").size() >= 3);
    }

    @Test
    void theGapOfBerthsNamesTheFullThatBridgesItAndWhenItLeavesReach() {
        JsonPath berths = database("berths");
        assertTrue(berths.getString("gaps[0].bridgedBy").endsWith("-hand"));
        assertEquals("never-backed-up", berths.getString("gaps[0].cause"));
        assertFalse(berths.getString("gaps[0].leavesReach").isEmpty());
    }

    @Test
    void theCopiesOfFuelLag() {
        JsonPath fuel = database("fuel");
        assertTrue(age(fuel, "siteLoss") > 26 * 3600, "a site loss would cost more than a day");
        assertTrue(fuel.getDouble("row.hazards.find { it.hazard == 'siteLoss' }.objectiveSeconds") == 8 * 3600);
    }

    @Test
    void lockedCopiesOfCargoAreKeptBeyondEveryRule() {
        JsonPath page = backups("cargo", "log", "needed");
        List<Map<String, Object>> far = page.getList("items.findAll { it.role == 'far' }");
        assertFalse(far.isEmpty());
        assertTrue(page.getList("items.findAll { it.role == 'far' }.reasons.flatten().word")
                .contains("locked"));
    }

    @Test
    void theDifferentialsOfPayrollHangFromAFullThatIsGone() {
        JsonPath page = backups("payroll", "diff", "unusable");
        assertTrue(page.getInt("total") > 0);
        assertEquals("chain-broken", page.getString("items[0].reasons[0].word"));
    }

    @Test
    void muchIsObsoleteAndSaysWhatReplacesIt() {
        JsonPath page = backups("bookings", "full,incr", "obsolete");
        assertTrue(page.getInt("total") > 20);
        assertTrue(page.getString("items[0].reasons[0].word").startsWith("replaced-by:bookings-"));
    }

    @Test
    void nothingOfMooringsMayBePurgedAsNoRuleSpeaksOfIt() {
        assertEquals(0, backups("moorings", "", "obsolete").getInt("total"));
        assertTrue(backups("moorings", "", "needed")
                .getList("items.reasons.flatten().word")
                .contains("no-rule"));
    }

    @Test
    void theSpoiledLogsOfTidesAreCoveredByTheirOtherCopies() {
        JsonPath all = given().queryParam("limit", 500)
                .queryParam("offset", 900)
                .queryParam("kinds", "log")
                .get("/api/databases/tides/backups")
                .jsonPath();
        List<String> stores = all.getList("items.findAll { it.id == 'tides-log-20261116T1000' }.store");
        assertEquals(List.of("harbour-far"), stores, "the near copy is spoiled, the far one serves");
    }

    @Test
    void standingStillAtWeekendsDoesNotAgeCrewRota() {
        JsonPath rota = database("crew-rota");
        assertTrue(rota.getDouble("channels[0].maxSeconds") < 4 * 3600, "ten hours stopped count for nothing");
    }

    @Test
    void webshopMissedNoSlotButFailedInThreeWeeksOfThem() {
        JsonPath webshop = database("webshop");
        assertEquals(
                21, webshop.getList("slots.findAll { it.verdict == 'failed' }").size());
        assertTrue(webshop.getList("slots.findAll { it.verdict == 'on-time' }").size() >= 8);
        assertEquals(
                0, webshop.getList("slots.findAll { it.verdict == 'missed' }").size());
    }

    @Test
    void theLogsOfManifestsHaveMissedTheirInterval() {
        JsonPath manifests = database("manifests");
        assertEquals("logs", manifests.getString("cadence[0].schedule"));
        assertTrue(manifests.getInt("cadence[0].missed") >= 299, "fifty hours of ten minutes");
        assertEquals(null, manifests.getString("cadence[0].to"));
    }

    private static JsonPath backups(String id, String kinds, String verdict) {
        return given().queryParam("kinds", kinds)
                .queryParam("verdict", verdict)
                .get("/api/databases/" + id + "/backups")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }
}
