package firth.server.runners;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.equalTo;
import static org.junit.jupiter.api.Assertions.assertEquals;

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
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** A round of an archive takes many segments away: one run, many backups. */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class ManyOfOneTaskTest {

    private static final Instant BEGIN = Instant.parse("2027-03-01T00:00:00Z");

    private static void at(Instant moment) {
        QuarkusMock.installMockForType(Clock.fixed(moment, ZoneOffset.UTC), Clock.class);
    }

    private static void tell(String lines) {
        given().contentType("application/x-ndjson")
                .body(lines.replace('\'', '"').getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=round")
                .then()
                .statusCode(200)
                .body("rejected", equalTo(List.of()));
    }

    private static String log(int n, String run) {
        return ("{'type':'backup','id':'round-%s','run':'%s','database':'rounds','kind':'log','started':'%s','ended':'%s','from':%s,'to':%s,"
                        + "'fromTime':'%s','toTime':'%s','copies':[{'store':'rounds-near'}]}\n")
                .formatted(
                        n,
                        run,
                        BEGIN.plusSeconds(3600),
                        BEGIN.plusSeconds(3610),
                        10 + n,
                        11 + n,
                        BEGIN.plusSeconds(100L * n),
                        BEGIN.plusSeconds(100L * n + 100));
    }

    private static JsonPath get(String path) {
        return given().get(path).then().statusCode(200).extract().jsonPath();
    }

    @Test
    void oneTaskIsAnsweredByManyBackups() {
        at(BEGIN.plusSeconds(3600));
        tell("{'type':'store','id':'rounds-near','role':'near'}\n"
                + "{'type':'policy','id':'rounds','version':1,'effectiveFrom':'%1$s','schedules':[{'id':'logs','kind':'log','every':'PT15M'}]}\n"
                        .formatted(BEGIN)
                + "{'type':'database','id':'rounds','host':'rounds-1','inServiceFrom':'%1$s','policy':'rounds'}\n"
                        .formatted(BEGIN)
                + "{'type':'backup','id':'rounds-full','database':'rounds','kind':'full','ended':'%1$s','selfContained':true,'from':10,'to':10,'copies':[{'store':'rounds-near'}]}\n"
                        .formatted(BEGIN));
        String run =
                given().post("/api/runners/rounds-1/work").jsonPath().getString("tasks.find { it.kind == 'log' }.run");
        at(BEGIN.plusSeconds(3620));
        tell("{'type':'run','id':'%s','database':'rounds','kind':'log','started':'%s','ended':'%s','outcome':'ok'}\n"
                        .formatted(run, BEGIN.plusSeconds(3600), BEGIN.plusSeconds(3610))
                + String.join(
                        "", IntStream.range(0, 32).mapToObj(n -> log(n, run)).toList()));
        JsonPath line = get("/api/history/lines/" + run);
        assertEquals("round-0", line.getString("line.backup"));
        assertEquals(IntStream.range(1, 32).mapToObj(n -> "round-" + n).toList(), line.getList("made.backup"));
        JsonPath work = given().post("/api/runners/rounds-1/work").jsonPath();
        assertEquals(List.of(), work.getList("tasks"), "it is answered");
        JsonPath cover = get("/api/databases/rounds");
        assertEquals(420.0, cover.getDouble("row.hazards[0].ageSeconds"), 1e-9, "all of them count");
    }
}
