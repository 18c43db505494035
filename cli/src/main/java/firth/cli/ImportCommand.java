package firth.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.io.PrintWriter;
import java.net.URI;
import java.nio.file.Files;
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
        if (!Files.isRegularFile(file)) {
            err.println("firth import: " + file + " does not exist.");
            return 2;
        }
        try {
            return report(new ServerLink(to, token).send(file, name));
        } catch (ServerLink.Refused e) {
            err.println("firth import: " + e.getMessage());
            return 2;
        }
    }

    private int report(JsonNode body) {
        return report(body, spec.commandLine().getOut());
    }

    /** Says what became of the lines of a file that was sent; gives the exit status. */
    static int report(JsonNode body, PrintWriter out) {
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
