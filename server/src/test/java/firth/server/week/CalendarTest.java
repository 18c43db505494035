package firth.server.week;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import java.time.Instant;
import java.util.List;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** Whose slots a calendar has. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class CalendarTest {

    private static List<String> summaries(String query) {
        return given().get("/api/out/slots.ics" + query)
                .then()
                .statusCode(200)
                .contentType("text/calendar")
                .extract()
                .asString()
                .replace("\r\n ", "")
                .lines()
                .filter(l -> l.startsWith("SUMMARY:"))
                .map(l -> l.substring(8))
                .filter(l -> !l.startsWith("closure"))
                .toList();
    }

    @Test
    void isNarrowedByPolicyHostStoreAndOwner() {
        List<String> all = summaries("");
        assertTrue(all.size() > 3 && all.size() < 60, all.size() + " events for five weeks of the whole fleet");
        for (String query : List.of("?policy=kiosks", "?host=northquay-3", "?store=quay-near")) {
            List<String> some = summaries(query);
            assertTrue(!some.isEmpty() && !some.equals(all), query + " " + some);
        }
        String owner = given().get("/api/fleet").path("rows.find { it.owner != '' && it.policy == 'sailings' }.owner");
        assertTrue(!summaries("?owner=" + owner).isEmpty());
        assertEquals(List.of(), summaries("?owner=nobody"));
        assertEquals(List.of(), summaries("?policy=sailings&owner=nobody"));
    }

    @Test
    void aPolicyThatIsARuleIsAFewEvents() {
        String feed = given().get("/api/out/slots.ics?policy=sailings").asString();
        assertTrue(feed.contains("RRULE:FREQ=") && feed.contains("BEGIN:VTIMEZONE"), feed);
        TreeSet<String> kinds = new TreeSet<>();
        summaries("?policy=sailings").forEach(s -> kinds.add(s.substring(0, s.indexOf(' '))));
        assertTrue(kinds.contains("full"), kinds.toString());
    }

    @Test
    void slotsOfAStretchAreThoseOfTheWeekThatRunInIt() {
        JsonPath week = given().get("/api/week?by=all:").jsonPath();
        String open = week.getString("bars.find { it.state == 'planned' }.open");
        String end = Instant.parse(open).plusSeconds(60).toString();
        JsonPath slots = given().get("/api/week/slots?by=all:&start={a}&end={b}", open, end)
                .jsonPath();
        List<String> planned = week.getList("bars.findAll { it.state == 'planned' && it.open == '" + open + "' }.name");
        assertTrue(slots.getList("rows.name").containsAll(planned), slots.getString("rows.name"));
        assertTrue(slots.<String>getList("rows.state").stream().allMatch("planned"::equals));
        assertEquals(slots.getInt("found"), slots.getList("rows").size());
        given().get("/api/week/slots?start=noon").then().statusCode(400);
    }
}
