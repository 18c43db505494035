package firth.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** A Firth that is told of a store by the program that reads it, and asked for plans. */
final class Observed implements AutoCloseable {

    /** Moments of a lineage that are promised, both ends among them. */
    record Piece(String lineage, Instant from, Instant to) {}

    private static final ObjectMapper JSON = new ObjectMapper();

    private final Firth firth;
    private final Path store;
    private final HttpClient http = HttpClient.newHttpClient();

    Observed(Path store) throws IOException, InterruptedException {
        this.firth = Firth.start(false);
        this.store = store;
    }

    Firth firth() {
        return firth;
    }

    /** Has the store read and told of; gives what the program said. */
    String look(String... more) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(Programs.java(
                "-jar",
                Programs.jar("cli", "all"),
                "observe",
                "n1=" + store,
                "--database",
                "harbour",
                "--to",
                firth.address("/"),
                "--keep",
                firth.directory().resolve("observed").toString()));
        command.addAll(List.of(more));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        if (process.waitFor() == 2) {
            throw new IllegalStateException(said);
        }
        return said;
    }

    JsonNode ask(String path) throws IOException, InterruptedException {
        return JSON.readTree(text(path));
    }

    private String text(String path) throws IOException, InterruptedException {
        HttpResponse<String> answer = http.send(
                HttpRequest.newBuilder(URI.create(firth.address(path))).build(), HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() != 200) {
            throw new IllegalStateException(path + ": " + answer.body());
        }
        return answer.body();
    }

    /** The store is a store of the fleet: nothing in it counts before. */
    void enrolStore() throws IOException, InterruptedException {
        take("{\"type\":\"store\",\"id\":\"n1\",\"name\":\"Northquay shelf\",\"medium\":\"disk\",\"role\":\"near\"}\n");
    }

    /** Tells facts; all of them are taken. */
    void take(String lines) throws IOException, InterruptedException {
        HttpResponse<String> answer = http.send(
                post("/api/import?source=test", lines)
                        .setHeader("content-type", "application/x-ndjson")
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() != 200
                || !JSON.readTree(answer.body()).path("rejected").isEmpty()) {
            throw new IllegalStateException(answer.body());
        }
    }

    private HttpRequest.Builder post(String path, String body) {
        return HttpRequest.newBuilder(URI.create(firth.address(path)))
                .header("content-type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(body));
    }

    /** Has somebody do something, in the place of whoever presses a button. */
    JsonNode as(String person, String path, String body) throws IOException, InterruptedException {
        HttpResponse<String> entered = http.send(
                post("/api/session/as", "{\"person\":\"" + person + "\"}").build(),
                HttpResponse.BodyHandlers.ofString());
        String cookie = entered.headers().firstValue("set-cookie").orElseThrow().replaceFirst(";.*", "");
        HttpRequest session = HttpRequest.newBuilder(URI.create(firth.address("/api/session")))
                .header("Cookie", cookie)
                .build();
        String page = JSON.readTree(
                        http.send(session, HttpResponse.BodyHandlers.ofString()).body())
                .path("page")
                .asText();
        HttpResponse<String> answer = http.send(
                post(path, body)
                        .header("Cookie", cookie)
                        .header("X-Firth-Page", page)
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() / 100 != 2) {
            throw new IllegalStateException(path + ": " + answer.body());
        }
        return JSON.readTree(answer.body());
    }

    /** A token an administrator gives to a program, bound to a place. */
    String token(String place, String... roles) throws IOException, InterruptedException {
        String wanted = "{\"name\":\"program at " + place + "\",\"roles\":[\"" + String.join("\",\"", roles)
                + "\"],\"place\":\"" + place + "\"}";
        return as("harald", "/api/people/tokens", wanted).path("secret").asText();
    }

    /** All that is known, as a fleet file. */
    String export() throws IOException, InterruptedException {
        return text("/api/export");
    }

    /** What Firth promises of the database, as of now. */
    JsonNode evaluation() throws IOException, InterruptedException {
        return ask("/api/evaluations").path("databases").path(0);
    }

    List<Piece> promised() throws IOException, InterruptedException {
        List<Piece> out = new ArrayList<>();
        evaluation()
                .path("hazards")
                .path("mishap")
                .path("restorable")
                .forEach(p -> out.add(new Piece(
                        p.path("lineage").asText(),
                        Instant.parse(p.path("from").asText()),
                        Instant.parse(p.path("to").asText()))));
        return out;
    }

    JsonNode plan(Instant moment) throws IOException, InterruptedException {
        return ask("/api/restore/of/harbour?moment=" + URLEncoder.encode(moment.toString(), StandardCharsets.UTF_8));
    }

    /** The script of the plan for a moment. */
    String script(Instant moment) throws IOException, InterruptedException {
        return script(moment, "");
    }

    /** @param more of what is asked, such as copies that do not read */
    String script(Instant moment, String more) throws IOException, InterruptedException {
        return text("/api/restore/of/harbour/checklist.sh?moment="
                + URLEncoder.encode(moment.toString(), StandardCharsets.UTF_8) + more);
    }

    /** The script of the plan for a position of a lineage, as the engine writes it. */
    String scriptTo(String position, String lineage) throws IOException, InterruptedException {
        return text("/api/restore/of/harbour/checklist.sh?lineage=" + lineage + "&positions="
                + URLEncoder.encode("main:" + position, StandardCharsets.UTF_8));
    }

    /** The script of the plan for the latest there is. */
    String latest() throws IOException, InterruptedException {
        return text("/api/restore/of/harbour/checklist.sh");
    }

    @Override
    public void close() {
        firth.close();
    }
}
