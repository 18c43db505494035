package firth.runner;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.core.model.Worded;
import firth.exchange.Json;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A run Firth wants started, and the lines that tell how it goes (docs/runner.md). */
final class Task {

    private final JsonNode asked;
    private final Instant started;
    private final ArrayNode course = Json.MAPPER.createArrayNode();
    private long written;
    private boolean over;

    Task(JsonNode asked, Instant started) {
        this.asked = asked;
        this.started = started;
    }

    String run() {
        return asked.path("run").asText();
    }

    String database() {
        return asked.path("database").asText();
    }

    Kind kind() {
        return Worded.of(Kind.class, asked.path("kind").asText());
    }

    Instant started() {
        return started;
    }

    /** The id its backup is to have, where it has no better one. */
    String backup() {
        return asked.path("backup").asText();
    }

    /** The id of the backup it is to hang from. */
    Optional<String> parent() {
        return Optional.of(asked.path("parent"))
                .filter(p -> kind() != Kind.FULL && p.isTextual())
                .map(JsonNode::asText);
    }

    List<String> stores() {
        return texts("stores");
    }

    /** Where else it belongs. */
    List<String> copies() {
        return texts("copies");
    }

    private List<String> texts(String field) {
        List<String> out = new ArrayList<>();
        asked.path(field).forEach(s -> out.add(s.asText()));
        return out;
    }

    synchronized void written(long bytes) {
        written = bytes;
    }

    /** Tells how far it is, unless its end was told: what is told later counts. */
    synchronized void tell(Outbox outbox, Instant now) throws IOException {
        if (!over) {
            outbox.add(List.of(running(now)));
        }
    }

    /** Tells its end; nothing is told of it afterwards. */
    synchronized void end(Begun begun, Outbox outbox, List<? extends JsonNode> lines) throws IOException {
        over = true;
        begun.end((ObjectNode) lines.get(0), lines, outbox);
    }

    /** That it runs, and how far it is. */
    synchronized ObjectNode running(Instant now) {
        if (written > 0) {
            course.addObject()
                    .put("at", now.toString())
                    .put("readBytes", written)
                    .put("writtenBytes", written);
        }
        return line().put("outcome", "running");
    }

    private ObjectNode line() {
        ObjectNode line = Json.MAPPER
                .createObjectNode()
                .put("type", "run")
                .put("id", run())
                .put("database", database())
                .put("kind", kind().word())
                .put("trigger", asked.path("trigger").asText())
                .put("started", started.toString());
        if (asked.path("schedule").isTextual()) {
            line.putObject("slot")
                    .put("schedule", asked.path("schedule").asText())
                    .put("opens", asked.path("since").asText());
        }
        if (!course.isEmpty()) {
            line.set("course", course.deepCopy());
        }
        return line;
    }

    synchronized ObjectNode went(Instant ended, String output) {
        return ended(line(), ended).put("outcome", "ok").put("output", output);
    }

    synchronized ObjectNode failed(Instant ended, Trouble why) {
        return failed(line(), ended, why);
    }

    /** The line of a run that did not go well, from one that told of it before. */
    static ObjectNode failed(ObjectNode told, Instant ended, Trouble why) {
        ObjectNode out = ended(told.deepCopy(), ended).put("outcome", "failed").put("message", why.why());
        if (!why.output().isEmpty()) {
            out.put("output", why.output());
        }
        return out;
    }

    static ObjectNode ended(ObjectNode line, Instant ended) {
        Instant started = Instant.parse(line.path("started").asText());
        return line.put("ended", (ended.isBefore(started) ? started : ended).toString());
    }
}
