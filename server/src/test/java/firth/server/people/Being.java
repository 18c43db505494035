package firth.server.people;

import static io.restassured.RestAssured.given;

import firth.server.platform.Secrets;
import io.restassured.response.Response;
import io.restassured.specification.RequestSpecification;

/** Somebody of the demo, as a test is them. */
public final class Being {

    private Being() {}

    /** A request of one of the made-up people. */
    public static RequestSpecification being(String person) {
        Response answer = given().contentType("application/json")
                .body("{\"person\":\"" + person + "\"}")
                .post("/api/session/as");
        answer.then().statusCode(204);
        String secret = answer.cookie(CredentialFilter.COOKIE);
        return given().contentType("application/json")
                .cookie(CredentialFilter.COOKIE, secret)
                .header(CredentialFilter.PAGE_HEADER, Secrets.pageToken(secret));
    }

    /** The token of a new agent at a store. */
    public static String agentAt(String store) {
        return being("harald")
                .body("{\"name\":\"agent\",\"roles\":[\"agent\"],\"place\":\"" + store + "\"}")
                .post("/api/people/tokens")
                .jsonPath()
                .getString("secret");
    }

    public static RequestSpecification program(String token) {
        return given().contentType("application/json").header("Authorization", "Bearer " + token);
    }
}
