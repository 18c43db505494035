package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.record.Digests;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** The runs that have begun and whose end is not told: on the disk, so that whoever starts after a death can say what became of them. */
final class Begun {

    private final Path directory;

    /**
     * A run that begun.
     *
     * @param run its line as it was told first
     * @param remains what it may have left, where it writes anything
     * @param end the lines that tell of its end; none where it has not come to one
     */
    record Noted(ObjectNode run, Optional<Path> remains, List<JsonNode> end) {}

    Begun(Path state) throws IOException {
        this.directory = Files.createDirectories(state.resolve("begun"));
    }

    /** Notes that one begins, or what it now writes to; it is on the disk when this returns. */
    void note(ObjectNode run, Optional<Path> remains) throws IOException {
        write(run, remains, List.of());
    }

    /** Notes how one has ended, and then has it told. */
    void end(ObjectNode run, List<? extends JsonNode> lines, Outbox outbox) throws IOException {
        ended(run, lines);
        outbox.add(lines);
        over(run.path("id").asText());
    }

    /** Notes how one has ended, before that is told. */
    void ended(ObjectNode run, List<? extends JsonNode> lines) throws IOException {
        write(run, Optional.empty(), lines);
    }

    private void write(ObjectNode run, Optional<Path> remains, List<? extends JsonNode> end) throws IOException {
        ObjectNode note = Json.MAPPER.createObjectNode();
        note.set("run", run);
        remains.ifPresent(r -> note.put("remains", r.toString()));
        note.putArray("end").addAll(end);
        Path file = file(run.path("id").asText());
        Path beside = file.resolveSibling(file.getFileName() + ".new");
        Files.writeString(
                beside,
                note.toString(),
                StandardCharsets.UTF_8,
                StandardOpenOption.CREATE,
                StandardOpenOption.TRUNCATE_EXISTING,
                StandardOpenOption.WRITE,
                StandardOpenOption.SYNC);
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    private Path file(String run) {
        return directory.resolve(Digests.of(run).substring(0, 32) + ".json");
    }

    /** Its end is told. */
    void over(String run) throws IOException {
        Files.deleteIfExists(file(run));
    }

    /** All there are. */
    List<Noted> all() throws IOException {
        List<Noted> out = new ArrayList<>();
        try (Stream<Path> files = Files.list(directory)) {
            for (Path file : (Iterable<Path>) files.filter(f -> f.toString().endsWith(".json"))::iterator) {
                JsonNode note = Json.MAPPER.readTree(Files.readString(file));
                List<JsonNode> end = new ArrayList<>();
                note.path("end").forEach(end::add);
                out.add(new Noted(
                        (ObjectNode) note.path("run"),
                        note.has("remains")
                                ? Optional.of(Path.of(note.path("remains").asText()))
                                : Optional.empty(),
                        end));
            }
        }
        return out;
    }
}
