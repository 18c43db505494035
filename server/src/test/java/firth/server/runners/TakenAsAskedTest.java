package firth.server.runners;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.equalTo;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.purge.EmptyFleet;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What a policy says of how backups are taken is in the runner's tasks, and what was not taken so stands on Watch. */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class TakenAsAskedTest {

    private static final Instant BEGIN = Instant.parse("2027-04-01T00:00:00Z");
    private static final Instant ENDED = BEGIN.plusSeconds(600);

    private static void at(Instant moment) {
        QuarkusMock.installMockForType(Clock.fixed(moment, ZoneOffset.UTC), Clock.class);
    }

    private static void tell(String lines, Object... values) {
        given().contentType("application/x-ndjson")
                .body(String.format(Locale.ROOT, lines, values)
                        .replace('\'', '"')
                        .getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=taken")
                .then()
                .statusCode(200)
                .body("rejected", equalTo(List.of()));
    }

    private static List<Map<String, Object>> tasks() {
        return given().post("/api/runners/quay-1/work")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath()
                .getList("tasks");
    }

    private static List<String> found() {
        JsonPath watch =
                given().get("/api/watch").then().statusCode(200).extract().jsonPath();
        return watch.getList("findings.findAll { it.databases.any { d -> d.id == 'taken' } }.code");
    }

    @Test
    void rulesAreInTheTasksAndJudgedAfterwards() {
        at(BEGIN);
        tell("""
                {'type':'store','id':'taken-near','role':'near'}
                {'type':'store','id':'taken-far','role':'far'}
                {'type':'policy','id':'taken','version':1,'effectiveFrom':'%1$s','retain':[{'role':'near','reach':'P7D'}],\
                'schedules':[{'id':'logs','kind':'log','every':'PT15M'}],'demands':{'configAfterData':'PT1H'},\
                'rateLimits':[{'bytesPerSecond':1e6,'store':'taken-near'}],'sourceLogs':{'deletedBy':'engine','afterCopies':2}}
                {'type':'database','id':'taken','host':'quay-1','inServiceFrom':'%1$s','policy':'taken'}
                {'type':'run','id':'taken-r','database':'taken','kind':'full','started':'%1$s','ended':'%2$s','outcome':'ok'}
                {'type':'backup','id':'taken-full','database':'taken','kind':'full','run':'taken-r','started':'%1$s','ended':'%2$s','bytes':9e8,'from':0,'to':100,\
                'copies':[{'store':'taken-near'}]}
                {'type':'backup','id':'taken-log','database':'taken','kind':'log','from':100,'to':200,'fromTime':'%2$s','toTime':'%3$s','copies':[{'store':'taken-near'}]}
                """, BEGIN, ENDED, ENDED.plusSeconds(300));
        at(ENDED.plusSeconds(400));
        Map<String, Object> config = tasks().stream()
                .filter(t -> t.get("kind").equals("config"))
                .findFirst()
                .orElseThrow();
        assertEquals("taken:config:after:" + ENDED + ":0", config.get("run"));
        assertEquals("schedule", config.get("trigger"));
        assertFalse(config.containsKey("schedule") && config.get("schedule") != null);
        assertEquals(ENDED.plusSeconds(3600).toString(), config.get("until"));
        assertTrue(found().contains("too-fast"), "1.5 MB a second: " + found());
        assertFalse(found().contains("config-behind"));
        tell(
                "{'type':'probe','id':'quay-1:taken','database':'taken','source':'runner','at':'%s','logsFrom':{'main':100}}",
                ENDED.plusSeconds(400));
        assertFalse(found().contains("source-logs-gone"), "all of them are still there");
        tell(
                "{'type':'probe','id':'quay-1:taken','database':'taken','source':'runner','at':'%s','logsFrom':{'main':150}}",
                ENDED.plusSeconds(410));
        assertTrue(found().contains("source-logs-gone"), found().toString());
        tell(
                "{'type':'backup','id':'taken-log','database':'taken','kind':'log','from':100,'to':200,'fromTime':'%s','toTime':'%s','copies':[{'store':'taken-far'}]}",
                ENDED, ENDED.plusSeconds(300));
        assertFalse(found().contains("source-logs-gone"), "it is in two stores");
        at(ENDED.plusSeconds(3601));
        assertTrue(found().contains("config-behind"), found().toString());
        tell(
                "{'type':'run','id':'%1$s','database':'taken','kind':'config','started':'%2$s','ended':'%2$s','outcome':'ok'}\n"
                        + "{'type':'backup','id':'taken-config','database':'taken','kind':'config','run':'%1$s','started':'%2$s','ended':'%2$s','copies':[{'store':'taken-near'}]}",
                config.get("run"), ENDED.plusSeconds(3590));
        assertFalse(found().contains("config-behind"), found().toString());
        assertTrue(tasks().stream().noneMatch(t -> t.get("kind").equals("config")));
    }
}
