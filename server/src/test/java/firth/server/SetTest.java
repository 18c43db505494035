package firth.server;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasItems;
import static org.hamcrest.Matchers.not;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.http.ContentType;
import io.restassured.path.json.JsonPath;
import io.restassured.response.ValidatableResponse;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Stating what is promised and who follows it, over HTTP and real SQLite. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class SetTest {

    private static JsonPath get(String path) {
        return given().get(path).then().statusCode(200).extract().jsonPath();
    }

    private static ValidatableResponse post(String path, Object body) {
        return given().contentType(ContentType.JSON).body(body).post(path).then();
    }

    private static ValidatableResponse take(String lines) {
        return given().contentType("application/x-ndjson")
                .body(lines.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                .post("/api/import?source=test")
                .then()
                .statusCode(200);
    }

    /** The rules of a policy in force, to be changed. */
    private static Map<String, Object> rules(String policy) {
        return new HashMap<>(
                get("/api/policies/" + policy).getMap("versions.find { it.state == 'in-force' }.document"));
    }

    private static Map<String, Object> promising(String mishap) {
        Map<String, Object> out = rules("sailings");
        out.put("objective", Map.of("mishap", mishap, "reach", "P18D"));
        return out;
    }

    @Test
    void thePolicyListSaysWhoFollowsAndWhatContradictsItself() {
        JsonPath list = get("/api/policies");
        assertEquals(6, list.getInt("find { it.id == 'sailings' }.followers"));
        assertEquals("lock-too-long", list.getString("find { it.id == 'sailings' }.flaws[0].code"));
        assertEquals("objective.siteLoss", list.getString("find { it.id == 'shore-office' }.flaws[0].path"));
        assertEquals("window-shorter-than-grace", list.getString("find { it.id == 'kiosks' }.flaws[0].code"));
        assertTrue(list.getDouble("find { it.id == 'sailings' }.attainment") > 0.9);
    }

    private static JsonPath asked(String what, Map<String, Object> rules) {
        return post("/api/policies/sailings/" + what, rules)
                .statusCode(200)
                .extract()
                .jsonPath();
    }

    @Test
    void theRulesInForceAsWrittenChangeNothing() {
        JsonPath replay = asked("replay", rules("sailings"));
        assertEquals(replay.getMap("before"), replay.getMap("after"));
        assertEquals(6, replay.getInt("followers"));
        double list = get("/api/policies").getDouble("find { it.id == 'sailings' }.attainment");
        assertEquals(list, replay.getDouble("was.attainment"), 1e-9, "what was is what the list says");
        JsonPath ahead = asked("ahead", rules("sailings"));
        assertEquals(ahead.getMap("foreseen.before"), ahead.getMap("foreseen.after"));
        assertEquals(List.of(), ahead.getList("foreseen.worse"));
        assertEquals(List.of(), ahead.getList("foreseen.lost"));
    }

    @Test
    void aMovedTimeMakesNobodyWorse() {
        Map<String, Object> moved = rules("sailings");
        List<Map<String, Object>> schedules = new ArrayList<>();
        for (Object each : (List<?>) moved.get("schedules")) {
            Map<String, Object> schedule = new HashMap<>();
            ((Map<?, ?>) each).forEach((k, v) -> schedule.put(String.valueOf(k), v));
            schedule.computeIfPresent("cron", (k, v) -> String.valueOf(v).replace("40 22", "10 21"));
            schedules.add(schedule);
        }
        moved.put("schedules", schedules);
        JsonPath foreseen = asked("ahead", moved);
        assertEquals(List.of(), foreseen.getList("foreseen.worse"));
        assertEquals(List.of(), foreseen.getList("foreseen.lost"));
        assertEquals(foreseen.getInt("foreseen.before.slotsKept"), foreseen.getInt("foreseen.after.slotsKept"));
    }

    @Test
    void aShorterPromiseIsKeptLessAndContradictsTheLogs() {
        JsonPath foreseen = asked("ahead", promising("PT5M"));
        assertTrue(foreseen.getDouble("foreseen.after.attainment") < foreseen.getDouble("foreseen.before.attainment"));
        assertEquals(
                foreseen.getDouble("foreseen.after.worst[0].seconds"),
                foreseen.getDouble("foreseen.before.worst[0].seconds"));
        assertTrue(foreseen.getList("foreseen.worse.name").containsAll(List.of("bookings", "fares", "tides")));
        JsonPath replay = asked("replay", promising("PT5M"));
        assertTrue(replay.getList("flaws.code").contains("objective-too-short"));
        assertEquals("PT15M", replay.getString("flaws.find { it.code == 'objective-too-short' }.waysOut[0].to"));
    }

    @Test
    void aLongerReachThanIsRetainedIsForeseenAsNotKept() {
        Map<String, Object> more = rules("sailings");
        more.put("objective", Map.of("mishap", "PT15M", "reach", "P100D"));
        JsonPath foreseen = asked("ahead", more);
        assertTrue(foreseen.getInt("foreseen.after.reachHeld") < foreseen.getInt("foreseen.before.reachHeld"));
        assertTrue(foreseen.getList("foreseen.worse.in.flatten()").contains("reach"));
    }

    @Test
    void retentionBelowThePromiseLosesByNameWhatIsPromised() {
        Map<String, Object> less = rules("shore-office");
        less.put("retain", List.of(Map.of("role", "near", "reach", "P4D"), Map.of("role", "far", "fulls", 1)));
        JsonPath foreseen =
                post("/api/policies/shore-office/ahead", less).extract().jsonPath();
        List<String> lost = foreseen.getList("foreseen.lost.name");
        assertTrue(lost.size() > 1, "none is named: " + lost);
        for (String name : lost) {
            String of = "foreseen.lost.find { it.name == '" + name + "' }.";
            assertTrue(foreseen.getDouble(of + "promisedSeconds") > 3 * 86_400, name);
            assertTrue(foreseen.getDouble(of + "seconds") >= foreseen.getDouble(of + "promisedSeconds"), name);
            assertTrue(
                    foreseen.getList("foreseen.worse.find { it.name == '" + name + "' }.in")
                            .contains("reach"),
                    name);
        }
        assertTrue(foreseen.getInt("foreseen.after.reachHeld") < foreseen.getInt("foreseen.before.reachHeld"));
        Map<String, Object> locked = rules("sailings");
        locked.put("retain", List.of(Map.of("role", "near", "reach", "P4D")));
        assertEquals(
                List.of(), asked("ahead", locked).getList("foreseen.lost"), "what is locked far away stays anyway");
    }

    @Test
    void aBadValueIsSaidWhereItStands() {
        JsonPath replay = post("/api/policies/sailings/replay", promising("P1.5M"))
                .statusCode(200)
                .extract()
                .jsonPath();
        assertEquals("objective.mishap", replay.getString("bad.path"));
        assertEquals(
                "objective.mishap",
                post("/api/policies/sailings/ahead", promising("P1.5M"))
                        .extract()
                        .jsonPath()
                        .getString("bad.path"));
    }

    @Test
    void lessReachTakesLessRoom() {
        Map<String, Object> less = rules("sailings");
        less.put("retain", List.of(Map.of("role", "near", "fulls", 1, "logs", false)));
        JsonPath ahead = post("/api/policies/sailings/ahead", less)
                .statusCode(200)
                .extract()
                .jsonPath();
        double before = ahead.getDouble("stores.find { it.store == 'quay-near' }.before[60]");
        double after = ahead.getDouble("stores.find { it.store == 'quay-near' }.after[60]");
        assertTrue(after < before, after + " of " + before);
        assertEquals(61, ahead.getList("stores[0].after").size());
        assertTrue(ahead.getDouble("restoreAfter.seconds") > 60);
    }

    @Test
    void aDraftIsKeptAndInForceNowhereUntilItIsPutThere() {
        Map<String, Object> night = rules("kiosks");
        night.put("name", "Night boats");
        night.put(
                "schedules",
                List.of(Map.of(
                        "id", "nightly", "kind", "full", "cron", "30 2 * * *", "within", "PT3H", "grace", "PT1H")));
        given().contentType(ContentType.JSON)
                .body(night)
                .put("/api/policies/night-boats/draft")
                .then()
                .statusCode(204);
        assertEquals("Night boats", get("/api/policies").getString("find { it.id == 'night-boats' }.name"));
        JsonPath draft = get("/api/policies/night-boats");
        assertEquals(0, draft.getList("versions").size());
        assertEquals("Night boats", draft.getString("draft.document.name"));

        Map<String, Object> order = new HashMap<>(Map.of("at", "now", "why", "", "document", night));
        post("/api/policies/night-boats/versions", order).statusCode(400).body("detail", containsString("why"));
        order.put("why", "a boat sails at night");
        post("/api/policies/night-boats/versions", order)
                .statusCode(200)
                .body("version", equalTo(1))
                .body("state", equalTo("in-force"))
                .body("document.putInForce.by", equalTo("Ines Brandt"));
        JsonPath now = get("/api/policies/night-boats");
        assertEquals("in-force", now.getString("versions[0].state"));
        assertEquals(null, now.getString("draft"));

        night.put("objective", Map.of("mishap", "PT2H"));
        order.put("document", night);
        post("/api/policies/night-boats/versions", order).statusCode(400).body("detail", containsString("despite"));
        order.put("despite", "logs come next month");
        order.put("at", "2020-01-01T00:00:00Z");
        post("/api/policies/night-boats/versions", order).statusCode(400).body("detail", containsString("at"));
        order.put("at", "2099-01-01T00:00:00Z");
        post("/api/policies/night-boats/versions", order)
                .statusCode(200)
                .body("version", equalTo(2))
                .body("state", equalTo("coming"));
        assertEquals(List.of(2, 1), get("/api/policies/night-boats").getList("versions.version"));
        assertEquals("in-force", get("/api/policies/night-boats").getString("versions[1].state"));
    }

    private static List<String> states(String policy) {
        return get("/api/policies/" + policy).getList("versions.collect { it.version + ' ' + it.state }");
    }

    @Test
    void whatIsPlannedStandsOrIsWithdrawnAndNothingTurnsBackByItself() {
        Map<String, Object> day = rules("kiosks");
        Map<String, Object> order =
                new HashMap<>(Map.of("at", "now", "why", "a day", "despite", "as kiosks", "document", day));
        String path = "/api/policies/day-boats/versions";
        post(path, order).statusCode(200);
        order.put("at", "2099-01-01T00:00:00Z");
        post(path, order).statusCode(200).body("state", equalTo("coming"));
        order.put("at", "now");
        post(path, order)
                .statusCode(409)
                .body("detail", equalTo("Version 2 is still to come, from 2099-01-01T00:00:00Z."));
        assertEquals(List.of("2 coming", "1 in-force"), states("day-boats"), "nothing was put in force");
        order.put("planned", "stands");
        post(path, order).statusCode(200).body("version", equalTo(3));
        assertEquals(List.of("2 coming", "3 in-force", "1 earlier"), states("day-boats"));

        post(path + "/2/withdrawn", Map.of("why", " ")).statusCode(400);
        post(path + "/2/withdrawn", Map.of("why", "no longer")).statusCode(200);
        assertEquals(List.of("2 withdrawn", "3 in-force", "1 earlier"), states("day-boats"));
        post(path + "/2/withdrawn", Map.of("why", "again"))
                .statusCode(409)
                .body("detail", equalTo("Version 2 was withdrawn already."));
        post(path + "/3/withdrawn", Map.of("why", "it holds")).statusCode(409);
        post(path + "/9/withdrawn", Map.of("why", "there is none")).statusCode(404);

        order.remove("planned");
        order.put("at", "2098-01-01T00:00:00Z");
        post(path, order).statusCode(200).body("version", equalTo(4));
        order.put("at", "now");
        order.put("planned", "withdrawn");
        post(path, order).statusCode(200).body("version", equalTo(5));
        JsonPath now = get("/api/policies/day-boats");
        assertEquals("withdrawn", now.getString("versions.find { it.version == 4 }.state"));
        assertEquals(
                "version 5 stands in its place",
                now.getString("versions.find { it.version == 4 }.document.withdrawn.why"));
    }

    private static JsonPath recurs(String rule, String anchor) {
        return given().queryParam("rule", rule)
                .queryParam("zones", "UTC")
                .queryParam("anchor", anchor)
                .get("/api/recurrence")
                .jsonPath();
    }

    @Test
    void everySecondWeekIsTheSameInTheListTheSlotsAndTheNextVersion() {
        String rule = "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2;BYMINUTE=0";
        List<String> one = recurs(rule, "2026-01-05").getList("zones[0].next");
        List<String> other = recurs(rule, "2026-01-12").getList("zones[0].next");
        assertEquals(10, one.size());
        assertTrue(one.stream().noneMatch(other::contains), one + " and " + other);
        given().queryParam("rule", rule)
                .queryParam("anchor", "soon")
                .get("/api/recurrence")
                .then()
                .statusCode(400)
                .body("detail", containsString("anchor"));

        Map<String, Object> tide = rules("kiosks");
        tide.put("schedules", List.of(Map.of("id", "tides", "kind", "full", "rrule", rule, "within", "PT3H")));
        Map<String, Object> order =
                new HashMap<>(Map.of("at", "now", "why", "tides", "despite", "as kiosks", "document", tide));
        post("/api/policies/tide-boats/versions", order).statusCode(200);
        String anchor = get("/api/policies/tide-boats").getString("versions[0].document.schedules[0].anchor");
        assertEquals(DemoFleet.NOW.toString().substring(0, 10), anchor);
        tide.put("name", "Tide boats");
        order.put("at", "2099-06-01T00:00:00Z");
        post("/api/policies/tide-boats/versions", order).statusCode(200);
        assertEquals(
                anchor,
                get("/api/policies/tide-boats").getString("versions[0].document.schedules[0].anchor"),
                "another name moves no week");
    }

    @Test
    void recurrencesAreReadBackWithTheClocksChange() {
        JsonPath found = given().queryParam("rule", "FREQ=DAILY;BYHOUR=1;BYMINUTE=30")
                .queryParam("zones", "Europe/Lisbon,UTC")
                .get("/api/recurrence")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath();
        assertEquals(10, found.getList("zones[0].next").size());
        assertEquals(null, found.getString("zones[1].clockChange"));
        assertEquals(
                List.of(
                        "2027-03-26T01:30:00Z",
                        "2027-03-27T01:30:00Z",
                        "2027-03-28T01:30:00Z",
                        "2027-03-29T00:30:00Z",
                        "2027-03-30T00:30:00Z"),
                found.getList("zones[0].aroundChange"));
        given().queryParam("rule", "40 23 * *")
                .get("/api/recurrence")
                .then()
                .statusCode(200)
                .body("problem", containsString("five-field cron line"));
        given().queryParam("rule", "1 2 * * *")
                .queryParam("zones", "Atlantis/Deep")
                .get("/api/recurrence")
                .then()
                .statusCode(400);
    }

    @Test
    void theFleetNamesWhoNeedsSomebody() {
        JsonPath fleet = get("/api/fleet");
        assertEquals(List.of("clone"), fleet.getList("rows.find { it.id == 'fares' }.attention"));
        assertEquals("southquay-2", fleet.getString("rows.find { it.id == 'fares' }.namesake.host"));
        assertEquals(List.of("two-rules"), fleet.getList("rows.find { it.id == 'tides' }.attention"));
        assertTrue(fleet.getList("unenrolled.name").contains("pilots"));
        assertEquals(List.of(), fleet.getList("rows.find { it.id == 'bookings' }.attention"));
        given().get("/api/fleet/atlantis").then().statusCode(404);
        assertEquals("northquay", get("/api/fleet/fares").getString("document.site"));
    }

    @Test
    void readinessIsWhatWasProbedWithinADay() {
        JsonPath unprobed = get("/api/fleet/crew-rota/readiness");
        assertEquals("unknown", unprobed.getString("state"));
        assertEquals("ready", unprobed.getString("checks.find { it.item == 'backup' }.state"));
        String probe = """
                {"type":"probe","id":"h:crew-rota","database":"crew-rota","source":"runner on northquay-3","at":"%s","scheduler":false}
                """;
        take(probe.formatted(DemoFleet.now().minusSeconds(60))).body("added", equalTo(1));
        JsonPath probed = get("/api/fleet/crew-rota/readiness");
        assertEquals("not-ready", probed.getString("state"));
        assertEquals("runner on northquay-3", probed.getString("checks.find { it.item == 'scheduler' }.source"));
        assertEquals("not-ready", get("/api/fleet").getString("rows.find { it.id == 'crew-rota' }.readiness.state"));
        assertEquals(
                List.of("The scheduler is switched off: nothing starts, and nothing complains."),
                get("/api/policies/shore-office").getList("followers.find { it.id == 'crew-rota' }.lacks"));
        given().get("/api/fleet/atlantis/readiness").then().statusCode(404);
    }

    @Test
    void aStandbyIsNoDatabaseOfItsOwn() {
        JsonPath fleet = get("/api/fleet");
        assertEquals("tides", fleet.getString("rows.find { it.id == 'tides-south' }.standbyOf"));
        assertEquals(List.of(), fleet.getList("rows.find { it.id == 'tides-south' }.attention"));
        given().get("/api/cover").then().body("groups.databases.flatten()", not(hasItem("tides-south")));
        given().get("/api/databases/tides-south")
                .then()
                .statusCode(404)
                .body("detail", containsString("its backups count there"));
        given().get("/api/databases/tides/backups?kinds=full&limit=200")
                .then()
                .body("items.id", hasItem("tides-south-full"));
    }

    @Test
    void aStandingRuleCatchesANewDatabaseAndLeavesTheOthers() {
        take("""
                {"type":"database","id":"kiosk-west","zone":"UTC","inServiceFrom":"2026-11-01T00:00:00Z"}
                {"type":"sighting","id":"h:Bookings","database":"Bookings","seen":"2026-11-19T00:00:00Z"}
                {"type":"backup","id":"stray-1","database":"nobody-knows","kind":"full","ended":"2026-11-19T00:00:00Z"}
                """).body("assigned", equalTo(1));
        JsonPath fleet = get("/api/fleet");
        assertEquals("kiosks", fleet.getString("rows.find { it.id == 'kiosk-west' }.policy"));
        assertEquals(null, fleet.getString("rows.find { it.id == 'moorings' }.policy"), "under no rule");
        assertTrue(fleet.getBoolean("unenrolled.find { it.name == 'nobody-knows' }.fromRecords"));
        assertEquals("bookings", fleet.getString("unenrolled.find { it.name == 'Bookings' }.near"));
        take("""
                {"type":"database","id":"kiosk-west","zone":"UTC","inServiceFrom":"2026-11-01T00:00:00Z","owner":"Sales"}
                """).body("assigned", equalTo(0));
        assertEquals("kiosks", get("/api/fleet").getString("rows.find { it.id == 'kiosk-west' }.policy"));

        take("""
                {"type":"assignment","id":"t1","database":"kiosk-west","from":"2026-11-02T00:00:00Z","by":"Maren"}
                {"type":"database","id":"kiosk-west","zone":"UTC","inServiceFrom":"2026-11-01T00:00:00Z","retired":"2026-11-03T00:00:00Z"}
                """);
        given().get("/api/cover").then().body("groups.databases.flatten()", not(hasItem("kiosk-west")));
        given().queryParam("asOf", "2026-11-02T12:00:00Z")
                .get("/api/cover")
                .then()
                .body("groups.databases.flatten()", hasItem("kiosk-west"));
    }

    @Test
    void aPreviewSaysWhoWouldFallWhere() {
        List<Map<String, Object>> rules = List.of(
                Map.of(
                        "id",
                        "a",
                        "order",
                        1,
                        "labels",
                        Map.of("class", "sailings"),
                        "policy",
                        "kiosks",
                        "enabled",
                        true),
                Map.of("id", "b", "order", 2, "name", "*", "policy", "sailings", "enabled", true));
        JsonPath falls =
                post("/api/fleet/falls", rules).statusCode(200).extract().jsonPath();
        String divided = "groups.find { it.divided }";
        assertTrue(falls.getList(divided + ".some.database").contains("bookings"));
        assertEquals(List.of("a", "b"), falls.getList(divided + ".some.find { it.database == 'bookings' }.rules"));
        String whole = "groups.find { it.wouldFollow == 'sailings' }";
        assertTrue(falls.getList(whole + ".some.database").contains("cargo"));
        assertEquals(falls.getInt(divided + ".databases"), falls.getInt("first.a"));
        assertEquals(falls.getInt(whole + ".databases"), falls.getInt("first.b"));
        assertEquals(
                falls.getInt(whole + ".databases"),
                falls.getList(whole + ".some").size(),
                "few enough to be named");
    }

    @Test
    void theWeekShowsItsNightsAndWhatCollides() {
        JsonPath week = get("/api/week?from=2026-11-23&by=store:quay-near");
        assertEquals("Europe/Lisbon", week.getString("zone"));
        assertEquals("2026-11-23T12:00:00Z", week.getString("from"));
        assertEquals("full", week.getString("bars.find { it.database == 'bookings' && it.schedule == 'weekly' }.kind"));
        assertEquals(8, week.getInt("bars.find { it.database == 'bookings' && it.schedule == 'weekly' }.runs"));
        assertEquals("port works", week.getString("closures[0].what"));
        assertTrue(week.getList("collisions[0].databases").containsAll(List.of("bookings", "cargo")));
        assertTrue(
                week.getDouble("collisions[0].bytesPerSecond") > week.getDouble("collisions[0].shownBytesPerSecond"));
        assertTrue(get("/api/week?by=policy:kiosks").getList("bars.policy").stream()
                .allMatch("kiosks"::equals));
        given().get("/api/week?by=moon:1").then().statusCode(400);
        given().get("/api/week?from=tomorrow").then().statusCode(400);
        JsonPath soon = get("/api/week/soon");
        assertEquals("cargo", soon.getString("misses[0].database"));
    }

    @Test
    void rulesGoOutAndInAgain() {
        String out = given().get("/api/out/rules.ndjson")
                .then()
                .statusCode(200)
                .extract()
                .asString();
        assertTrue(out.contains("\"id\":\"northquay\"") && out.contains("\"type\":\"standing\""));
        take(out).body("added", equalTo(0)).body("updated", equalTo(0)).body("rejectedLines", equalTo(0));
        given().get("/api/out/crontab?host=northquay-3")
                .then()
                .statusCode(200)
                .body(containsString("40 22 * * 6 $FIRTH_START full bookings"));
        given().get("/api/out/timers").then().body(containsString("OnCalendar=Sat *-*-* 22:40:00 Europe/Lisbon"));
        String feed = given().get("/api/out/slots.ics?policy=kiosks")
                .then()
                .statusCode(200)
                .extract()
                .asString();
        assertTrue(feed.startsWith("BEGIN:VCALENDAR") && feed.contains("kiosk-north"), feed);
        given().get("/api/policies").then().body("id", hasItems("kiosks", "sailings", "shore-office"));
    }
}
