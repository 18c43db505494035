package firth.server.places;

import static firth.server.people.Being.being;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Made, changed and retired on the demo's fleet. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class PlacesTest {

    private static final Map<String, Object> STORE =
            Map.of("id", "island", "name", "Island shelf", "role", "far", "lockable", true, "capacityBytes", 4e12);

    private static Response state(String type, Map<String, ?> said, String more) {
        return being("ines").contentType("application/json").body(said).post("/api/places/" + type + more);
    }

    private static Response retire(String type, String id, boolean retired) {
        return being("ines")
                .contentType("application/json")
                .body(Map.of("retired", retired))
                .post("/api/places/" + type + "/" + id + "/retired");
    }

    private static Map<String, Object> place(String kind, String id) {
        return being("ines").get("/api/places").jsonPath().getMap(kind + ".find { it.id == '" + id + "' }");
    }

    private static List<String> choices(String of) {
        return being("ines").get("/api/choices").jsonPath().getList(of + ".id");
    }

    @Test
    void fromASiteToARouteAndBackAgain() {
        state("site", Map.of("id", "island", "name", "Island"), "?fresh=yes")
                .then()
                .statusCode(200);
        state("site", Map.of("id", "island", "name", "Another"), "?fresh=yes")
                .then()
                .statusCode(400)
                .body("detail", containsString("id is that of another site"));
        state("store", STORE, "?fresh=yes").then().statusCode(200);
        Map<String, Object> at = Map.of(
                "id", "island", "name", "Island shelf", "role", "far", "site", "island", "readBytesPerSecond", 2e8);
        state("store", at, "").then().statusCode(200);
        JsonPath all = being("ines").get("/api/places").jsonPath();
        Map<String, Object> kept = all.getMap("stores.find { it.id == 'island' }.document");
        assertEquals("island", kept.get("site"));
        assertFalse(kept.containsKey("capacityBytes"), "what is not said is no longer so: " + kept);
        state("route", Map.of("id", "by-island", "name", "By the island", "data", List.of("island")), "?fresh=yes")
                .then()
                .statusCode(200);

        retire("site", "island", true)
                .then()
                .statusCode(409)
                .body("detail", equalTo("Island is in use by the store Island shelf."));
        retire("store", "island", true)
                .then()
                .statusCode(409)
                .body("detail", equalTo("Island shelf is in use by the route By the island."));
        retire("route", "by-island", true).then().statusCode(200);
        retire("store", "island", true).then().statusCode(200);
        retire("site", "island", true).then().statusCode(200);
        assertTrue(place("sites", "island").get("retired") != null);
        assertFalse(choices("sites").contains("island"));
        assertFalse(choices("stores").contains("island"));
        assertFalse(choices("routes").contains("by-island"));
        state("route", Map.of("id", "again", "name", "Again", "data", List.of("island")), "?fresh=yes")
                .then()
                .statusCode(400)
                .body("detail", containsString("names a store that is retired: Island shelf"));
        retire("store", "island", false)
                .then()
                .statusCode(400)
                .body("detail", containsString("site is retired: Island"));
        state("store", Map.of("id", "cove", "name", "Cove", "site", "island"), "?fresh=yes")
                .then()
                .statusCode(400)
                .body("detail", containsString("site is retired: Island"));
        retire("route", "by-island", false)
                .then()
                .statusCode(400)
                .body("detail", containsString("names a store that is retired: Island shelf"));
        state("site", Map.of("id", "island", "name", "The island"), "").then().statusCode(200);
        assertTrue(place("sites", "island").get("retired") != null, "what is changed stays retired");
        retire("site", "island", false).then().statusCode(200);
        retire("store", "island", false).then().statusCode(200);
        assertTrue(choices("stores").contains("island"));
        Map<String, Object> withdrawn = new HashMap<>(at);
        withdrawn.put("retired", "2026-01-01T00:00:00Z");
        state("store", withdrawn, "").then().statusCode(200);
        assertEquals(null, place("stores", "island").get("retired"), "it is retired by asking for that alone");
        retire("store", "island", true).then().statusCode(200);
    }

    @Test
    void whatIsInUseIsNamed() {
        String route = being("ines").get("/api/choices").jsonPath().getString("routes.find { it.takenBy > 3 }.id");
        retire("route", route, true).then().statusCode(409).body("detail", containsString("databases more"));
        assertEquals(null, place("routes", route).get("retired"));
    }

    @Test
    void whatDoesNotGoIsRefusedAtItsField() {
        state("site", Map.of("id", "nameless", "name", " "), "").then().statusCode(400);
        state("site", Map.of("id", "quay-two", "name", "NORTHQUAY"), "")
                .then()
                .statusCode(400)
                .body("detail", containsString("name is that of another site: Northquay"));
        state("store", Map.of("id", "s", "name", "S", "site", "nowhere"), "")
                .then()
                .statusCode(400)
                .body("detail", containsString("site is none that is known: nowhere"));
        state("store", Map.of("id", "s", "name", "S", "capacityBytes", -1), "")
                .then()
                .statusCode(400)
                .body("detail", containsString("capacityBytes"));
        state("route", Map.of("id", "r", "name", "R"), "")
                .then()
                .statusCode(400)
                .body("detail", containsString("data"));
        state("ship", Map.of("id", "r", "name", "R"), "").then().statusCode(404);
        retire("site", "nowhere", true).then().statusCode(404);
        assertEquals(null, place("sites", "quay-two"));
    }
}
