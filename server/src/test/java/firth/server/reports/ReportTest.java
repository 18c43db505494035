package firth.server.reports;

import static firth.server.people.Being.being;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.everyItem;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasSize;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import firth.server.purge.PurgeFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Reports over HTTP: their figures are those of the views, and they stay what they were. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class ReportTest {

    /** The day on which the made-up fleet ends. */
    private static final Instant TODAY = DemoFleet.NOW.truncatedTo(ChronoUnit.DAYS);

    private static String asked(String by, String of, Instant from, Instant to) {
        return "?by=" + by + "&of=" + of + "&from=" + from + "&to=" + to;
    }

    private static JsonPath report(String asked) {
        return given().get("/api/reports/made/report.json" + asked)
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    @Test
    void itsFiguresAreThoseOfCoverOverTheSamePeriod() {
        Instant from = TODAY.minus(Duration.ofDays(10));
        JsonPath report = report(asked("fleet", "", from, TODAY));
        JsonPath cover =
                given().get("/api/cover?most=40&period=" + from + "/" + TODAY).jsonPath();
        for (String id : List.of("berths", "bookings", "manifests", "fuel", "kiosk-north")) {
            for (String hazard : List.of("mishap", "siteLoss", "sabotage")) {
                String kept = "rows.find { it.database == '" + id + "' }.kept.find { it.hazard == '" + hazard + "' }";
                String now = "rows.find { it.id == '" + id + "' }.hazards.find { it.hazard == '" + hazard + "' }";
                assertEquals(cover.getString(now + ".worstSeconds"), report.getString(kept + ".worst"), id + hazard);
                assertEquals(cover.getString(now + ".attainment"), report.getString(kept + ".attainment"), id + hazard);
            }
        }
        assertFalse(report.getList("policies").isEmpty());
        for (Map<String, Object> breach : report.<Map<String, Object>>getList("breaches")) {
            assertFalse(((String) breach.get("cause")).isBlank(), breach::toString);
        }
    }

    @Test
    void itIsOfWhatWasAskedFor() {
        Instant from = TODAY.minus(Duration.ofDays(3));
        assertEquals(
                List.of("berths"),
                report(asked("database", "berths", from, TODAY)).getList("rows.database"));
        JsonPath kiosks = report(asked("policy", "kiosks", from, TODAY));
        assertEquals("policy Kiosks", kiosks.getString("title"));
        assertTrue(kiosks.getList("rows.database").contains("kiosk-north"));
        String label = given().get("/api/fleet")
                .path("rows.find { it.id == 'berths' }.labels.collect { k, v -> k + '=' + v }[0]");
        assertTrue(report(asked("label", label, from, TODAY))
                .getList("rows.database")
                .contains("berths"));
        String owner = given().get("/api/fleet").path("rows.find { it.owner != '' }.owner");
        given().queryParam("by", "owner")
                .queryParam("of", owner)
                .queryParam("from", from.toString())
                .queryParam("to", TODAY.toString())
                .get("/api/reports/made/report.json")
                .then()
                .body("title", equalTo(owner));
    }

    @Test
    void aPeriodThatIsOverBearsItsOwnGradesAndReachBesideTheWordOfToday() {
        Instant end = TODAY.minus(Duration.ofDays(3));
        JsonPath over = report(asked("fleet", "", end.minus(Duration.ofDays(5)), end));
        JsonPath then =
                given().get("/api/cover?most=40&asOf=" + end + "&period=P5D").jsonPath();
        JsonPath today = given().get("/api/cover?most=40").jsonPath();
        int differ = 0;
        for (String id : over.<String>getList("rows.database")) {
            String row = "rows.find { it.database == '" + id + "' }.";
            String cover = "rows.find { it.id == '" + id + "' }.";
            String grade = then.getString(cover + "grade");
            String said = over.getString(row + "grade");
            assertTrue(said.startsWith(grade) || said.equals("nothing promised"), id + " " + said);
            assertEquals(then.getString(cover + "reachSeconds"), over.getString(row + "reach"), id);
            if (over.getString(row + "gradeToday") != null) {
                differ++;
                assertTrue(over.getString(row + "gradeToday").startsWith(today.getString(cover + "grade")), id);
            } else {
                assertEquals(grade, today.getString(cover + "grade"), id);
            }
        }
        assertTrue(differ > 0, "some database stands otherwise today");
        String page = given().get(
                        "/api/reports/made/report.html" + asked("fleet", "", end.minus(Duration.ofDays(5)), end))
                .asString();
        assertTrue(page.contains("; today "), page);
        assertTrue(
                page.contains("font/woff2") && page.contains("class=\"ages\""), "it wears Firth's type and draws ages");
    }

    @Test
    void beingTakenOnIsToldApartFromBreaches() {
        JsonPath report = report(asked("fleet", "", TODAY.minus(Duration.ofDays(10)), TODAY));
        List<String> takenOn = report.getList("rows.findAll { it.onboardingUntil != null }.name");
        List<String> notes = report.getList("notes");
        for (String name : takenOn) {
            assertTrue(notes.stream().anyMatch(n -> n.startsWith("Being onboarded") && n.contains(name)), name);
        }
        assertEquals(
                report.getList(
                                "rows.findAll { it.reachPromised == null && it.kept.every { k -> k.promised == null } && it.grade == 'covered' }")
                        .size(),
                0,
                "what promises nothing is not called covered");
    }

    @Test
    void emptyPartialAndFuturePeriodsSaySo() {
        JsonPath partial = report(asked("fleet", "", TODAY.minus(Duration.ofDays(2)), TODAY.plus(Duration.ofDays(20))));
        assertTrue(partial.getString("notes[0]").contains("not over"));
        JsonPath future = report(asked("fleet", "", TODAY.plus(Duration.ofDays(10)), TODAY.plus(Duration.ofDays(20))));
        assertTrue(future.getString("notes[0]").contains("has not begun"));
        assertEquals(0, future.getList("breaches").size());
        JsonPath nothing = report(asked("policy", "nobody", TODAY.minus(Duration.ofDays(2)), TODAY));
        assertTrue(nothing.getList("notes").contains("No database falls under it in this period."));
        given().get("/api/reports/made/report.json?from=2026-01-02T00:00:00Z&to=2026-01-01T00:00:00Z")
                .then()
                .statusCode(400);
        given().get("/api/reports/made/report.json?from=x&to=y")
                .then()
                .statusCode(400)
                .body("detail", containsString("from"));
        given().get("/api/reports/made/report.json" + asked("moon", "", TODAY.minusSeconds(60), TODAY))
                .then()
                .statusCode(400);
        given().get("/api/reports/made/report.doc" + asked("fleet", "", TODAY.minusSeconds(60), TODAY))
                .then()
                .statusCode(404);
    }

    @Test
    void itIsPrintedAndExported() {
        String asked = asked("fleet", "", TODAY.minus(Duration.ofDays(10)), TODAY);
        String page = given().get("/api/reports/made/report.html" + asked).asString();
        assertTrue(
                page.contains("size: A4") && page.contains("Promised and achieved: mishap") && page.contains("<svg"));
        assertFalse(page.contains("<script"));
        String table = given().get("/api/reports/made/report.csv" + asked).asString();
        assertTrue(table.startsWith("database,policy,grade,hazard,"), table);
        assertEquals(3 * report(asked).getList("rows").size() + 1, table.lines().count());
        String text = given().get("/api/reports/made/report.md" + asked).asString();
        assertTrue(text.startsWith("# Report: the fleet\n"), text);
    }

    @Test
    void aKeptReportStaysAndComesOutTheSameUntilFactsCome() {
        String asked = asked("database", "tides", TODAY.minus(Duration.ofDays(5)), TODAY.minus(Duration.ofDays(1)));
        being("oona").post("/api/reports" + asked).then().statusCode(403);
        String id = being("ines")
                .post("/api/reports" + asked)
                .then()
                .statusCode(200)
                .extract()
                .path("id");
        given().get("/api/reports").then().body("id", hasItem(id));
        String before = given().get("/api/reports/kept/" + id + ".json").asString();
        being("oona")
                .post("/api/reports/kept/" + id + "/again")
                .then()
                .body("same", equalTo(true))
                .body("differs", hasSize(0));
        String late = "{\"type\":\"drill\",\"id\":\"late\",\"database\":\"tides\",\"ended\":\""
                + TODAY.minus(Duration.ofDays(2)) + "\",\"outcome\":\"ok\",\"checks\":[\"counts\"]}";
        being("ines")
                .contentType("application/x-ndjson")
                .body(late.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .statusCode(200);
        being("oona")
                .post("/api/reports/kept/" + id + "/again")
                .then()
                .body("same", equalTo(false))
                .body("differs", hasItem("drills"));
        assertEquals(before, given().get("/api/reports/kept/" + id + ".json").asString());
        given().get("/api/record?words=" + id).then().body("deeds.act", everyItem(equalTo("report-kept")));
        given().get("/api/reports/kept/nothing.html").then().statusCode(404);
    }
}
