package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** Firth as a runner or an agent sees it: over HTTP with a token, and not always there. */
class Firth {

    private final HttpClient client = HttpClient.newHttpClient();
    private final URI address;

    private final Token token;

    Firth(URI address, Token token) {
        this.address = address;
        this.token = token;
    }

    /** Tells facts as lines of a fleet file; false where Firth does not answer. */
    boolean tell(String source, List<String> lines) throws IOException, InterruptedException {
        return lines.isEmpty()
                || send(request("/api/import?source=" + encoded(source))
                                .header("content-type", "application/x-ndjson")
                                .POST(BodyPublishers.ofString(String.join("\n", lines))))
                        .isPresent();
    }

    /** What a host is to do; empty where Firth does not answer. */
    Optional<JsonNode> work(String host, String every) throws IOException, InterruptedException {
        Optional<String> answer = send(request("/api/runners/" + encoded(host) + "/work?every=" + every)
                .POST(BodyPublishers.noBody()));
        return answer.isPresent() ? Optional.of(Json.MAPPER.readTree(answer.get())) : Optional.empty();
    }

    /** Says that a host works by a version of a policy from now on. */
    void acknowledge(String host, String policy, int version) throws IOException, InterruptedException {
        send(request("/api/runners/" + encoded(host) + "/policies/" + encoded(policy))
                .header("content-type", "application/json")
                .PUT(BodyPublishers.ofString("{\"version\":" + version + "}")));
    }

    /** What the agent of a store is to do; empty where Firth does not answer. */
    Optional<JsonNode> agentWork(String store, String every) throws IOException, InterruptedException {
        Optional<String> answer = send(request("/api/agents/" + encoded(store) + "/work?every=" + every)
                .POST(BodyPublishers.noBody()));
        return answer.isPresent() ? Optional.of(Json.MAPPER.readTree(answer.get())) : Optional.empty();
    }

    /** The recovery sheets to lay beside the backups of a store; empty where Firth does not answer, or refuses. */
    Optional<JsonNode> sheets(String store, String since) throws IOException, InterruptedException {
        Optional<String> answer = send(request("/api/agents/" + encoded(store) + "/sheets?since=" + since)
                .GET());
        return answer.isPresent() && answer.get().startsWith("[")
                ? Optional.of(Json.MAPPER.readTree(answer.get()))
                : Optional.empty();
    }

    /** Tells what became of items; false where Firth does not answer. */
    boolean toldItems(String store, String body) throws IOException, InterruptedException {
        return send(request("/api/agents/" + encoded(store) + "/told")
                        .header("content-type", "application/json")
                        .POST(BodyPublishers.ofString(body)))
                .isPresent();
    }

    /** Hands in what lies in a store; false where Firth does not answer. */
    boolean listed(String store, String stocktake, Path listing) throws IOException, InterruptedException {
        return send(request("/api/agents/" + encoded(store) + "/listing?stocktake=" + encoded(stocktake))
                        .header("content-type", "application/x-ndjson")
                        .POST(BodyPublishers.ofFile(listing)))
                .isPresent();
    }

    /** What Firth can work out of this program's token as well: SHA-256 in hexadecimal. */
    String key() throws IOException, InterruptedException {
        return token.hash();
    }

    /** Every fact Firth has, line by line. */
    Stream<String> export() throws IOException, InterruptedException {
        return client.send(request("/api/export").build(), HttpResponse.BodyHandlers.ofLines())
                .body();
    }

    private HttpRequest.Builder request(String path) {
        return HttpRequest.newBuilder(address.resolve(path));
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private Optional<String> send(HttpRequest.Builder request) throws IOException, InterruptedException {
        try {
            HttpResponse<String> answer = client.send(
                    request.header("Authorization", "Bearer " + token.secret()).build(),
                    HttpResponse.BodyHandlers.ofString());
            if (answer.statusCode() == 401) {
                token.forget();
            }
            if (answer.statusCode() / 100 != 2) {
                System.err.println("stand-in: Firth refused: " + answer.body());
            }
            return Optional.of(answer.body());
        } catch (ConnectException notThere) {
            return Optional.empty();
        }
    }
}
