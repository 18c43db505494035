package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The runs of the last days as they were told, each as it was told last: what is due next depends on them. */
final class Ran {

    /** Slots look back no further. */
    private static final Duration KEPT = Duration.ofDays(3);

    private static final long LARGE = 1_000_000;
    private static final List<String> TELLING =
            List.of("type", "id", "database", "kind", "trigger", "slot", "started", "ended", "outcome");

    private final Path file;
    private long most = LARGE;

    Ran(Path state) {
        this.file = state.resolve("runs.ndjson");
    }

    /** Notes what of these lines tells of runs; how far one is changes nothing of what is due, nor does what its engine said. */
    synchronized void note(List<? extends JsonNode> lines) throws IOException {
        StringBuilder out = new StringBuilder();
        Instant newest = Instant.EPOCH;
        for (JsonNode line : lines) {
            if (line.path("type").asText().equals("run") && line.has("started") && !line.has("course")) {
                ObjectNode kept = Json.MAPPER.createObjectNode();
                TELLING.stream().filter(line::has).forEach(f -> kept.set(f, line.get(f)));
                // A line that the last death cut off must not take the next one with it.
                out.append('\n').append(kept).append('\n');
                newest = Instant.parse(line.path("started").asText());
            }
        }
        if (!out.isEmpty()) {
            Files.writeString(file, out, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
            if (Files.size(file) > most) {
                shorten(newest);
            }
        }
    }

    /** Leaves the last days alone, once there is as much again beside them. */
    private void shorten(Instant now) throws IOException {
        Path beside = file.resolveSibling("runs.new");
        Files.write(beside, lines(now));
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        most = Math.max(LARGE, 2 * Files.size(file));
    }

    /** The runs that started within the last days. */
    synchronized List<String> lines(Instant now) throws IOException {
        Map<String, String> latest = new LinkedHashMap<>();
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                JsonNode run = read(line);
                if (run.has("started")
                        && Instant.parse(run.path("started").asText()).isAfter(now.minus(KEPT))) {
                    latest.put(run.path("id").asText(), line);
                }
            }
        }
        return new ArrayList<>(latest.values());
    }

    /** A line a death cut off tells nothing. */
    private static JsonNode read(String line) {
        try {
            return Json.MAPPER.readTree(line);
        } catch (IOException cutOff) {
            return Json.MAPPER.createObjectNode();
        }
    }
}
