package firth.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** A running Firth, spoken to as a program that brings facts. */
final class ServerLink {

    /** It did not answer, or refused; the message is a sentence for whoever asked. */
    static final class Refused extends Exception {
        private static final long serialVersionUID = 1;

        Refused(@Nullable String why) {
            super(why);
        }
    }

    /** What is asked of it. */
    private interface Question<T> {
        T ask() throws IOException, InterruptedException, FirthLink.Refused;
    }

    private final FirthLink link;

    /** @param token what this program shows of itself; none where it is blank */
    ServerLink(URI at, @Nullable String token) {
        this.link = new FirthLink(at, () -> token == null ? "" : token);
    }

    /**
     * Sends a fleet file.
     *
     * @param source who the facts come from
     * @return what became of its lines
     */
    JsonNode send(Path file, String source) throws IOException, InterruptedException, Refused {
        HttpRequest.Builder request = link.request("/api/import?source=" + FirthLink.encoded(source))
                .header("content-type", "application/x-ndjson")
                .timeout(FirthLink.FOR_MUCH)
                .POST(HttpRequest.BodyPublishers.ofFile(file));
        return answered(() -> link.ask(request));
    }

    /** What is stated of a database, as it came in; nothing where it is unknown. Statements are given before history, which is not read. */
    Optional<ObjectNode> database(String id) throws IOException, InterruptedException, Refused {
        HttpResponse<InputStream> answer =
                answered(() -> link.send(link.request("/api/export").GET(), HttpResponse.BodyHandlers.ofInputStream()));
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

    private static <T> T answered(Question<T> question) throws IOException, InterruptedException, Refused {
        try {
            return question.ask();
        } catch (FirthLink.NotThere e) {
            throw new Refused(e.getMessage() + "; start one with ./firth serve.");
        } catch (FirthLink.Refused e) {
            throw new Refused(e.getMessage());
        }
    }
}
