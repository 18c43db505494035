package firth.exchange.link;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.record.Digests;
import firth.exchange.Json;
import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;

/** A running Firth, as a program with a token speaks to it. It is not always there, and it may refuse. */
public final class FirthLink {

    private static final Duration PATIENCE = Duration.ofSeconds(10);

    /** A request waits so long for its answer unless it says otherwise. */
    private static final Duration FOR_AN_ANSWER = Duration.ofMinutes(2);

    /** For what grows with a fleet or a store: an import, a listing. */
    public static final Duration FOR_MUCH = Duration.ofMinutes(30);

    private static final int UNAUTHORIZED = 401;

    /** What a program shows of itself. */
    public interface Credential {

        /** The token; blank: none. */
        String secret() throws IOException, InterruptedException;

        /** Firth does not know it any more. */
        default void refused() throws IOException {}
    }

    /** Nobody answers at the address. */
    public static final class NotThere extends IOException {
        private static final long serialVersionUID = 1;

        NotThere(URI at, IOException cause) {
            super("no Firth answers at " + at, cause);
        }
    }

    /** It answered that it would not; the message is its reason, a sentence for whoever asked. */
    public static final class Refused extends Exception {
        private static final long serialVersionUID = 1;

        private final int status;

        Refused(int status, String why) {
            super(why);
            this.status = status;
        }

        /** The status of the answer, 300 or above. */
        public int status() {
            return status;
        }
    }

    private final URI at;
    private final Credential credential;
    private final HttpClient http = HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(PATIENCE)
            .build();

    public FirthLink(URI at, Credential credential) {
        this.at = at;
        this.credential = credential;
    }

    /** A request to an address below Firth's, such as {@code /api/import}; it waits for an answer two minutes, unless it is told otherwise. */
    public HttpRequest.Builder request(String path) {
        return HttpRequest.newBuilder(at.resolve(path)).timeout(FOR_AN_ANSWER);
    }

    /** A piece of a path or a query. */
    public static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    /** What Firth can work out of the token as well, and nobody who reads the network: SHA-256 of it in hexadecimal. */
    public String key() throws IOException, InterruptedException {
        return Digests.of(credential.secret().strip());
    }

    /** Asks, and gives the answer as JSON. */
    public JsonNode ask(HttpRequest.Builder request) throws IOException, InterruptedException, Refused {
        HttpResponse<String> answer = send(request, BodyHandlers.ofString());
        if (answer.statusCode() / 100 != 2) {
            throw refused(answer.statusCode(), answer.body());
        }
        return Json.MAPPER.readTree(answer.body());
    }

    /** Asks, and leaves it to whoever asks what to make of the answer. */
    public <T> HttpResponse<T> send(HttpRequest.Builder request, HttpResponse.BodyHandler<T> as)
            throws IOException, InterruptedException {
        try {
            String secret = credential.secret().strip();
            if (!secret.isEmpty()) {
                request.setHeader("Authorization", "Bearer " + secret);
            }
            HttpResponse<T> answer = http.send(request.build(), as);
            if (answer.statusCode() == UNAUTHORIZED) {
                credential.refused();
            }
            return answer;
        } catch (ConnectException | HttpTimeoutException e) {
            throw new NotThere(at, e);
        }
    }

    private static Refused refused(int status, String body) {
        try {
            JsonNode problem = Json.MAPPER.readTree(body);
            return new Refused(
                    status,
                    (problem.path("detail").asText("the server refused (" + status + ").") + " "
                                    + problem.path("unharmed").asText())
                            .strip());
        } catch (IOException notJson) {
            return new Refused(status, "the server refused (" + status + ").");
        }
    }
}
