package firth.server.evaluation;

import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static org.hamcrest.Matchers.equalTo;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.purge.EmptyFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Test;

/** What runners see on their hosts shows on Watch where it contradicts what was enrolled. */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class AnotherServerTest {

    private static void take(String token, String lines) {
        JsonPath report = program(token)
                .contentType("application/x-ndjson")
                .body(lines.replace('\'', '"').getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=runner on pier")
                .jsonPath();
        assertEquals(List.of(), report.getList("rejected"), report.prettify());
    }

    private static String sighting(String name, String identity) {
        return String.format(
                Locale.ROOT,
                "{'type':'sighting','id':'pier:%s','database':'%s','host':'pier','engine':'PostgreSQL 15','identity':'%s','seen':'%s'}",
                name.replace(' ', '-'),
                name,
                identity,
                Instant.now());
    }

    private static List<String> found() {
        return found("another-server");
    }

    private static List<String> found(String code) {
        return being("oona")
                .get("/api/watch")
                .jsonPath()
                .getList("findings.findAll { it.code == '" + code + "' }.title");
    }

    @Test
    void isFoundByARunnerThatMayTellOfItsHostAlone() {
        String token = being("harald")
                .body("{\"name\":\"runner\",\"roles\":[\"runner\"],\"place\":\"pier\"}")
                .post("/api/people/tokens")
                .jsonPath()
                .getString("secret");
        being("harald")
                .contentType("application/x-ndjson")
                .body(
                        "{\"type\":\"database\",\"id\":\"harbour\",\"host\":\"pier\",\"identity\":\"743311\",\"zone\":\"UTC\",\"inServiceFrom\":\"2026-03-01T00:00:00Z\"}"
                                .getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=hand")
                .then()
                .body("rejectedLines", equalTo(0));
        take(token, sighting("harbour", "743311") + "\n" + sighting("PostgreSQL on port 5433", "9"));
        assertEquals(List.of(), found());
        assertEquals(
                List.of("PostgreSQL on port 5433"),
                being("oona").get("/api/fleet").jsonPath().getList("unenrolled.name"));
        take(token, sighting("harbour", "746600"));
        assertEquals(List.of("the server on pier is another than was enrolled"), found());
        take(token, sighting("harbour", "743311"));
        assertEquals(List.of(), found());
        take(token, sighting("harbour", "743311").replace("}", ",'lineage':'2'}"));
        assertEquals(List.of("the server on pier writes to lineage 2, which nobody stated"), found("another-lineage"));
        take(token, sighting("harbour", "743311").replace("}", ",'lineage':'1'}"));
        assertEquals(List.of(), found("another-lineage"));
        String elsewhere = program(token)
                .contentType("application/x-ndjson")
                .body(sighting("harbour", "1")
                        .replace('\'', '"')
                        .replace("\"host\":\"pier\"", "\"host\":\"quay\"")
                        .getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=runner on pier")
                .asString();
        assertTrue(elsewhere.contains("the only one this token may report on"), elsewhere);
    }
}
