package firth.server.people;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.not;
import static org.hamcrest.Matchers.nullValue;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.platform.Secrets;
import io.quarkus.test.junit.QuarkusMock;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.http.Cookie;
import io.restassured.response.Response;
import io.restassured.specification.RequestSpecification;
import jakarta.inject.Inject;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.mockito.Mockito;

/** Who comes in, how, and for how long. */
@QuarkusTest
@TestProfile(OwnFacts.class)
class SignInTest {

    private static final String WORDS = "a long enough password";

    @Inject
    SigningIn doors;

    private final Clock clock = Mockito.mock(Clock.class);
    private Instant now = Instant.now();

    @BeforeEach
    void begin() {
        Mockito.when(clock.instant()).thenAnswer(i -> now);
        Mockito.when(clock.getZone()).thenReturn(ZoneOffset.UTC);
        QuarkusMock.installMockForType(clock, Clock.class);
        doors.code()
                .ifPresent(code -> post(
                                "/api/session/first",
                                Map.of("code", code, "id", "root", "name", "Root", "password", WORDS))
                        .then()
                        .statusCode(204));
    }

    private static Response post(String path, Object body) {
        return given().contentType("application/json").body(body).post(path);
    }

    private static Cookie enter(String id, String password) {
        Response answer = post("/api/session", Map.of("id", id, "password", password));
        answer.then().statusCode(204);
        return answer.detailedCookie(CredentialFilter.COOKIE);
    }

    private static RequestSpecification as(Cookie session) {
        return given().contentType("application/json")
                .cookie(session)
                .header(CredentialFilter.PAGE_HEADER, Secrets.pageToken(session.getValue()));
    }

    private void enrol(String id, String... roles) {
        as(enter("root", WORDS))
                .body(Map.of("name", id, "roles", List.of(roles), "away", false, "password", WORDS))
                .put("/api/people/" + id)
                .then()
                .statusCode(204);
    }

    @Test
    void theFirstAdministratorBeginsWithTheCodeOnce() {
        given().get("/api/session").then().body("awaitsFirst", equalTo(false)).body("person", nullValue());
        post("/api/session/first", Map.of("code", "", "id", "two", "name", "Two", "password", WORDS))
                .then()
                .statusCode(401);
        as(enter("root", WORDS)).get("/api/session").then().body("roles", hasItem("administrator"));
    }

    @Test
    void theCookieIsOutOfReachOfScriptsAndOtherSites() {
        Cookie session = enter("root", WORDS);
        assertTrue(session.isHttpOnly());
        assertEquals("Strict", session.getSameSite());
        // Its holder alone knows what a page shows; without it nothing is changed.
        given().cookie(session)
                .contentType("application/json")
                .delete("/api/session")
                .then()
                .statusCode(401);
        as(session)
                .header("Origin", "http://elsewhere.example")
                .delete("/api/session")
                .then()
                .statusCode(401);
        as(session).delete("/api/session").then().statusCode(204);
        given().cookie(session).get("/api/sources").then().statusCode(401);
    }

    @Test
    void wrongPasswordsMakeOneWait() {
        enrol("lars", "viewer");
        for (int i = 0; i <= SigningIn.FREE; i++) {
            post("/api/session", Map.of("id", "lars", "password", "wrong"))
                    .then()
                    .statusCode(401);
        }
        post("/api/session", Map.of("id", "lars", "password", WORDS))
                .then()
                .statusCode(429)
                .body("remedy", containsString("in 2 s"));
        now = now.plus(Duration.ofSeconds(2));
        enter("lars", WORDS);
        post("/api/session", Map.of("id", "lars", "password", "wrong")).then().statusCode(401);
        enter("lars", WORDS);
        post("/api/session", Map.of("id", "nobody", "password", WORDS)).then().statusCode(401);
        assertEquals(Duration.ofMinutes(15), SigningIn.wait(200));
    }

    @Test
    void aSessionEndsWhenIdleAndWhenOld() {
        Cookie session = enter("root", WORDS);
        given().cookie(session).get("/api/sources").then().statusCode(200);
        now = now.plus(SignedIn.IDLE).plusSeconds(1);
        given().cookie(session).get("/api/sources").then().statusCode(401);
        Cookie other = enter("root", WORDS);
        Instant begun = now;
        while (now.isBefore(begun.plus(SignedIn.LONGEST).minus(Duration.ofHours(11)))) {
            now = now.plus(Duration.ofHours(11));
            given().cookie(other).get("/api/sources").then().statusCode(200);
        }
        now = begun.plus(SignedIn.LONGEST);
        given().cookie(other).get("/api/sources").then().statusCode(401);
    }

    @Test
    void whoeverIsAwayIsOutAtOnce() {
        enrol("mia", "operator");
        Cookie session = enter("mia", WORDS);
        as(enter("root", WORDS))
                .body(Map.of("name", "Mia", "roles", List.of("operator"), "away", true))
                .put("/api/people/mia")
                .then()
                .statusCode(204);
        given().cookie(session).get("/api/sources").then().statusCode(401);
        post("/api/session", Map.of("id", "mia", "password", WORDS)).then().statusCode(401);
    }

    @Test
    void oneAdministratorIsAlwaysLeft() {
        as(enter("root", WORDS))
                .body(Map.of("name", "Root", "roles", List.of("viewer"), "away", false))
                .put("/api/people/root")
                .then()
                .statusCode(400)
                .body("detail", containsString("no administrator"));
    }

    @Test
    void aTokenIsShownOnceBoundAndRevocable() {
        Cookie root = enter("root", WORDS);
        Response made = as(root).body(Map.of("name", "runner on h1", "roles", List.of("runner"), "place", "h1"))
                .post("/api/people/tokens");
        String secret = made.jsonPath().getString("secret");
        String id = made.jsonPath().getString("id");
        as(root).get("/api/people").then().body(not(containsString(secret)));
        RequestSpecification runner = given().header("Authorization", "Bearer " + secret);
        runner.post("/api/runners/h1/work").then().statusCode(200);
        runner.post("/api/runners/h2/work").then().statusCode(403).body("detail", containsString("h1 alone"));
        runner.get("/api/cover").then().statusCode(403);
        as(root).delete("/api/people/tokens/" + id).then().statusCode(204);
        runner.post("/api/runners/h1/work").then().statusCode(401);
    }

    @Test
    void aDeliveryIsTakenAsFarAsItsBringerMaySayIt() {
        Cookie root = enter("root", WORDS);
        String own = """
                {"type":"database","id":"d1","host":"h1","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z"}
                {"type":"database","id":"d2","host":"h2","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z"}
                """;
        as(root).contentType("application/x-ndjson")
                .body(own.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .body("added", equalTo(2));
        String secret = as(root).body(Map.of("name", "r", "roles", List.of("runner"), "place", "h1"))
                .post("/api/people/tokens")
                .jsonPath()
                .getString("secret");
        given().header("Authorization", "Bearer " + secret)
                .contentType("application/x-ndjson")
                .body("""
                        {"type":"run","id":"r1","database":"d1","kind":"full","started":"2026-02-01T00:00:00Z","ended":"2026-02-01T01:00:00Z","outcome":"ok"}
                        {"type":"run","id":"r2","database":"d2","kind":"full","started":"2026-02-01T00:00:00Z","ended":"2026-02-01T01:00:00Z","outcome":"ok"}
                        {"type":"site","id":"s1","name":"S"}
                        {"type":"sighting","id":"h1:x","database":"x","host":"h1","seen":"2026-02-01T00:00:00Z"}
                        {"type":"sighting","id":"h2:x","database":"x","host":"h2","seen":"2026-02-01T00:00:00Z"}
                        """.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .statusCode(200)
                .body("added", equalTo(2))
                .body("rejectedLines", equalTo(3))
                .body("rejected[0].reason", containsString("not of h1"))
                .body("rejected[1].reason", containsString("role planner"))
                .body("rejected[2].reason", containsString("is not h1"));
    }

    private static Response deliver(RequestSpecification by, String lines, String more) {
        return by.contentType("application/x-ndjson")
                .body(lines.getBytes(StandardCharsets.UTF_8))
                .post("/api/import" + more);
    }

    private static RequestSpecification program(Cookie root, String role, String place) {
        String secret = as(root).body(Map.of("name", "at " + place, "roles", List.of(role), "place", place))
                .post("/api/people/tokens")
                .jsonPath()
                .getString("secret");
        return given().header("Authorization", "Bearer " + secret);
    }

    @Test
    void nobodyTurnsWhatIsKnownOfARecord() {
        Cookie root = enter("root", WORDS);
        enrol("olga", "operator", "planner");
        String both = """
                {"type":"database","id":"t1","host":"g1","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z","lineages":[{"id":"1"},{"id":"2","openedAt":"2026-01-05T00:00:00Z"}]}
                {"type":"database","id":"t2","host":"g2","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z"}
                {"type":"backup","id":"mine","database":"t2","kind":"full","ended":"2026-02-01T00:00:00Z","copies":[{"store":"n"}]}
                {"type":"backup","id":"own","database":"t1","kind":"full","ended":"2026-02-01T00:00:00Z","lineage":"1"}
                {"type":"probe","id":"g2:t2","database":"t2","source":"runner on g2","at":"2026-02-01T00:00:00Z"}
                {"type":"sighting","id":"g2:t2","database":"t2","host":"g2","seen":"2026-02-01T00:00:00Z"}
                """;
        deliver(as(enter("olga", WORDS)), both, "").then().body("added", equalTo(6));
        RequestSpecification runner = program(root, "runner", "g1");
        deliver(runner, """
                        {"type":"backup","id":"mine","database":"t1","kind":"full","ended":"2026-02-01T00:00:00Z"}
                        {"type":"backup","id":"own","database":"t1","kind":"full","ended":"2026-02-01T00:00:00Z"}
                        {"type":"backup","id":"own","database":"t1","kind":"incr","ended":"2026-02-01T00:00:00Z"}
                        {"type":"backup","id":"own","database":"t1","kind":"full","ended":"2026-02-01T00:00:00Z","lineage":"2"}
                        """, "?turn=yes")
                .then()
                .body("updated", equalTo(1))
                .body("rejected.line", equalTo(List.of(1, 3, 4)))
                .body("rejected[0].reason", containsString("not of g1"))
                .body("rejected[1].reason", containsString("was full and would be incr: a program does not turn"))
                .body("rejected[2].reason", containsString("was 1 and would be 2"));
        deliver(runner, """
                        {"type":"probe","id":"g2:t2","database":"t1","source":"runner on g1","at":"2026-02-02T00:00:00Z"}
                        {"type":"sighting","id":"g2:t2","database":"t1","host":"g1","seen":"2026-02-02T00:00:00Z"}
                        """, "")
                .then()
                .body("rejected.line", equalTo(List.of(1, 2)))
                .body("rejected[0].reason", containsString("not of g1"));
        RequestSpecification one = program(root, "runner", "database:t2");
        deliver(
                        one,
                        "{\"type\":\"run\",\"id\":\"x\",\"database\":\"t1\",\"kind\":\"full\",\"started\":\"2026-02-01T00:00:00Z\",\"outcome\":\"running\"}",
                        "")
                .then()
                .body("rejected[0].reason", containsString("not of database:t2"));
        String turned =
                "{\"type\":\"backup\",\"id\":\"mine\",\"database\":\"t1\",\"kind\":\"full\",\"ended\":\"2026-02-01T00:00:00Z\"}";
        deliver(as(enter("olga", WORDS)), turned, "")
                .then()
                .body("rejected[0].field", equalTo("database"))
                .body("rejected[0].reason", containsString("say once more"));
        String found = as(root).get("/api/watch").asString();
        assertTrue(found.contains("record-turned") && found.contains("What was known stands"), found);
        deliver(as(enter("olga", WORDS)), turned, "?turn=yes").then().body("updated", equalTo(1));
        assertTrue(as(root).get("/api/watch").asString().contains("It now counts as it was said"));
    }

    @Test
    void aTokenSpeaksOfSomethingOrIsNotMade() {
        Cookie root = enter("root", WORDS);
        for (String role : List.of("runner", "agent")) {
            as(root).body(Map.of("name", "unbound", "roles", List.of(role)))
                    .post("/api/people/tokens")
                    .then()
                    .statusCode(400)
                    .body("detail", containsString("of which host"));
        }
    }

    @Test
    void everythingDoneIsInARecordThatIsWhole() {
        enrol("nils", "keeper");
        Cookie root = enter("root", WORDS);
        as(root).get("/api/record?words=nils")
                .then()
                .body("deeds[0].about", equalTo("nils"))
                .body("deeds[0].who", equalTo("root"));
        as(root).get("/api/record/whole").then().body("broken", nullValue());
        assertFalse(as(root).get("/api/record/export").asString().contains(WORDS), "no password is written down");
    }
}
