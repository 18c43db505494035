package firth.server;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.greaterThan;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasSize;
import static org.hamcrest.Matchers.not;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.RestAssured;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The HTTP interface over real SQLite: views of any moment, facts in and out, errors a person can act on. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class ApiTest {

    private static ValidatableResponse take(String body) {
        return given().contentType("application/x-ndjson")
                .body(body.getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=test")
                .then();
    }

    @Test
    void coverShowsTheFleetAsOfItsNewestFact() {
        JsonPath cover =
                given().get("/api/cover").then().statusCode(200).extract().jsonPath();
        assertTrue(cover.getInt("databases") >= 16);
        assertTrue(cover.getString("asOf").startsWith("2026-11-20T09:1"), cover.getString("asOf"));
        List<String> all = cover.getList("groups.databases.flatten()");
        assertEquals(cover.getInt("databases"), all.size());
        List<String> first = cover.getList("rows.id");
        assertEquals(all.subList(0, Math.min(16, all.size())), first);
        JsonPath strip = given().get("/api/cover/strip").jsonPath();
        int slices = strip.getList("outside").size();
        assertTrue(slices == 200 || slices == 201, slices + " slices");
        assertTrue(
                strip.getDouble("outside[" + (slices - 1) + "].share") > 0, "manifests is outside its objective now");
    }

    @Test
    void aNoteStaysUntilItIsTakenBackAndIsThereWhereOneLooksBack() {
        String notes = "/api/databases/fares/notes";
        given().contentType("application/json")
                .body("{\"text\":\" Moved. \",\"by\":\"Ines\"}")
                .post(notes)
                .then()
                .statusCode(204);
        JsonPath fares = given().get("/api/databases/fares").jsonPath();
        assertEquals("Moved.", fares.getString("notes[0].text"));
        assertEquals(
                List.of(),
                given().queryParam("asOf", "2026-11-20T00:00:00Z")
                        .get("/api/databases/fares")
                        .jsonPath()
                        .getList("notes"),
                "nobody had written it then");
        String id = fares.getString("notes[0].id");
        given().delete(notes + "/" + id).then().statusCode(204);
        given().get("/api/databases/fares").then().body("notes", hasSize(0));
        given().delete(notes + "/" + id).then().statusCode(404);
        given().get("/api/export").then().body(containsString("\"type\":\"note\""));
        given().contentType("application/json")
                .body("{\"text\":\"\",\"by\":\"Ines\"}")
                .post(notes)
                .then()
                .statusCode(400)
                .body("detail", containsString("text"));
        given().contentType("application/json")
                .body("{\"text\":\"x\",\"by\":\"Ines\"}")
                .post("/api/databases/nobody/notes")
                .then()
                .statusCode(404);
    }

    @Test
    void aStreamCountsUpToWhenItWasToldOfAndDatabasesNobodyKnowsAreNamed() {
        Instant now = Instant.now();
        take("{\"type\":\"backup\",\"id\":\"stream-1\",\"database\":\"nobody-knows\",\"kind\":\"log\",\"streamed\":true,"
                        + "\"from\":0,\"to\":10,\"fromTime\":\"" + now.minusSeconds(3600) + "\",\"toTime\":\""
                        + now.plusSeconds(7200) + "\",\"copies\":[{\"store\":\"quay-near\"}]}")
                .statusCode(200)
                .body("added", equalTo(1))
                .body("unknown[0].database", equalTo("nobody-knows"))
                .body("unknown[0].facts", equalTo(1));
        String line = given().get("/api/export")
                .asString()
                .lines()
                .filter(l -> l.contains("\"stream-1\""))
                .findFirst()
                .orElseThrow();
        Instant to = Instant.parse(line.replaceFirst(".*\"toTime\":\"([^\"]+)\".*", "$1"));
        assertTrue(to.isBefore(now.plusSeconds(3600)), line);
        given().contentType("text/csv")
                .body("id,database,kind,started,ended\nt,nobody-else,full,2026-01-01T00:00:00Z,2026-01-01T01:00:00Z\n"
                        .getBytes(StandardCharsets.UTF_8))
                .post("/api/import/table/preview")
                .then()
                .statusCode(200)
                .body("report.unknown[0].database", equalTo("nobody-else"));
        given().get("/api/export").then().body(not(containsString("nobody-else")));
    }

    @Test
    void stepsFromWhatHappenedToWhatHappenedNext() {
        String asOf = "2026-11-18T12:00:00Z";
        JsonPath before = step(asOf, "previous", "berths");
        assertTrue(before.getString("at").compareTo(asOf) < 0);
        assertEquals("berths", before.getString("name"));
        String next = step(before.getString("at"), "next", "berths").getString("at");
        assertTrue(next.compareTo(before.getString("at")) > 0, next);
        JsonPath fleet = step(asOf, "previous", "");
        assertTrue(fleet.getString("at").compareTo(asOf) < 0
                && fleet.getString("at").startsWith("2026-11-18T11:"));
        assertTrue(fleet.getString("of").contains(" "), fleet.prettify());
        assertEquals(null, step("2001-01-01T00:00:00Z", "previous", "").getString("at"));
    }

    private static JsonPath step(String asOf, String to, String database) {
        return given().queryParam("asOf", asOf)
                .queryParam("to", to)
                .queryParam("database", database)
                .get("/api/step")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    @Test
    void rowsOfAFewAreThoseOfTheFleet() {
        String asOf = "2026-11-20T09:00:00Z";
        List<Object> all = given().queryParam("asOf", asOf)
                .get("/api/cover?most=40")
                .jsonPath()
                .getList("rows");
        List<Object> few = given().queryParam("asOf", asOf)
                .queryParam("database", "berths", "nobody", "webshop")
                .get("/api/cover/rows")
                .jsonPath()
                .getList("");
        assertEquals(2, few.size(), "one nobody knows has none");
        assertTrue(all.containsAll(few));
    }

    @ParameterizedTest
    @ValueSource(strings = {"/api/gaps", "/api/needs", "/api/drills"})
    void longListsComeAStretchAtATimeInOneOrder(String path) {
        String asOf = "2026-11-20T09:00:00Z";
        List<Object> all = given().queryParam("asOf", asOf).get(path).jsonPath().getList("rows");
        assertTrue(all.size() > 3 && all.size() < 100, all.size() + " rows");
        List<Object> joined = new ArrayList<>();
        for (int from = 0; from < all.size() + 3; from += 3) {
            joined.addAll(given().queryParam("asOf", asOf)
                    .queryParam("from", from)
                    .queryParam("most", 3)
                    .get(path)
                    .jsonPath()
                    .getList("rows"));
        }
        assertEquals(all, joined);
    }

    @Test
    void gapsAreFoundByWordsStateAndReach() {
        JsonPath all = given().get("/api/gaps").jsonPath();
        JsonPath berths =
                given().get("/api/gaps?words=BERTHS&state=bridged&reach=inside").jsonPath();
        assertEquals(all.getInt("all.gaps"), berths.getInt("all.gaps"));
        assertEquals(
                all.getList("rows.findAll { it.name == 'berths' && it.gap.state == 'bridged' && it.inside }"),
                berths.getList("rows"));
        assertEquals(berths.getList("rows").size(), berths.getInt("found.gaps"));
        assertEquals(0, given().get("/api/gaps?words=nobody").jsonPath().getInt("found.gaps"));
    }

    @Test
    void outagesCountTheDatabasesWhoseLogsAreMissing() {
        JsonPath gaps = given().get("/api/gaps").jsonPath();
        JsonPath outages = given().get("/api/gaps/outages").jsonPath();
        assertEquals(0, outages.getInt("others"));
        List<String> names = outages.getList("stores.slices.names.flatten().unique()");
        assertTrue(names.contains("berths"), names.toString());
        assertTrue(gaps.getList("rows.name").containsAll(names));
        assertTrue(outages.<Integer>getList("stores.slices.databases.flatten()").stream()
                .allMatch(n -> n > 0));
    }

    @Test
    void needsAreFoundByWordsAndKind() {
        JsonPath all = given().get("/api/needs").jsonPath();
        JsonPath logs = given().get("/api/needs?kind=log").jsonPath();
        assertEquals(all.getList("rows.findAll { it.kind == 'log' }"), logs.getList("rows"));
        assertEquals(logs.getList("rows").size(), logs.getInt("found"));
        assertEquals(all.getInt("databases"), logs.getInt("databases"));
        assertEquals(
                List.of("webshop"),
                given().get("/api/needs?words=webs").jsonPath().getList("rows.name.unique()"));
    }

    @Test
    void saysAtOnceWhichDatabasesFactsHaveComeOf() throws Exception {
        HttpRequest listening = HttpRequest.newBuilder(
                        URI.create("http://localhost:" + RestAssured.port + "/api/changes"))
                .build();
        try (InputStream told = HttpClient.newHttpClient()
                .send(listening, HttpResponse.BodyHandlers.ofInputStream())
                .body()) {
            take("{\"type\":\"run\",\"id\":\"told-at-once\",\"database\":\"berths\",\"kind\":\"log\","
                            + "\"started\":\"2026-11-20T09:00:01Z\",\"outcome\":\"failed\"}")
                    .statusCode(200);
            BufferedReader lines = new BufferedReader(new InputStreamReader(told, StandardCharsets.UTF_8));
            assertEquals(
                    "data:facts [\"berths\"]",
                    lines.lines()
                            .filter(l -> l.startsWith("data:facts"))
                            .findFirst()
                            .orElseThrow());
        }
    }

    @Test
    void asOfAMomentBeforeTheHoleThereIsNone() {
        assertEquals("short", grade("berths", ""));
        assertEquals("covered", grade("berths", "2026-11-11T00:00:00Z"));
        assertEquals("covered", grade("manifests", "2026-11-17T00:00:00Z"));
    }

    private static String grade(String id, String asOf) {
        return given().queryParam("asOf", asOf)
                .get("/api/databases/" + id)
                .jsonPath()
                .getString("row.grade");
    }

    @Test
    void theEvaluationsAreThoseOfTheViews() throws IOException {
        JsonNode all = new ObjectMapper()
                .readTree(given().get("/api/evaluations")
                        .then()
                        .statusCode(200)
                        .extract()
                        .asByteArray());
        JsonPath cover = given().get("/api/cover?most=40").jsonPath();
        for (JsonNode database : all.get("databases")) {
            String row = "rows.find { it.id == '" + database.get("id").asText() + "' }.";
            assertEquals(cover.getString(row + "grade"), database.path("grade").textValue());
            if (database.get("id").asText().equals("fuel")) {
                assertEquals(
                        cover.getDouble("rows.find { it.id == 'fuel' }.hazards[1].ageSeconds"),
                        database.at("/hazards/siteLoss/ageSeconds").asDouble(),
                        0.01,
                        "the test library reads figures with few digits");
            }
        }
        assertEquals(cover.getInt("databases"), all.get("databases").size());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "manifests   | about=age                   | Age of the recovery point | last failed log run",
                "manifests   | about=grade                 | Why behind                | policy Sailings, version 1",
                "berths      | about=grade                 | Why short                 | bridged gap",
                "fuel        | about=age&hazard=siteLoss   | Age of the recovery point | last log that extends it",
                "webshop     | about=grade                 | Why stranded              | last failed full run",
            })
    void whyNamesTheFactsAndTheRule(String id, String query, String title, String fact) {
        given().get("/api/databases/" + id + "/why?" + query)
                .then()
                .statusCode(200)
                .body("title", equalTo(title))
                .body("facts.label", hasItem(fact))
                .body("rule.length()", greaterThan(20));
    }

    @Test
    void whyAGapAndWhyACopy() {
        JsonPath berths = given().get("/api/databases/berths").jsonPath();
        given().queryParam("about", "gap")
                .queryParam("position", berths.getLong("gaps[0].fromPosition"))
                .get("/api/databases/berths/why")
                .then()
                .statusCode(200)
                .body("facts.label", hasItem("bridged by"));
        JsonPath page = given().get("/api/databases/bookings/backups?kinds=full&verdict=obsolete")
                .jsonPath();
        given().queryParam("about", "copy")
                .queryParam("backup", page.getString("items[0].id"))
                .queryParam("store", page.getString("items[0].store"))
                .get("/api/databases/bookings/why")
                .then()
                .statusCode(200)
                .body("title", equalTo("Why obsolete"))
                .body("facts.label", hasItem("replaced by"));
    }

    @Test
    void anImportTakesTheGoodLinesAndNamesTheBad() {
        String good = "{\"type\":\"site\",\"id\":\"lighthouse\"}\n";
        take(good + "{\"type\":\"site\",\"id\":\"a b\"}\n{\"type\":\"run\",\"id\":\"x\"\n")
                .statusCode(200)
                .body("lines", equalTo(3))
                .body("rejectedLines", equalTo(2))
                .body("rejected[0].line", equalTo(2))
                .body("rejected[0].field", equalTo("id"))
                .body("rejected[1].line", equalTo(3));
        take(good).statusCode(200).body("unchanged", equalTo(1)).body("added", equalTo(0));
    }

    @Test
    void whatIsNoFleetFileIsRefusedAndNothingIsTaken() {
        take("Dear harbour master\n")
                .statusCode(422)
                .body("detail", containsString("is not a fleet file"))
                .body("unharmed", containsString("unharmed"));
        take("").statusCode(422).body("detail", containsString("is empty"));
    }

    @Test
    void anotherPageCannotImportBehindAPersonsBack() {
        given().contentType("text/plain").body("{}").post("/api/import").then().statusCode(415);
    }

    @Test
    void theExportImportsAgainWithoutSayingAnythingNew() {
        byte[] export =
                given().get("/api/export").then().statusCode(200).extract().asByteArray();
        given().contentType("application/x-ndjson")
                .body(export)
                .post("/api/import?source=again")
                .then()
                .statusCode(200)
                .body("added", equalTo(0))
                .body("updated", equalTo(0))
                .body("rejected", hasSize(0))
                .body("unchanged", greaterThan(50_000));
    }

    @Test
    void everySlotBreachAndStretchWithoutLogsCanBeAskedWhy() {
        JsonPath page = given().get("/api/databases/manifests").jsonPath();
        String opened = page.getString("slots.find { it.verdict == 'failed' }.open");
        String schedule = page.getString("slots.find { it.verdict == 'failed' }.schedule");
        given().queryParam("about", "slot")
                .queryParam("schedule", schedule)
                .queryParam("at", opened)
                .get("/api/databases/manifests/why")
                .then()
                .statusCode(200)
                .body("title", equalTo("Why failed"))
                .body("facts.label", hasItem("run that failed"));
        given().queryParam("about", "breach")
                .queryParam("at", page.getString("channels[0].breaches[-1].from"))
                .get("/api/databases/manifests/why")
                .then()
                .statusCode(200)
                .body("facts.label", hasItem("what moved it last before"));
        given().queryParam("about", "cadence")
                .queryParam("schedule", page.getString("cadence[-1].schedule"))
                .queryParam("at", page.getString("cadence[-1].from"))
                .get("/api/databases/manifests/why")
                .then()
                .statusCode(200)
                .body("facts.label", hasItem("last log before"));
        given().get("/api/databases/manifests/why?about=slot&schedule=nightly&at=yesterday")
                .then()
                .statusCode(400)
                .body("detail", containsString("at is not a moment"));
    }

    @Test
    void theShelvesHoldWhatRetentionJudges() {
        JsonPath page = given().get("/api/databases/season-tickets").jsonPath();
        assertEquals(List.of("near", "far"), page.getList("shelves.role"));
        assertEquals(1, page.getList("shelves[0].backups.findAll { it.held }").size());
        assertTrue(page.getList("shelves[1].backups.findAll { it.lockedUntil != null }")
                        .size()
                > 5);
        int lying = page.getInt("shelves.collect { it.backups.size() + it.logs.collect { l -> l.logs }.sum() }.sum()");
        assertEquals(page.getInt("tallies.collect { it.copies }.sum()"), lying);
        assertEquals(List.of("1", "2"), page.getList("lineages.id"));
        assertEquals("1", page.getString("lineages[1].parent"));
        assertEquals(
                List.of("east", "west"),
                given().get("/api/databases/gate-counters").jsonPath().getList("streams"));
    }

    @Test
    void aDatabaseWithSeveralStreamsIsComputedFromWhatTheStoreHolds() {
        take("{\"type\":\"database\",\"id\":\"zodiac\",\"zone\":\"UTC\",\"inServiceFrom\":\"2026-11-01T00:00:00Z\","
                        + "\"streams\":[\"a\",\"b\"]}\n"
                        + "{\"type\":\"backup\",\"id\":\"z-full\",\"database\":\"zodiac\",\"kind\":\"full\","
                        + "\"ended\":\"2026-11-02T00:00:00Z\",\"to\":{\"a\":10,\"b\":20},\"selfContained\":true,"
                        + "\"copies\":[{\"store\":\"quay-near\"}]}\n"
                        + log("a", 10, 15, "2026-11-02T02:00:00Z")
                        + log("b", 20, 30, "2026-11-02T01:00:00Z"))
                .statusCode(200);
        given().get("/api/databases/zodiac?asOf=2026-11-02T03:00:00Z")
                .then()
                .statusCode(200)
                .body("channels[0].restorable[0].from", equalTo("2026-11-02T00:00:00Z"))
                .body("channels[0].restorable[0].to", equalTo("2026-11-02T01:00:00Z"));
    }

    private static String log(String stream, int from, int to, String ended) {
        return "{\"type\":\"backup\",\"id\":\"z-" + stream + "\",\"database\":\"zodiac\",\"kind\":\"log\",\"stream\":\""
                + stream
                + "\",\"from\":" + from + ",\"to\":" + to + ",\"fromTime\":\"2026-11-02T00:00:00Z\",\"toTime\":\""
                + ended
                + "\",\"copies\":[{\"store\":\"quay-near\"}]}\n";
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "/api/step?to=sideways                     | 400 | to is neither next nor previous",
                "/api/cover/rows                           | 400 | database is to be given 1 to 40 times",
                "/api/cover?most=41                        | 400 | most is to be 0 to 40",
                "/api/cover?order=age&by=size              | 400 | by is none of policy, site, engine, none",
                "/api/gaps?reach=outside                   | 400 | reach is none of inside, beyond",
                "/api/gaps?state=closed                    | 400 | state is none of open, unbridged, bridged",
                "/api/needs?kind=weekly                    | 400 | kind is none of full",
                "/api/gaps?from=-1                         | 400 | from is to be 0 or more",
                "/api/needs?most=501                       | 400 | most is to be 0 to 500",
                "/api/cover?asOf=noon                      | 400 | asOf is not an RFC 3339 instant",
                "/api/cover?period=P1.5M                   | 400 | period is neither",
                "/api/cover?period=2026-01-02T00:00:00Z/2026-01-01T00:00:00Z | 400 | ends before",
                "/api/databases/atlantis                   | 404 | no database atlantis",
                "/api/databases/tides/why?about=weather    | 400 | about is none of",
                "/api/databases/tides/why?about=gap&position=1 | 404 | no such gap",
                "/api/databases/tides/why?about=age&hazard=flood | 400 | hazard is none of",
                "/api/databases/tides/backups?limit=9999   | 400 | limit",
                "/api/nothing                              | 404 | nothing at this address",
            })
    void anErrorSaysWhatHappenedAndWhatToDo(String path, int status, String what) {
        given().urlEncodingEnabled(false)
                .get(path)
                .then()
                .statusCode(status)
                .body("detail", containsString(what))
                .body("remedy.length()", greaterThan(5));
    }

    @ParameterizedTest
    @ValueSource(strings = {"/", "/cover", "/cover?asOf=2026-11-01T00:00:00Z", "/databases/a.b%2Fc"})
    void everyViewIsThePage(String path) {
        given().urlEncodingEnabled(false).get(path).then().statusCode(200).body(containsString("<div id=\"root\">"));
    }

    @Test
    void sourcesSayHowNewTheyAre() {
        List<String> names = given().get("/api/sources").jsonPath().getList("sources.name");
        assertTrue(names.containsAll(List.of("Northquay hosts", "Southquay hosts", "fleet list")));
    }
}
