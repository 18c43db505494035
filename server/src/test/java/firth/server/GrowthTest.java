package firth.server;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.greaterThan;
import static org.junit.jupiter.api.Assertions.assertAll;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.response.ValidatableResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;

/** What a page is answered with does not grow with the fleet: four times the databases, hardly more bytes, and never very many. */
@QuarkusTest
@QuarkusTestResource(value = EmptyFleet.class, restrictToAnnotatedClass = true)
class GrowthTest {

    private static final int FEW = 250;
    private static final int MANY = 1_000;
    private static final int MOST_BYTES = 100_000;

    /** Counts get a digit more, lists of names get full. */
    private static final double MORE = 1.3;

    private static final int SOME_BYTES = 2_000;

    private static final Instant END = DemoFleet.NOW.truncatedTo(ChronoUnit.HOURS);
    private static final int HOURS = 30;

    /** Bytes a page may have for each database: those that say the order of the fleet. */
    private static final Map<String, Integer> BY_DATABASE = Map.of("/api/cover", 20);

    /** Asked with a body. */
    private static final String CHOICE = "/api/purge/choice";

    private static final List<String> PAGES = List.of(
            "/api/watch",
            "/api/watch/findings?code=logs-stopped&severity=behind",
            "/api/cover",
            "/api/cover?by=none&order=age&words=d-00",
            "/api/cover/strip",
            "/api/gaps",
            "/api/gaps/outages",
            "/api/needs",
            "/api/fleet",
            "/api/choices",
            "/api/choices/databases?words=d",
            "/api/drills",
            "/api/stores",
            "/api/policies",
            "/api/purge/coming",
            "/api/history",
            "/api/history/facets",
            "/api/record",
            "/api/rehearsals/losable",
            "/api/runners",
            "/api/sources",
            "/api/databases/d-0007",
            "/api/restore/of/d-0007",
            "/api/out/slots.ics");

    @Test
    void aPageShowsHardlyMoreOfALargerFleet() {
        take(rules());
        take(databases(0, FEW));
        Map<String, Integer> few = sizes();
        take(databases(FEW, MANY));
        Map<String, Integer> many = sizes();
        assertEquals(MANY, (int) given().get("/api/cover").path("databases"));
        Stream<Executable> each = few.keySet().stream().map(page -> () -> {
            int more = BY_DATABASE.getOrDefault(page.replaceFirst("\\?.*", ""), 0) * (MANY - FEW);
            String said = page + " has " + few.get(page) + " bytes of " + FEW + " databases, " + many.get(page) + " of "
                    + MANY;
            assertTrue(many.get(page) <= MORE * few.get(page) + SOME_BYTES + more, said);
            assertTrue(many.get(page) <= MOST_BYTES, said);
        });
        assertAll(each);
    }

    private static Map<String, Integer> sizes() {
        Map<String, Integer> out = new TreeMap<>();
        for (String page : PAGES) {
            out.put(page, given().get(page).then().statusCode(200).extract().asByteArray().length);
        }
        ValidatableResponse choice = given().contentType("application/json")
                .body("{\"store\":\"near-0\",\"leftOut\":[]}")
                .post(CHOICE)
                .then()
                .statusCode(200)
                .body("copies", greaterThan(0));
        out.put(CHOICE, choice.extract().asByteArray().length);
        return out;
    }

    private static void take(String lines) {
        given().contentType("application/x-ndjson")
                .body(lines.getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=test")
                .then()
                .statusCode(200)
                .body("rejectedLines", equalTo(0));
    }

    private static String rules() {
        StringBuilder out = new StringBuilder();
        for (String site : List.of("north", "south")) {
            out.append("{\"type\":\"site\",\"id\":\"%s\",\"name\":\"%squay\"}%n".formatted(site, site));
        }
        for (int s = 0; s < 4; s++) {
            out.append("""
                    {"type":"store","id":"near-%s","name":"Quay near %s","site":"north","medium":"disk","role":"near","capacityBytes":9e14}
                    {"type":"store","id":"far-%s","name":"Quay far %s","site":"south","medium":"object","role":"far"}
                    """.formatted(s, s, s, s));
        }
        for (int p = 0; p < 5; p++) {
            out.append("""
                    {"type":"policy","id":"p%s","version":1,"effectiveFrom":"%s","name":"Class %s",\
                    "objective":{"mishap":"PT90M","reach":"P7D","drillEvery":"P30D"},\
                    "schedules":[{"id":"logs","kind":"log","every":"PT1H","grace":"PT10M"},\
                    {"id":"fulls","kind":"full","rrule":"FREQ=DAILY;BYHOUR=%s;BYMINUTE=0","within":"PT4H"}],\
                    "retain":[{"role":"near","reach":"P7D"}]}
                    """.formatted(p, END.minus(Duration.ofDays(9)), p, p));
        }
        return out.toString();
    }

    /** Each with a full and hourly logs; of every second a log is missing, one in twenty has fallen silent. */
    private static String databases(int from, int to) {
        StringBuilder out = new StringBuilder();
        Instant begin = END.minus(Duration.ofHours(HOURS));
        for (int d = from; d < to; d++) {
            String id = String.format(Locale.ROOT, "d-%04d", d);
            out.append("""
                    {"type":"database","id":"%s","name":"%s","engine":"MariaDB 11","site":"north","host":"host-%s","zone":"Europe/Lisbon","policy":"p%s","inServiceFrom":"%s","owner":"owner %s","labels":{"class":"c%s"}}
                    {"type":"backup","id":"%s-full","database":"%s","kind":"full","selfContained":true,"bytes":1000000,"started":"%s","ended":"%s","from":%s,"to":%s,"copies":[{"store":"near-%s"},{"store":"far-%s"}]}
                    """.formatted(
                            id,
                            id,
                            d / 20,
                            d % 5,
                            begin,
                            d % 6,
                            d % 7,
                            id,
                            id,
                            begin,
                            begin,
                            begin.getEpochSecond(),
                            begin.getEpochSecond(),
                            d % 4,
                            d % 4));
            // The second is the way back within reach, so that no rule needs the first.
            for (int days : List.of(9, 8)) {
                out.append(early(id, d, END.minus(Duration.ofDays(days))));
            }
            int last = d % 20 == 3 ? HOURS - 8 : HOURS;
            for (int h = 0; h < last; h++) {
                if (d % 2 == 0 || h != 12) {
                    out.append(log(id, d, begin.plus(Duration.ofHours(h))));
                }
            }
        }
        return out.toString();
    }

    private static String early(String id, int d, Instant at) {
        return """
                {"type":"backup","id":"%s-%s","database":"%s","kind":"full","selfContained":true,"bytes":1000000,"started":"%s","ended":"%s","from":%s,"to":%s,"copies":[{"store":"near-%s"}]}
                """.formatted(id, at, id, at, at, at.getEpochSecond(), at.getEpochSecond(), d % 4);
    }

    private static String log(String id, int d, Instant from) {
        Instant to = from.plus(Duration.ofHours(1));
        return """
                {"type":"backup","id":"%s-%s","database":"%s","kind":"log","bytes":1000,"from":%s,"to":%s,"fromTime":"%s","toTime":"%s","copies":[{"store":"near-%s","landed":"%s"}]}
                """.formatted(
                        id, from.getEpochSecond(), id, from.getEpochSecond(), to.getEpochSecond(), from, to, d % 4, to);
    }
}
