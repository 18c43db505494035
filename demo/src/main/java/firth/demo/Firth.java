package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** Firth as a runner sees it: over HTTP with a token, and not always there. */
class Firth {

    private final FirthLink link;
    /** As somebody at this machine, whom the demo lets look at everything. */
    private final FirthLink anybody;

    Firth(URI address, Token token) {
        this.link = new FirthLink(address, token);
        this.anybody = new FirthLink(address, () -> "");
    }

    /** Tells facts as lines of a fleet file; false where Firth does not answer. */
    boolean tell(String source, List<String> lines) throws IOException, InterruptedException {
        return lines.isEmpty()
                || ask(link.request("/api/import?source=" + FirthLink.encoded(source))
                                .header("content-type", "application/x-ndjson")
                                .POST(BodyPublishers.ofString(String.join("\n", lines))))
                        .isPresent();
    }

    /** What a host is to do; empty where Firth does not answer. */
    Optional<JsonNode> work(String host, String every) throws IOException, InterruptedException {
        return ask(link.request("/api/runners/" + FirthLink.encoded(host) + "/work?every=" + every)
                .POST(BodyPublishers.noBody()));
    }

    /** Says that a host works by a version of a policy from now on. */
    void acknowledge(String host, String policy, int version) throws IOException, InterruptedException {
        ask(link.request("/api/runners/" + FirthLink.encoded(host) + "/policies/" + FirthLink.encoded(policy))
                .header("content-type", "application/json")
                .PUT(BodyPublishers.ofString("{\"version\":" + version + "}")));
    }

    /** Every fact Firth has, line by line. */
    Stream<String> export() throws IOException, InterruptedException {
        HttpResponse<Stream<String>> answer =
                anybody.send(anybody.request("/api/export"), HttpResponse.BodyHandlers.ofLines());
        if (answer.statusCode() != 200) {
            throw new IOException("Firth does not say what it knows (" + answer.statusCode() + ")");
        }
        return answer.body();
    }

    /** The answer, with nothing in it where Firth refused; empty where it is not there. */
    private Optional<JsonNode> ask(HttpRequest.Builder request) throws IOException, InterruptedException {
        try {
            return Optional.of(link.ask(request));
        } catch (FirthLink.NotThere e) {
            return Optional.empty();
        } catch (FirthLink.Refused e) {
            System.err.println("stand-in: Firth refused: " + e.getMessage());
            return Optional.of(Json.MAPPER.createObjectNode());
        }
    }
}
