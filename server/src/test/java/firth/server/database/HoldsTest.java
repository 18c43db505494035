package firth.server.database;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Holds are placed and lifted by people, count at once, and say what room they alone take. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class HoldsTest {

    private static final String FARES = "/api/databases/fares";

    private static JsonPath fares() {
        return given().get(FARES).jsonPath();
    }

    private static ValidatableResponse place(String body) {
        return given().contentType("application/json")
                .body(body.replace('\'', '"'))
                .post(FARES + "/holds")
                .then();
    }

    private static int copies(JsonPath database, String verdict) {
        return database.getList("tallies.findAll { it.verdict == '" + verdict + "' }.copies", Integer.class).stream()
                .mapToInt(n -> n)
                .sum();
    }

    @Test
    void whatRestoresAMomentIsKeptUntilTheHoldIsLifted() {
        JsonPath before = fares();
        // Before the promised reach, so that rules have let go of the logs of then.
        place("{'moment':'2026-10-25T10:00:00Z','reason':'year end'}").statusCode(204);
        JsonPath held = fares();
        assertEquals("year end", held.getString("holds[0].reason"));
        assertTrue(held.getDouble("holds[0].bytes") > 0);
        assertTrue(copies(held, "obsolete") < copies(before, "obsolete"));
        List<Map<String, Object>> kept = given().queryParam("limit", 500)
                .queryParam("kinds", "full,diff,incr")
                .get(FARES + "/backups")
                .jsonPath()
                .getList("items.findAll { it.reasons.any { r -> r.word == 'held' } }");
        assertFalse(kept.isEmpty());
        given().delete(FARES + "/holds/" + held.getString("holds[0].id")).then().statusCode(204);
        JsonPath after = fares();
        assertEquals(List.of(), after.getList("holds"));
        assertEquals(copies(before, "obsolete"), copies(after, "obsolete"));
        given().get("/api/export").then().body(containsString("\"reason\":\"year end\""));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "{'moment':'2020-01-01T00:00:00Z','reason':'x'} | moment cannot be restored",
                "{'backup':'nobody','reason':'x'} | backup is not a backup of fares",
                "{'reason':'x'} | backup or moment is to be given",
                "{'moment':'2026-11-10T00:00:00Z'} | reason is not of 1 to",
                "{'moment':'2026-11-10T00:00:00Z','reason':'x','until':'2020-01-01T00:00:00Z'} | until is not in the future",
            })
    void refusesWhatCannotBeHeld(String body, String what) {
        place(body).statusCode(400).body("detail", containsString(what));
        given().delete(FARES + "/holds/nobody").then().statusCode(404);
    }
}
