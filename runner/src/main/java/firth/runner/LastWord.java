package firth.runner;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What Firth said last of the policies in force here, and of the databases, routes and stores they speak of: on the disk, for when it is away. */
final class LastWord {

    /** It is asked for that so often; a death forgets no more than this of when Firth was heard. */
    private static final Duration ASKS = Duration.ofMinutes(1);

    private final Path file;
    private Optional<Said> said;
    private Instant asked = Instant.EPOCH;

    /**
     * What it said.
     *
     * @param heard when
     * @param lines of the exchange format
     */
    record Said(Instant heard, List<String> lines) {}

    LastWord(Path state) throws IOException {
        this.file = state.resolve("last-word.json");
        this.said = Files.exists(file) ? kept() : Optional.empty();
    }

    /** What a power cut left half written says nothing; Firth is asked again. */
    private Optional<Said> kept() throws IOException {
        try {
            return Optional.of(read(Json.MAPPER.readTree(Files.readString(file))));
        } catch (JsonProcessingException | DateTimeException cutOff) {
            return Optional.empty();
        }
    }

    private static Said read(JsonNode kept) {
        List<String> lines = new ArrayList<>();
        kept.path("lines").forEach(l -> lines.add(l.toString()));
        return new Said(Instant.parse(kept.path("heard").asText()), lines);
    }

    /** Whether it is time to ask for all of it. */
    boolean isWanted(Instant now) {
        return !now.isBefore(asked.plus(ASKS));
    }

    /** Keeps what an answer says with all of it, by whose policies this host works from now on. */
    void keep(JsonNode answer, Instant heard) throws IOException {
        ObjectNode kept = Json.MAPPER.createObjectNode().put("heard", heard.toString());
        answer.path("fleet").forEach(kept.withArray("lines")::add);
        answer.path("policies").forEach(p -> kept.withArray("lines").add(p.path("document")));
        Path beside = file.resolveSibling("last-word.new");
        Files.writeString(beside, kept.toString());
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        said = Optional.of(read(kept));
        asked = heard;
    }

    /** That it was heard. */
    void heard(Instant now) {
        said = said.map(s -> new Said(now, s.lines));
    }

    Optional<Said> said() {
        return said;
    }
}
