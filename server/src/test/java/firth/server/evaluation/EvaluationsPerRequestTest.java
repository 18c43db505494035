package firth.server.evaluation;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A page evaluates what has changed since somebody looked, and no more. */
@QuarkusTest
@QuarkusTestResource(value = DemoFleet.class, restrictToAnnotatedClass = true)
class EvaluationsPerRequestTest {

    /** Time alone may change an answer between two requests; not again and again. */
    private static final int TRIES = 5;

    @Inject
    Evaluations evaluations;

    private long evaluatedBy(String path) {
        long before = evaluations.evaluated();
        given().get(path).then().statusCode(200);
        return evaluations.evaluated() - before;
    }

    /** The fewest evaluations of some tries after one that does not count. */
    private long atRest(String path) {
        evaluatedBy(path);
        long fewest = Long.MAX_VALUE;
        for (int i = 0; i < TRIES && fewest > 0; i++) {
            fewest = Math.min(fewest, evaluatedBy(path));
        }
        return fewest;
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/api/watch",
                "/api/watch/findings?code=behind&severity=behind",
                "/api/cover",
                "/api/cover/strip",
                "/api/gaps",
                "/api/gaps/outages",
                "/api/needs",
                "/api/week",
                "/api/week/soon",
                "/api/stores",
                "/api/stores/quay-near",
                "/api/fleet",
                "/api/choices",
                "/api/choices/databases?words=be",
                "/api/out/slots.ics",
                "/api/policies",
                "/api/policies/sailings",
                "/api/drills",
                "/api/runners",
                "/api/sources",
                "/api/record",
                "/api/history",
                "/api/rehearsals/losable",
                "/api/purge/coming",
                "/api/databases/berths",
                "/api/cover/rows?database=berths&database=tides",
                "/metrics"
            })
    void aPageThatIsAskedForAgainEvaluatesNobody(String path) {
        assertEquals(0, atRest(path));
    }

    @Test
    void afterOneLogOneDatabaseIsEvaluatedForAllPages() {
        List<String> pages = List.of("/api/watch", "/api/cover", "/api/stores", "/api/week", "/api/gaps", "/metrics");
        long fewest = Long.MAX_VALUE;
        for (int n = 0; n < TRIES && fewest > 1; n++) {
            pages.forEach(this::evaluatedBy);
            Instant to = DemoFleet.now().truncatedTo(ChronoUnit.SECONDS).minusSeconds(60);
            long before = evaluations.evaluated();
            given().contentType("application/x-ndjson")
                    .body("""
                            {"type":"backup","id":"berths-one-more-%s","database":"berths","kind":"log","from":%s,"to":%s,"fromTime":"%s","toTime":"%s","copies":[{"store":"quay-near"}]}
                            """.formatted(n, 9_000_000 + n, 9_000_001 + n, to.minusSeconds(60), to)
                            .getBytes(StandardCharsets.UTF_8))
                    .post("/api/import?source=one")
                    .then()
                    .statusCode(200);
            pages.forEach(this::evaluatedBy);
            fewest = Math.min(fewest, evaluations.evaluated() - before);
        }
        assertTrue(fewest <= 1, fewest + " databases are evaluated");
    }
}
