package firth.server.people;

import static io.restassured.RestAssured.given;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.hamcrest.Matchers.hasItems;
import static org.hamcrest.Matchers.not;
import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.record.Deed;
import firth.server.platform.FactsHolder;
import firth.store.People;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.QuarkusTestProfile;
import io.quarkus.test.junit.TestProfile;
import io.restassured.response.Response;
import jakarta.inject.Inject;
import java.io.IOException;
import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Signing in through another service. */
@SuppressWarnings("JavaUtilDate") // the tokens\' library speaks it
@QuarkusTest
@TestProfile(ProviderTest.WithProvider.class)
class ProviderTest {

    public static class WithProvider implements QuarkusTestProfile {
        @Override
        public List<TestResourceEntry> testResources() {
            return List.of(new TestResourceEntry(StandInProvider.class));
        }
    }

    @Inject
    FactsHolder facts;

    @BeforeEach
    void vouchesForLars() {
        StandInProvider.nonce = null;
        StandInProvider.claims =
                Map.of("preferred_username", "Lars", "name", "Lars Holm", "firth_roles", List.of("keeper", "captain"));
    }

    private static Response back(String state) throws IOException, InterruptedException {
        Response away = given().redirects().follow(false).get("/api/session/provider");
        away.then().statusCode(303);
        URI back = StandInProvider.follow(away.header("Location"));
        String query =
                state == null ? back.getRawQuery() : back.getRawQuery().replaceFirst("state=[^&]*", "state=" + state);
        return given().redirects()
                .follow(false)
                .cookie(away.detailedCookie("firth-errand"))
                .get(back.getPath() + "?" + query);
    }

    @Test
    void whomTheServiceVouchesForComesInWithTheRolesItSays() throws IOException, InterruptedException {
        given().get("/api/session").then().body("provider", equalTo(true));
        Response in = back(null);
        in.then().statusCode(303);
        String session = in.cookie(CredentialFilter.COOKIE);
        given().cookie(CredentialFilter.COOKIE, session)
                .get("/api/session")
                .then()
                .body("person.name", equalTo("Lars Holm"))
                .body("roles", hasItems("keeper", "viewer"))
                .body("roles", not(hasItem("captain")));
        StandInProvider.claims = Map.of("preferred_username", "Lars", "name", "Lars Holm");
        given().cookie(CredentialFilter.COOKIE, back(null).cookie(CredentialFilter.COOKIE))
                .get("/api/session")
                .then()
                .body("roles", hasItem("keeper"));
    }

    @Test
    void anAnswerThatIsNotForThisBrowserIsRefused() throws IOException, InterruptedException {
        back("another").then().statusCode(401).body("detail", containsString("not returning from a sign-in"));
        StandInProvider.nonce = "of another day";
        back(null).then().statusCode(401).body("detail", containsString("could not be accepted"));
        StandInProvider.nonce = null;
        StandInProvider.claims = Map.of("aud", List.of("another program"), "preferred_username", "lars");
        back(null).then().statusCode(401);
        StandInProvider.claims = Map.of("exp", new java.util.Date(0), "preferred_username", "lars");
        assertEquals(401, back(null).statusCode());
    }

    @Test
    void nobodyTakesThePlaceOfSomebodyWithAPassword() throws IOException, InterruptedException {
        facts.store()
                .people()
                .put(
                        new People.Person(
                                "olga",
                                "Olga",
                                Optional.of("hash"),
                                Set.of("administrator"),
                                false,
                                0,
                                Optional.empty()),
                        new Deed.Told("test", "person", "olga", "{}"),
                        Instant.now());
        StandInProvider.claims = Map.of("preferred_username", "olga");
        back(null).then().statusCode(401).body("detail", containsString("keeps a password of olga"));
    }
}
