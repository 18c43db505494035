package firth.server.fleet;

import static firth.server.people.Being.being;
import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The fleet as a long list, and what forms offer to choose among. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class FleetTest {

    private static JsonPath get(String path, Object... query) {
        return given().get(path, query).then().statusCode(200).extract().jsonPath();
    }

    @Test
    void whoNeedsSomebodyStandsFirstThenByName() {
        JsonPath fleet = get("/api/fleet");
        List<List<String>> attention = fleet.getList("rows.attention");
        int needing = (int) attention.stream().filter(a -> !a.isEmpty()).count();
        assertTrue(needing > 1 && needing < attention.size(), needing + " need somebody");
        assertTrue(attention.subList(0, needing).stream().noneMatch(List::isEmpty), attention.toString());
        List<String> names = fleet.<String>getList("rows.name").subList(needing, attention.size());
        assertEquals(names.stream().sorted(String.CASE_INSENSITIVE_ORDER).toList(), names);
        assertEquals(fleet.getInt("found"), fleet.getList("rows").size());
    }

    @Test
    void aTableIsComparedAndNothingOfItTaken() {
        int before = get("/api/fleet").getInt("databases");
        JsonPath table = being("ines")
                .body("""
                        [{"name":"berths","sizeBytes":7},{"name":"bookings"},{"id":"fog-horn","name":"fog-horn"},{"id":"tolls","name":"tolls","site":"Nordquay"}]""")
                .post("/api/fleet/databases/compared")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
        assertEquals(List.of("changed", "unchanged", "new", "refused"), table.getList("databases.manner"));
        assertEquals("7", table.getString("databases[0].changes.find { it.field == 'sizeBytes' }.after"));
        assertEquals("berths", table.getString("databases[0].before.id"));
        assertEquals("site", table.getString("databases[3].field"));
        assertEquals(List.of(Map.of("field", "site", "text", "Nordquay", "rows", 1)), table.getList("unknown"));
        assertEquals(before, get("/api/fleet").getInt("databases"));
    }

    @Test
    void comesAStretchAtATime() {
        JsonPath all = get("/api/fleet");
        JsonPath few = get("/api/fleet?from=3&most=5");
        assertEquals(all.getList("rows.id").subList(3, 8), few.getList("rows.id"));
        assertEquals(all.getInt("found"), few.getInt("found"));
        assertEquals(all.getInt("databases"), few.getInt("databases"));
    }

    @Test
    void isFoundByWhatIsKnownOfADatabaseAndByItsReadiness() {
        assertEquals(
                List.of("moorings"), get("/api/fleet?words=moorings no policy").getList("rows.id"));
        Map<String, String> labels = get("/api/fleet").getMap("rows.find { it.id == 'berths' }.labels");
        String label = labels.entrySet().iterator().next().toString();
        assertTrue(get("/api/fleet?words={label}", label).getList("rows.id").contains("berths"));
        JsonPath unknown = get("/api/fleet?words=unknown");
        assertFalse(unknown.getList("rows").isEmpty());
        assertTrue(unknown.<String>getList("rows.readiness.state").stream().allMatch("unknown"::equals));
        assertEquals(0, get("/api/fleet?words=atlantis").getInt("found"));
    }

    @Test
    void formsOfferWhatThereIs() {
        JsonPath choices = get("/api/choices");
        JsonPath fleet = get("/api/fleet");
        assertTrue(choices.getList("policies.id").contains("sailings"));
        assertEquals("Northquay", choices.getString("sites.find { it.id == 'northquay' }.name"));
        List<String> owners = fleet.getList("rows.owner.findAll { it != '' }.unique().sort()");
        assertEquals(owners, choices.getList("owners"));
        String route = choices.getString("routes.find { it.takenBy > 0 }.id");
        List<String> takers = fleet.getList("rows.findAll { it.route == '" + route + "' }.name.sort()");
        assertEquals(takers.size(), choices.getInt("routes.find { it.id == '" + route + "' }.takenBy"));
        assertEquals(
                takers.subList(0, Math.min(20, takers.size())),
                choices.getList("routes.find { it.id == '" + route + "' }.takers"));
    }

    @Test
    void databasesAreFoundByPartsOfTheirNamesTheVeryIdFirst() {
        assertEquals("berths", get("/api/choices/databases?words=berths").getString("[0].id"));
        List<String> kiosks = get("/api/choices/databases?words=KIOSK").getList("id");
        assertTrue(kiosks.size() > 1 && kiosks.stream().allMatch(k -> k.contains("kiosk")), kiosks.toString());
        assertTrue(get("/api/choices/databases").getList("id").size() <= 20);
        assertEquals(
                List.of(),
                get("/api/choices/databases?words=tides-south").getList("id"),
                "a standby is restored with its primary");
    }
}
