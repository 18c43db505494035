package firth.server.purge;

import static firth.server.people.Being.agentAt;
import static firth.server.people.Being.being;
import static firth.server.people.Being.program;
import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** A month of nights by which what is obsolete goes by itself. */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class StandingNightsTest {

    private static final int A_NIGHT = 3;
    private static final Instant FIRST = Instant.parse("2026-03-01T00:00:00Z");

    @Inject
    StandingNights nights;

    private Instant now = FIRST;
    private final StringBuilder told = new StringBuilder();
    private final Set<String> gone = new HashSet<>();

    private void at(Instant moment) {
        now = moment;
        QuarkusMock.installMockForType(Clock.fixed(moment, ZoneOffset.UTC), Clock.class);
    }

    private void take(String lines) {
        String text = lines.replace('\'', '"');
        told.append(text).append('\n');
        JsonPath report = being("harald")
                .contentType("application/x-ndjson")
                .body(text.getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=test")
                .jsonPath();
        assertEquals(List.of(), report.getList("rejected"), text);
    }

    private void fleet() {
        take(String.format(Locale.ROOT, """
                {'type':'site','id':'north','name':'N'}
                {'type':'store','id':'near','site':'north','role':'near'}
                {'type':'policy','id':'boats','version':1,'effectiveFrom':'%1$s','objective':{'mishap':'P2D','reach':'P3D'},'retain':[{'role':'near','reach':'P3D'}]}
                {'type':'database','id':'bookings','site':'north','zone':'UTC','policy':'boats','inServiceFrom':'%1$s'}\
                """, FIRST));
    }

    /** A full at one in the morning of a day, and the logs of the day before in four parts. */
    private void day(int day) {
        Instant midnight = FIRST.plus(Duration.ofDays(day));
        at(midnight.plus(Duration.ofHours(2)));
        StringBuilder lines =
                new StringBuilder(String.format(Locale.ROOT, """
                {'type':'backup','id':'full-%1$d','database':'bookings','kind':'full','selfContained':true,'from':%2$d,'to':%2$d,'ended':'%3$s','copies':[{'store':'near','landed':'%3$s','path':'full-%1$d','bytes':10}]}
                """, day, 100 * day, midnight.plus(Duration.ofHours(1))));
        for (int part = 0; part < 4 && day > 0; part++) {
            Instant from = midnight.minus(Duration.ofHours(24 - 6L * part));
            lines.append(String.format(
                    Locale.ROOT,
                    """
                    {'type':'backup','id':'log-%1$d-%2$d','database':'bookings','kind':'log','from':%3$d,'to':%4$d,'fromTime':'%5$s','toTime':'%6$s','copies':[{'store':'near','landed':'%7$s','path':'log-%1$d-%2$d','bytes':1}]}
                    """,
                    day,
                    part,
                    100 * (day - 1) + 25 * part,
                    100 * (day - 1) + 25 * part + 25,
                    from,
                    from.plus(Duration.ofHours(6)),
                    now));
        }
        take(lines.toString().strip());
    }

    private static Map<String, Object> terms(String obsoleteFor) {
        Map<String, Object> out = new HashMap<>();
        out.put("policy", "boats");
        out.put("obsoleteFor", obsoleteFor);
        out.put("copies", A_NIGHT);
        out.put("bytes", 1e12);
        out.put("from", "22:00");
        out.put("to", "04:00");
        out.put("zone", "UTC");
        out.put("pausedBy", "broken");
        return out;
    }

    private static JsonPath row() {
        return being("tomas").get("/api/standing-purges").jsonPath();
    }

    private long proposed(String obsoleteFor) {
        Response made = being("ines")
                .body(Map.of("terms", terms(obsoleteFor), "reason", "the store fills up"))
                .post("/api/standing-purges");
        assertEquals(200, made.statusCode(), made.asString());
        return made.jsonPath().getLong("num");
    }

    private static int agree(String person, long num) {
        return being(person)
                .body(Map.of("hash", row().getString("[0].proposed.hash")))
                .post("/api/standing-purges/" + num + "/agree")
                .statusCode();
    }

    /** What the agent deletes at a moment. */
    private List<String> deleted(String agent, Instant moment) {
        at(moment);
        nights.round();
        List<String> out = new ArrayList<>();
        List<Map<String, Object>> batches =
                program(agent).post("/api/agents/near/work").jsonPath().getList("batches");
        for (Map<String, Object> batch : batches) {
            @SuppressWarnings("unchecked")
            List<Map<String, Object>> items = (List<Map<String, Object>>) batch.get("items");
            List<Map<String, Object>> outcomes = new ArrayList<>();
            for (Map<String, Object> i : items) {
                out.add((String) i.get("backup"));
                outcomes.add(Map.of("item", i.get("item"), "outcome", "deleted", "freed", 1));
            }
            program(agent)
                    .body(Map.of("purge", batch.get("purge"), "hash", batch.get("hash"), "items", outcomes))
                    .post("/api/agents/near/told")
                    .then()
                    .statusCode(200);
        }
        out.forEach(b -> assertTrue(gone.add(b), b + " was deleted twice"));
        return out;
    }

    private Evaluation evaluation(byte[] lines) throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        FleetFileReader.read(new ByteArrayInputStream(lines), "lines", catalog);
        return Evaluation.of(catalog.databases().get(0), catalog.fleet(), now, new Span(now, now));
    }

    /** Within the promised reach what can be restored is what could be if nothing had ever been deleted. */
    private void reachIsWhole() throws IOException {
        List<Piece> all = evaluation(told.toString().getBytes(StandardCharsets.UTF_8))
                .mishap()
                .restorable();
        List<Piece> left =
                evaluation(given().get("/api/export").asByteArray()).mishap().restorable();
        Instant since = now.minus(Duration.ofDays(3));
        assertEquals(within(all, since), within(left, since));
    }

    private static List<Piece> within(List<Piece> pieces, Instant since) {
        return pieces.stream()
                .filter(p -> !p.to().isBefore(since))
                .map(p -> new Piece(p.lineage(), p.from().isBefore(since) ? since : p.from(), p.to()))
                .toList();
    }

    @Test
    void aMonthOfNightsTakesWhatIsObsoleteForLongEnoughAndNothingElse() throws IOException {
        at(FIRST);
        fleet();
        String agent = agentAt("near");
        for (int day = 0; day < 14; day++) {
            day(day);
        }
        JsonPath trial = being("ines")
                .body(terms("P2D"))
                .post("/api/standing-purges/trial")
                .jsonPath();
        assertEquals(30, trial.getList("nights").size());
        assertTrue(trial.getInt("copies") > 10, trial.prettify());
        assertEquals(List.of(), trial.getList("flaws"));
        assertTrue(trial.<Integer>getList("nights.copies").stream().allMatch(n -> n <= A_NIGHT));

        Instant evening = FIRST.plus(Duration.ofHours(22 + 24 * 13L));
        assertEquals(List.of(), deleted(agent, evening.plusSeconds(60)));
        long num = proposed("P2D");
        assertEquals(403, agree("ines", num));
        assertEquals(List.of(), deleted(agent, evening.plusSeconds(120)));
        assertEquals(
                409,
                being("tomas")
                        .body(Map.of("hash", "other"))
                        .post("/api/standing-purges/" + num + "/agree")
                        .statusCode());
        assertEquals(204, agree("tomas", num));

        for (int day = 14; day < 34; day++) {
            day(day);
            assertEquals(List.of(), deleted(agent, now.plus(Duration.ofHours(19))), "before the night of day " + day);
            List<String> went = deleted(agent, now.plus(Duration.ofHours(2)));
            assertEquals(A_NIGHT, went.size(), "in the night of day " + day);
            reachIsWhole();
            assertEquals(List.of(), deleted(agent, now.plus(Duration.ofMinutes(5))), "a second list of a night");
        }
        for (String backup : gone) {
            int day = Integer.parseInt(backup.split("-")[1]);
            assertTrue(day < 34 - 5, backup + " was obsolete for less than two days");
        }
        assertEquals("done", row().getString("[0].nights[0].state"));
        holdsWhatPausesIt(agent);
    }

    /** A promise that is broken lets nothing go, and a list begun goes on when it is kept again; one withdrawn never does. */
    private void holdsWhatPausesIt(String agent) throws IOException {
        Instant late = FIRST.plus(Duration.ofHours(23 + 24 * 36L));
        assertEquals(List.of(), deleted(agent, late));
        assertTrue(row().getString("[0].nights[0].said").startsWith("paused by a finding: "), row().prettify());
        day(37);
        at(FIRST.plus(Duration.ofHours(22 + 24 * 37L)).plusSeconds(5));
        nights.round();
        String list = row().getString("[0].nights[0].purge");
        assertEquals("running", given().get("/api/purge/" + list).jsonPath().getString("state"));
        long num = row().getLong("[0].inForce.num");
        assertEquals(
                204,
                being("ines").post("/api/standing-purges/" + num + "/withdraw").statusCode());
        assertEquals(
                List.of(),
                program(agent).post("/api/agents/near/work").jsonPath().getList("batches"),
                "nothing is handed out of a rule that was withdrawn");
        nights.round();
        assertEquals("cancelled", given().get("/api/purge/" + list).jsonPath().getString("state"));
        reachIsWhole();
    }

    @Test
    void termsThatCannotBeAreNamed() {
        at(FIRST);
        fleet();
        Map<String, Object> other = terms("P2D");
        for (Map.Entry<String, Object> wrong : Map.<String, Object>of(
                        "policy", "nobody",
                        "obsoleteFor", "soon",
                        "copies", 0,
                        "bytes", -1,
                        "from", "25:00",
                        "to", "",
                        "zone", "Nowhere/There",
                        "pausedBy", "never")
                .entrySet()) {
            Map<String, Object> terms = new HashMap<>(other);
            terms.put(wrong.getKey(), wrong.getValue());
            Response refused = being("ines")
                    .body(Map.of("terms", terms, "reason", "why not"))
                    .post("/api/standing-purges");
            assertEquals(400, refused.statusCode(), wrong.toString());
            assertTrue(refused.asString().contains(wrong.getKey()), refused.asString());
        }
    }
}
