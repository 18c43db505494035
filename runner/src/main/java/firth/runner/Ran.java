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
import java.util.stream.Stream;

/** The runs of the last days as they were told, each as it was told last: what is due next depends on them. */
final class Ran {

    /** Slots look back no further. */
    private static final Duration KEPT = Duration.ofDays(3);

    private static final int LARGE = 1_000_000;
    private static final List<String> TELLING =
            List.of("type", "id", "database", "kind", "trigger", "slot", "started", "ended", "outcome");

    private final Path file;

    Ran(Path state) {
        this.file = state.resolve("runs.ndjson");
    }

    /** Notes what of these lines tells of runs; how far one is changes nothing of what is due, nor does what its engine said. */
    synchronized void note(List<? extends JsonNode> lines) throws IOException {
        StringBuilder out = new StringBuilder();
        for (JsonNode line : lines) {
            if (line.path("type").asText().equals("run") && !line.has("course")) {
                ObjectNode kept = Json.MAPPER.createObjectNode();
                TELLING.stream().filter(line::has).forEach(f -> kept.set(f, line.get(f)));
                out.append(kept).append('\n');
            }
        }
        if (!out.isEmpty()) {
            Files.writeString(file, out, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        }
    }

    /** The runs that started within the last days. */
    synchronized List<String> lines(Instant now) throws IOException {
        if (!Files.exists(file)) {
            return List.of();
        }
        Map<String, String> latest = new LinkedHashMap<>();
        try (Stream<String> all = Files.lines(file)) {
            for (String line : (Iterable<String>) all::iterator) {
                JsonNode run = read(line);
                if (run.has("started")
                        && Instant.parse(run.path("started").asText()).isAfter(now.minus(KEPT))) {
                    latest.put(run.path("id").asText(), line);
                }
            }
        }
        if (Files.size(file) > LARGE) {
            Path beside = file.resolveSibling("runs.new");
            Files.write(beside, latest.values());
            Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE);
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
