package firth.cli;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.FileNotFoundException;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Locale;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code firth import}: sends a fleet file to a running Firth and prints what became of its lines. */
@Command(
        name = "import",
        mixinStandardHelpOptions = true,
        description = "Sends a fleet file, plain or gzip, to a running Firth and says what became of its lines.",
        footer = {"", "Exit status: 0 all lines taken; 1 some were rejected; 2 nothing was taken."})
final class ImportCommand implements Callable<Integer> {

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "FILE", description = "The fleet file.")
    private Path file;

    @Option(
            names = "--to",
            paramLabel = "URL",
            defaultValue = "http://127.0.0.1:8640",
            description = "Where Firth runs; default: http://127.0.0.1:8640.")
    private URI to;

    @Option(names = "--source", paramLabel = "NAME", description = "Who the facts come from; default: the file's name.")
    private @Nullable String source;

    @Option(
            names = "--token",
            paramLabel = "TOKEN",
            defaultValue = "${env:FIRTH_TOKEN}",
            description = "What this program shows of itself; default: the value of FIRTH_TOKEN.")
    private @Nullable String token;

    @Override
    public Integer call() throws IOException, InterruptedException {
        PrintWriter err = spec.commandLine().getErr();
        String name = source == null ? file.getFileName().toString() : source;
        HttpResponse<String> answer;
        try {
            HttpRequest.Builder request = HttpRequest.newBuilder(
                            to.resolve("/api/import?source=" + URLEncoder.encode(name, StandardCharsets.UTF_8)))
                    .header("content-type", "application/x-ndjson")
                    .POST(HttpRequest.BodyPublishers.ofFile(file));
            if (token != null && !token.isBlank()) {
                request.header("Authorization", "Bearer " + token.strip());
            }
            answer = HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
        } catch (FileNotFoundException e) {
            err.println("firth import: " + file + " does not exist.");
            return 2;
        } catch (ConnectException e) {
            err.println("firth import: no Firth answers at " + to + "; start one with ./firth serve.");
            return 2;
        }
        JsonNode body = Json.MAPPER.readTree(answer.body());
        if (answer.statusCode() != 200) {
            err.println(
                    "firth import: " + body.path("detail").asText("the server refused (" + answer.statusCode() + ").")
                            + " " + body.path("unharmed").asText());
            return 2;
        }
        return report(body);
    }

    private int report(JsonNode body) {
        PrintWriter out = spec.commandLine().getOut();
        for (JsonNode line : body.path("rejected")) {
            out.printf(Locale.ROOT, "line %d rejected: %s%n", line.path("line").asLong(), sentence(line));
        }
        for (JsonNode line : body.path("warnings")) {
            out.printf(
                    Locale.ROOT, "line %d taken, but: %s%n", line.path("line").asLong(), sentence(line));
        }
        out.printf(
                Locale.ROOT,
                "%d lines: %d added, %d updated, %d unchanged, %d rejected%n",
                body.path("lines").asLong(),
                body.path("added").asLong(),
                body.path("updated").asLong(),
                body.path("unchanged").asLong(),
                body.path("rejectedLines").asLong());
        out.flush();
        return body.path("rejectedLines").asLong() > 0 ? 1 : 0;
    }

    private static String sentence(JsonNode line) {
        String field = line.path("field").asText();
        return (field.isEmpty() ? "" : field + " ") + line.path("reason").asText();
    }
}
