package firth.server.restore;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.equalTo;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.people.Being;
import firth.server.purge.EmptyFleet;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A script is given for copies somebody looked into: that a file is there does not say what a job wrote into it. */
@QuarkusTest
@TestProfile(EmptyFleet.class)
class LookedIntoTest {

    private static final Instant BEGIN = Instant.parse("2027-03-02T00:00:00Z");

    private static void tell(String lines) {
        given().contentType("application/x-ndjson")
                .body(lines.replace('\'', '"').getBytes(StandardCharsets.UTF_8))
                .post("/api/import?source=looked")
                .then()
                .statusCode(200)
                .body("rejected", equalTo(List.of()));
    }

    private static String full(String evidence) {
        return "{'type':'backup','id':'shelf-full','database':'shelf','kind':'full','ended':'" + BEGIN
                + "','selfContained':true,'bytes':7,'from':10,'to':10,'copies':[{'store':'shelf-near','path':'base/monday','checksum':'sha256:1'"
                + evidence + "}]}\n";
    }

    private static boolean hasScript() {
        return given().get("/api/restore/of/shelf")
                .then()
                .statusCode(200)
                .extract()
                .jsonPath()
                .getBoolean("script");
    }

    @Test
    void aListingAloneMakesNoScript() {
        QuarkusMock.installMockForType(Clock.fixed(BEGIN.plusSeconds(3600), ZoneOffset.UTC), Clock.class);
        tell("{'type':'store','id':'shelf-near','role':'near'}\n"
                + "{'type':'database','id':'shelf','engine':'postgresql','inServiceFrom':'" + BEGIN + "'}\n"
                + full(""));
        assertEquals(false, hasScript());
        Being.being("ines")
                .contentType("text/csv")
                .body("path,size,checksum\nbase/monday,7,sha256:1\n".getBytes(StandardCharsets.UTF_8))
                .post("/api/stocktakes/of/shelf-near/listing")
                .then()
                .statusCode(200);
        assertEquals(
                "checked",
                given().get("/api/history/lines/shelf-full").jsonPath().getString("copies[0].evidence.is"));
        assertEquals(false, hasScript(), "it adds up; what it is nobody knows");
        tell(full(",'evidence':{'is':'read','by':'firth observe','at':'" + BEGIN + "'}"));
        assertTrue(hasScript());
    }
}
