package firth.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** A running Firth, spoken to as a program. */
final class ServerLink {

    /** It did not answer, or refused; the message is a sentence for whoever asked. */
    static final class Refused extends Exception {
        private static final long serialVersionUID = 1;

        Refused(String why) {
            super(why);
        }
    }

    private final URI at;
    private final Optional<String> token;
    private final HttpClient http = HttpClient.newHttpClient();

    /** @param token what this program shows of itself; none where it is blank */
    ServerLink(URI at, @Nullable String token) {
        this.at = at;
        this.token = Optional.ofNullable(token).map(String::strip).filter(t -> !t.isEmpty());
    }

    /**
     * Sends a fleet file.
     *
     * @param source who the facts come from
     * @return what became of its lines
     */
    JsonNode send(Path file, String source) throws IOException, InterruptedException, Refused {
        HttpResponse<String> answer = ask(
                request("/api/import?source=" + URLEncoder.encode(source, StandardCharsets.UTF_8))
                        .header("content-type", "application/x-ndjson")
                        .POST(HttpRequest.BodyPublishers.ofFile(file)),
                HttpResponse.BodyHandlers.ofString());
        JsonNode body = Json.MAPPER.readTree(answer.body());
        if (answer.statusCode() != 200) {
            throw new Refused(body.path("detail").asText("the server refused (" + answer.statusCode() + ").") + " "
                    + body.path("unharmed").asText());
        }
        return body;
    }

    /** What is stated of a database, as it came in; nothing where it is unknown. Statements are given before history, which is not read. */
    Optional<ObjectNode> database(String id) throws IOException, InterruptedException, Refused {
        HttpResponse<InputStream> answer = ask(request("/api/export").GET(), HttpResponse.BodyHandlers.ofInputStream());
        try (BufferedReader in = new BufferedReader(new InputStreamReader(answer.body(), StandardCharsets.UTF_8))) {
            if (answer.statusCode() != 200) {
                throw new Refused("the server does not say what it knows (" + answer.statusCode() + ").");
            }
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                JsonNode node = Json.MAPPER.readTree(line);
                String type = node.path("type").asText();
                if (type.equals("database") && node.path("id").asText().equals(id)) {
                    return Optional.of((ObjectNode) node);
                }
                if (type.equals("run") || type.equals("backup")) {
                    return Optional.empty();
                }
            }
            return Optional.empty();
        }
    }

    private HttpRequest.Builder request(String path) {
        HttpRequest.Builder request = HttpRequest.newBuilder(at.resolve(path));
        token.ifPresent(t -> request.header("Authorization", "Bearer " + t));
        return request;
    }

    private <T> HttpResponse<T> ask(HttpRequest.Builder request, HttpResponse.BodyHandler<T> as)
            throws IOException, InterruptedException, Refused {
        try {
            return http.send(request.build(), as);
        } catch (ConnectException e) {
            throw new Refused("no Firth answers at " + at + "; start one with ./firth serve.");
        }
    }
}
