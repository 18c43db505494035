package firth.server.drills;

import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.greaterThan;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.not;
import static org.hamcrest.Matchers.notNullValue;
import static org.hamcrest.Matchers.nullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.server.DemoFleet;
import firth.server.purge.PurgeFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Drills proposed, told of and counted; Firth's own copies. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class DrillsTest {

    private static Map<String, Object> result(boolean ok, List<String> checks) {
        Instant now = DemoFleet.now().truncatedTo(ChronoUnit.SECONDS);
        return Map.of(
                "started",
                now.minusSeconds(1_800).toString(),
                "ended",
                now.minusSeconds(1_000).toString(),
                "ok",
                ok,
                "checks",
                checks,
                "message",
                "");
    }

    @Test
    void aProposalIsARestorableMomentAndWhatBecameOfItCounts() {
        being("oona")
                .body(Map.of("database", "tides"))
                .post("/api/drills")
                .then()
                .statusCode(403);
        JsonPath proposal = being("ines")
                .body(Map.of("database", "tides"))
                .post("/api/drills")
                .then()
                .statusCode(200)
                .body("seed", notNullValue())
                .extract()
                .jsonPath();
        String id = proposal.getString("id");
        given().get("/api/restore/of/tides?moment=" + proposal.getString("moment"))
                .then()
                .body("ways.size()", greaterThan(0))
                .body("ways[0].tip", equalTo(proposal.getString("tip")));
        given().get("/api/drills").then().body("rows.find { it.database == 'tides' }.proposed.id", equalTo(id));
        given().get("/api/record?words=" + id).then().body("deeds.act", hasItem("drill-proposed"));
        being("ines")
                .body(result(true, List.of("row counts")))
                .post("/api/drills/" + id + "/result")
                .then()
                .statusCode(204);
        String later = "?asOf=" + DemoFleet.now().plusSeconds(1).truncatedTo(ChronoUnit.SECONDS);
        given().get("/api/drills" + later)
                .then()
                .body("rows.find { it.database == 'tides' }.state", equalTo("proved"))
                .body("rows.find { it.database == 'tides' }.proposed", nullValue())
                .body("done.find { it.id == '" + id + "' }.outcome", equalTo("proved"))
                .body("done.find { it.id == '" + id + "' }.expected", notNullValue());
    }

    @Test
    void aProgramTellsOfTheDrillsItAskedForAlone() {
        String token = being("harald")
                .body(Map.of("name", "dock", "roles", List.of("viewer", "driller"), "place", "dock"))
                .post("/api/people/tokens")
                .then()
                .statusCode(200)
                .extract()
                .path("secret");
        String first = being("ines")
                .body(Map.of("database", "bookings"))
                .post("/api/drills")
                .path("id");
        String own = program(token)
                .body(Map.of("database", "manifests"))
                .post("/api/drills")
                .then()
                .statusCode(200)
                .extract()
                .path("id");
        given().get("/api/drills").then().body("rows.find { it.database == 'manifests' }.proposed.id", equalTo(own));
        String runner = being("harald")
                .body(Map.of("name", "pier", "roles", List.of("viewer", "runner"), "place", "pier"))
                .post("/api/people/tokens")
                .path("secret");
        program(runner)
                .body(Map.of("database", "manifests"))
                .post("/api/drills")
                .then()
                .statusCode(403);
        for (String id : List.of(first, own)) {
            program(token)
                    .body(result(true, List.of("row counts")))
                    .post("/api/drills/" + id + "/result")
                    .then()
                    .statusCode(id.equals(own) ? 204 : 403);
        }
        given().get("/api/drills")
                .then()
                .body("rows.find { it.database == 'manifests' }.proposed", nullValue())
                .body("done.find { it.id == '" + own + "' }.outcome", equalTo("proved"));
    }

    private static List<String> evidence(String backup) {
        return given().get("/api/history/lines/" + backup).jsonPath().getList("copies.evidence.is");
    }

    @Test
    void whatADrillThatWasLookedAtReadIsKnownByItAndNothingElse() {
        JsonPath proposal = being("ines")
                .body(Map.of("database", "bookings"))
                .post("/api/drills")
                .jsonPath();
        String tip = proposal.getString("tip");
        String tell = "/api/drills/" + proposal.getString("id") + "/result";
        being("ines").body(result(true, List.of())).post(tell).then().statusCode(204);
        assertEquals(0, Collections.frequency(evidence(tip), "restored"), "nobody looked");
        String looked = "/api/drills/"
                + being("ines")
                        .body(Map.of("database", "bookings"))
                        .post("/api/drills")
                        .path("id");
        String newest = given().get("/api/drills").path("rows.find { it.database == 'bookings' }.proposed.tip");
        being("ines")
                .body(result(true, List.of("row counts")))
                .post(looked + "/result")
                .then()
                .statusCode(204);
        assertEquals(1, Collections.frequency(evidence(newest), "restored"), "the copy it read, no other");
    }

    @Test
    void withoutANameTheOneThatWaitsLongestIsProposed() {
        String first = given().get("/api/drills").path("rows[0].database");
        being("ines").body("{}").post("/api/drills").then().statusCode(200).body("database", equalTo(first));
        being("ines")
                .body(Map.of("database", "webshop"))
                .post("/api/drills")
                .then()
                .statusCode(400);
        being("ines")
                .body(result(true, List.of()))
                .post("/api/drills/nothing/result")
                .then()
                .statusCode(404);
    }

    @Test
    void theCopiesAFailedDrillReadAreMarkedOnce() {
        String id = being("ines")
                .body(Map.of("database", "moorings"))
                .post("/api/drills")
                .path("id");
        being("ines")
                .body(result(false, List.of()))
                .post("/api/drills/" + id + "/result")
                .then()
                .statusCode(204);
        being("ines").post("/api/drills/drill-bookings/suspect").then().statusCode(400);
        String later = "?asOf=" + DemoFleet.now().plusSeconds(1).truncatedTo(ChronoUnit.SECONDS);
        given().get("/api/watch" + later)
                .then()
                .body("findings.findAll { it.code == 'drill-failed' }.databases.id.flatten()", hasItem("moorings"));
        int marked = being("ines").post("/api/drills/" + id + "/suspect").path("copies");
        assertEquals(1, marked);
        assertEquals(
                0, (int) being("ines").post("/api/drills/" + id + "/suspect").path("copies"));
        given().get("/api/export").then().body(containsString("\"spoiled\""));
        given().get("/api/record?words=" + id).then().body("deeds.act", hasItem("drill-suspects"));
    }

    @Test
    void firthsOwnFactsAreCopiedAndTheirAgeIsSaid() {
        being("ines").post("/api/own").then().statusCode(403);
        being("harald")
                .post("/api/own")
                .then()
                .body("trouble", equalTo(""))
                .body("copies", greaterThan(0))
                .body("age", not(nullValue()));
        given().get("/api/own").then().body("newest", notNullValue()).body("bytes", greaterThan(100_000));
    }
}
