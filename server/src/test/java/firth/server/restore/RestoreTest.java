package firth.server.restore;

import static firth.server.people.Being.being;
import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.everyItem;
import static org.hamcrest.Matchers.greaterThan;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasItems;
import static org.hamcrest.Matchers.hasSize;
import static org.hamcrest.Matchers.not;
import static org.hamcrest.Matchers.notNullValue;
import static org.hamcrest.Matchers.nullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import firth.server.purge.PurgeFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** Plans over HTTP, and restores that are done by them. */
@QuarkusTest
@TestProfile(PurgeFleet.class)
class RestoreTest {

    private static JsonPath plan(String database, String query) {
        return given().get("/api/restore/of/" + database + "?hazard=mishap&" + query)
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    @Test
    void theLatestIsReachedByChainAndLogs() {
        JsonPath plan = plan("bookings", "lineage=");
        assertEquals("full", plan.getString("ways[0].steps[0].kind"));
        assertEquals("log", plan.getString("ways[0].steps[-1].kind"));
        List<Float> seconds = plan.getList("ways[0].steps.seconds");
        double sum = seconds.stream().mapToDouble(Float::doubleValue).sum();
        assertEquals(plan.getDouble("ways[0].seconds"), sum, 0.5);
        List<Float> all = plan.getList("ways.seconds");
        assertEquals(all.stream().sorted().toList(), all, "the quickest first");
        assertEquals(7200.0, plan.getDouble("promised"));
        assertTrue(plan.getFloat("factor") > 0.5, "the drill says how it goes");
        assertEquals(List.of("quay-2026"), plan.getList("destination.keys"));
    }

    @Test
    void withoutAStoreAnotherIsReadAndWithoutAllNothing() {
        given().get("/api/restore/of/bookings?store=quay-near")
                .then()
                .body("ways[0].steps.store", everyItem(not(equalTo("quay-near"))));
        JsonPath near = plan("bookings", "lineage=");
        String lost = near.getString("ways[0].steps[0].store") + "|" + near.getString("ways[0].steps[0].backup");
        JsonPath without = given().queryParam("copy", lost)
                .get("/api/restore/of/bookings")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
        assertFalse(without.getString("ways[0].steps[0].store").equals("quay-near")
                && without.getString("ways[0].steps[0].backup").equals(near.getString("ways[0].steps[0].backup")));
        given().get("/api/restore/of/bookings?site=northquay&site=southquay&site=skerry")
                .then()
                .body("ways", hasSize(0))
                .body("target", nullValue());
        given().get("/api/restore/of/bookings?hazard=sabotage").then().body("ways.size()", greaterThan(0));
    }

    @Test
    void aMomentInAGapNamesItAndItsNeighbours() {
        JsonPath gaps = given().get("/api/gaps").jsonPath();
        Map<String, Object> gap =
                gaps.getMap("rows.find { it.gap.state == 'bridged' && it.gap.after != null && it.gap.before != null }");
        String database = (String) gap.get("database");
        Map<?, ?> info = (Map<?, ?>) gap.get("gap");
        String inside = java.time.Instant.parse((String) info.get("after"))
                .plusSeconds(60)
                .toString();
        given().get("/api/restore/of/" + database + "?moment=" + inside)
                .then()
                .body("ways", hasSize(0))
                .body("hole.cause", equalTo(info.get("cause")))
                .body("before", notNullValue())
                .body("after", notNullValue());
    }

    @Test
    void whatIsAskedForWronglyIsSaid() {
        for (String bad : List.of(
                "moment=yesterday",
                "hazard=flood",
                "positions=main",
                "positions=other:5",
                "copy=nothing",
                "component=nose",
                "positions=main:5%26lineage=9".replace("%26", "&"))) {
            given().get("/api/restore/of/bookings?" + bad)
                    .then()
                    .statusCode(400)
                    .body(
                            "detail",
                            containsString(bad.substring(
                                    bad.contains("lineage") ? 17 : 0,
                                    bad.contains("lineage") ? 24 : bad.indexOf('='))));
        }
        given().get("/api/restore/of/nobody").then().statusCode(404);
        given().get("/api/restore/of/bookings/checklist.doc").then().statusCode(404);
    }

    @Test
    void aPositionIsReachedWhereLogsHoldIt() {
        JsonPath list = given().get("/api/restore/of/bookings/checklist.json").jsonPath();
        long within = list.getLong("logs[-1].from") + 1;
        JsonPath plan = plan("bookings", "positions=main:" + within);
        assertEquals(list.getString("logs[-1].backup"), plan.getString("ways[0].steps[-1].last"));
        String written = "%X/%X".formatted(within >>> 32, within & 0xFFFFFFFFL);
        JsonPath same = plan("bookings", "positions=main:" + written);
        assertEquals(within, same.getLong("positions[0].position"));
        assertEquals(plan.getString("ways[0].title"), same.getString("ways[0].title"));
        given().get("/api/restore/of/bookings/checklist.md?positions=main:" + written)
                .then()
                .body(containsString("Stop at position " + within + " of main"));
        given().get("/api/restore/of/bookings?positions=main:999999999999999")
                .then()
                .body("ways", hasSize(0));
    }

    @Test
    void thePlanLeavesAsAChecklistWithPathsAndPositions() {
        String page = given().get("/api/restore/of/bookings/checklist.html").asString();
        assertTrue(page.contains("@page { size: A4") && page.contains("/quay-near/bookings/"), page);
        assertFalse(page.contains("<script"), "a page for the worst day needs nothing to run");
        String text =
                given().get("/api/restore/of/bookings/checklist.md?name=b2").asString();
        assertTrue(text.startsWith("# Restore bookings as b2\n"), text);
        assertTrue(text.contains("- [ ] Restore the full bookings-full-"), text);
        assertTrue(text.contains("| Log | Store | Stream | From | To | Path, checksum |"), text);
    }

    @Test
    void afterTheLastChangeAllLogsAreAppliedWithoutATarget() {
        String quiet = """
                {"type":"database","id":"quiet","name":"quiet","zone":"UTC","inServiceFrom":"2026-11-01T00:00:00Z"}
                {"type":"backup","id":"quiet-full","database":"quiet","kind":"full","ended":"2026-11-01T01:00:00Z","to":10,"copies":[{"store":"quay-near"}]}
                {"type":"backup","id":"quiet-log","database":"quiet","kind":"log","from":10,"to":20,"fromTime":"2026-11-01T01:00:00Z",
                """.stripTrailing()
                + "\"toTime\":\"2026-11-01T02:00:00Z\",\"lastCommit\":\"2026-11-01T01:20:00Z\",\"copies\":[{\"store\":\"quay-near\"}]}\n";
        being("ines")
                .contentType("application/x-ndjson")
                .body(quiet.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                .post("/api/import?source=quiet")
                .then()
                .body("added", equalTo(3));
        assertEquals(
                "2026-11-01T01:20:00Z",
                plan("quiet", "moment=2026-11-01T01:40:00Z").getString("lastCommit"));
        assertEquals(null, plan("quiet", "moment=2026-11-01T01:10:00Z").getString("lastCommit"));
        String list = given().get("/api/restore/of/quiet/checklist.md?moment=2026-11-01T01:40:00Z")
                .asString();
        assertTrue(list.contains("all logs of lineage 1 without a target"), list);
        assertFalse(list.contains("Stop in lineage"), list);
    }

    @Test
    void logsInWhichNothingHappenedAreNotLaidAnywhere() {
        String copy =
                "\"copies\":[{\"store\":\"quay-near\",\"bytes\":16,\"path\":\"still/%s\",\"evidence\":{\"is\":\"read\",\"by\":\"firth runner\",\"at\":\"2026-11-01T03:00:00Z\"}}]}";
        String still = String.join(
                "\n",
                "{\"type\":\"database\",\"id\":\"still\",\"name\":\"still\",\"engine\":\"postgresql\",\"zone\":\"UTC\",\"inServiceFrom\":\"2026-11-01T00:00:00Z\"}",
                "{\"type\":\"backup\",\"id\":\"still-full\",\"database\":\"still\",\"kind\":\"full\",\"ended\":\"2026-11-01T01:00:00Z\",\"to\":10,"
                        + copy.formatted("base"),
                "{\"type\":\"backup\",\"id\":\"still-log\",\"database\":\"still\",\"kind\":\"log\",\"from\":10,\"to\":20,\"fromTime\":\"2026-11-01T01:00:00Z\",\"toTime\":\"2026-11-01T02:00:00Z\",\"lastCommit\":\"2026-11-01T01:20:00Z\","
                        + copy.formatted("000000010000000000000001"),
                "{\"type\":\"backup\",\"id\":\"still-none\",\"database\":\"still\",\"kind\":\"log\",\"from\":20,\"to\":20,\"fromTime\":\"2026-11-01T02:00:00Z\",\"toTime\":\"2026-11-01T03:00:00Z\",\"copies\":[{\"store\":\"quay-near\"}]}",
                "");
        being("ines")
                .contentType("application/x-ndjson")
                .body(still.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                .post("/api/import?source=still")
                .then()
                .body("added", equalTo(4));
        assertEquals(
                "2026-11-01T01:20:00Z",
                plan("still", "moment=2026-11-01T02:40:00Z").getString("lastCommit"));
        JsonPath list = given().get("/api/restore/of/still/checklist.json?moment=2026-11-01T02:40:00Z")
                .jsonPath();
        assertEquals(List.of("quay-near"), list.getList("recipe.stores"));
        String script = list.getString("recipe.script");
        assertTrue(script.contains("000000010000000000000001"), script);
        assertFalse(script.contains("recovery_target_time = '2026"), "the engine would wait for a change after that");
    }

    private static Map<String, Object> begun(String name, boolean over) {
        return Map.of(
                "query",
                "",
                "name",
                name,
                "host",
                "h7",
                "over",
                over,
                "paths",
                List.of(Map.of("from", "/a", "to", "/b")));
    }

    @Test
    void aRestoreToANewNameIsTickedEndedAndLookedAfter() {
        being("oona")
                .body(begun("x", false))
                .post("/api/restore/of/fares")
                .then()
                .statusCode(403);
        being("ines")
                .body(begun("fares", false))
                .post("/api/restore/of/fares")
                .then()
                .statusCode(400);
        being("ines")
                .body(begun("bookings", false))
                .post("/api/restore/of/fares")
                .then()
                .statusCode(400);
        String id = being("ines")
                .body(begun("fares-2", false))
                .post("/api/restore/of/fares")
                .then()
                .statusCode(200)
                .body("items.findAll { it.state == 'files' }.details[0]", notNullValue())
                .extract()
                .path("id");
        being("ines")
                .body(Map.of("item", "i1", "done", true))
                .post("/api/restore/begun/" + id + "/tick")
                .then()
                .body("items[0].done", notNullValue())
                .body("items[0].by", equalTo("Ines Brandt"));
        being("ines")
                .body(Map.of("item", "i99", "done", true))
                .post("/api/restore/begun/" + id + "/tick")
                .then()
                .statusCode(404);
        String list = given().get("/api/restore/begun/" + id + "/checklist.md").asString();
        assertTrue(list.contains("- [x] "), list);
        Map<String, Object> ended = Map.of("ok", true, "enrol", true, "positions", List.of(), "message", "all there");
        being("ines")
                .body(ended)
                .post("/api/restore/begun/" + id + "/end")
                .then()
                .statusCode(200);
        being("ines")
                .body(ended)
                .post("/api/restore/begun/" + id + "/end")
                .then()
                .statusCode(400);
        given().get("/api/restore/begun").then().body("find { it.id == '" + id + "' }.state", equalTo("done"));
        being("ines")
                .body(Map.of("item", "i1", "done", false))
                .post("/api/restore/begun/" + id + "/tick")
                .then()
                .statusCode(400);
        String policy = given().get("/api/fleet").path("rows.find { it.id == 'fares' }.policy");
        given().get("/api/fleet").then().body("rows.find { it.id == 'fares-2' }.policy", equalTo(policy));
        given().get("/api/history?kind=restore&asOf="
                        + DemoFleet.now().plusSeconds(2).truncatedTo(java.time.temporal.ChronoUnit.SECONDS))
                .then()
                .body("lines.message", hasItem(containsString("restored as fares-2")));
        given().get("/api/record?words=" + id).then().body("deeds.act", hasItems("restore-begun", "restore-ended"));
    }

    @Test
    void aRestoreOverTheOldOneOpensALineageWhereItsLogsStopped() {
        String id = being("ines")
                .body(begun("radar", true))
                .post("/api/restore/of/radar")
                .then()
                .statusCode(200)
                .body("items.text", hasItem(containsString("written over")))
                .extract()
                .path("id");
        Map<String, Object> without = Map.of("ok", true, "enrol", false, "positions", List.of(), "message", "");
        being("ines")
                .body(without)
                .post("/api/restore/begun/" + id + "/end")
                .then()
                .statusCode(400);
        Map<String, Object> ended = Map.of(
                "ok",
                true,
                "enrol",
                false,
                "positions",
                List.of(Map.of("stream", "main", "position", 5000)),
                "message",
                "");
        being("ines")
                .body(ended)
                .post("/api/restore/begun/" + id + "/end")
                .then()
                .statusCode(200);
        given().get("/api/fleet/radar").then().body("document.lineages[1].forkPos.main", equalTo(5000));
    }

    /** A course as a program tells it; what it says of a state is that it is over, but of the last. */
    private static Map<String, Object> course(String host, String... states) {
        String now = DemoFleet.now().toString();
        List<Map<String, Object>> all = new ArrayList<>();
        for (String state : states) {
            all.add(new TreeMap<>(Map.of("state", state, "began", now, "done", 7, "of", 9)));
        }
        all.subList(0, Math.max(0, all.size() - 1)).forEach(s -> s.put("ended", now));
        return new TreeMap<>(Map.of(
                "host", host, "into", "/srv/x", "states", all, "checks", List.of("well"), "positions", List.of()));
    }

    private static ValidatableResponse tell(String id, Map<String, Object> course) {
        return being("ines")
                .body(course)
                .post("/api/restore/begun/" + id + "/course")
                .then();
    }

    @Test
    void whatAProgramDoesOfARestoreIsTickedOffAndTheRestIsLeftToPeople() {
        String id = being("ines")
                .body(begun("tides-2", false))
                .post("/api/restore/of/tides")
                .then()
                .statusCode(200)
                .body("course", nullValue())
                .extract()
                .path("id");
        being("oona")
                .body(course("dock", "ready"))
                .post("/api/restore/begun/" + id + "/course")
                .then()
                .statusCode(403);
        tell(id, course("dock", "ready", "instance", "files"))
                .statusCode(200)
                .body("items.findAll { it.state == 'ready' }.done", everyItem(notNullValue()))
                .body("items.findAll { it.state == 'files' }.done", everyItem(nullValue()))
                .body("course.states[2].done", equalTo(7f))
                .body("course.told", notNullValue());
        tell(id, course("jetty", "ready")).statusCode(400).body("detail", containsString("dock is at it"));
        tell(id, course("dock", "ready", "ready")).statusCode(400);
        tell(id, course("dock", "elsewhere")).statusCode(400);
        Map<String, Object> done = course("dock", "ready", "instance", "files", "logs", "open");
        done.put("opened", DemoFleet.now().toString());
        done.put("reached", DemoFleet.now().toString());
        tell(id, done)
                .body("items.findAll { it.state == 'logs' }.done", everyItem(notNullValue()))
                .body("items.findAll { it.state == 'open' }[0].by", equalTo("Ines Brandt"))
                .body("items.findAll { it.state == 'open' }[1].done", nullValue())
                .body("ended", nullValue());
        given().get("/api/record?words=" + id)
                .then()
                .body("deeds.findAll { it.act == 'restore-carried-out' }.size()", equalTo(2));
        tell(id, course("jetty", "ready")).statusCode(200);
        being("ines")
                .body(Map.of("ok", false, "enrol", false, "positions", List.of(), "message", ""))
                .post("/api/restore/begun/" + id + "/end")
                .then()
                .statusCode(200);
        tell(id, done).statusCode(400).body("detail", containsString("has ended already"));
        tell("restore-none", done).statusCode(404);
    }
}
