package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** What is to be told to Firth, on the disk until Firth has it: nothing of it is lost when either dies. */
final class Outbox {

    private final Path file;
    private final Path sending;
    private final Consumer<String> says;
    private final Ran ran;

    Outbox(Path directory, Consumer<String> says) {
        this.file = directory.resolve("to-tell.ndjson");
        this.sending = directory.resolve("telling.ndjson");
        this.says = says;
        this.ran = new Ran(directory);
    }

    /** The runs that were added lately, told or not. */
    Ran ran() {
        return ran;
    }

    /** Adds lines; they are on the disk when this returns. */
    synchronized void add(List<? extends JsonNode> lines) throws IOException {
        if (lines.isEmpty()) {
            return;
        }
        StringBuilder out = new StringBuilder();
        // A line that the last death cut off must not take the next one with it.
        out.append('\n');
        lines.forEach(l -> out.append(l).append('\n'));
        Files.writeString(
                file,
                out,
                StandardCharsets.UTF_8,
                StandardOpenOption.CREATE,
                StandardOpenOption.APPEND,
                StandardOpenOption.SYNC);
        ran.note(lines);
    }

    /** Tells what there is; what Firth refuses line by line is said, and not told again. */
    void tell(FirthLink firth, String source) throws IOException, InterruptedException, FirthLink.Refused {
        if (!take()) {
            return;
        }
        JsonNode answer = firth.ask(firth.request("/api/import?source=" + FirthLink.encoded(source))
                .header("content-type", "application/x-ndjson")
                .timeout(FirthLink.FOR_MUCH)
                .POST(BodyPublishers.ofByteArray(whole())));
        for (JsonNode rejected : answer.path("rejected")) {
            says.accept("Firth does not take a line: " + rejected.path("field").asText() + " "
                    + rejected.path("reason").asText());
        }
        Files.delete(sending);
    }

    /** Sets aside what is told now; what a teller that died had set aside comes first. */
    private synchronized boolean take() throws IOException {
        if (!Files.exists(sending) && Files.exists(file)) {
            Files.move(file, sending, StandardCopyOption.ATOMIC_MOVE);
        }
        return Files.exists(sending);
    }

    private byte[] whole() throws IOException {
        List<String> out = new ArrayList<>();
        for (String line : Files.readAllLines(sending)) {
            if (!line.isBlank() && isWhole(line)) {
                out.add(line);
            }
        }
        return (String.join("\n", out) + "\n").getBytes(StandardCharsets.UTF_8);
    }

    private static boolean isWhole(String line) {
        try {
            return Json.MAPPER.readTree(line).isObject();
        } catch (IOException cutOff) {
            return false;
        }
    }
}
