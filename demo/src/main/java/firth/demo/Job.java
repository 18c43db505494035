package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A simulated run under way: how far it is, and what comes of it. Positions grow at one pace in every engine of the demo. */
final class Job {

    static final double POSITIONS_PER_SECOND = 6;

    private static final double LOG_BYTES = 2e7;

    private final JsonNode task;
    private final Instant started;
    private final Instant ends;
    private final String store;
    private final ObjectNode run;

    /** @param lasts how long it will take */
    Job(JsonNode task, Instant started, Duration lasts, String store) {
        this.task = task;
        this.started = started;
        this.ends = started.plus(lasts);
        this.store = store;
        this.run = Json.MAPPER
                .createObjectNode()
                .put("type", "run")
                .put("id", task.path("run").asText())
                .put("database", task.path("database").asText())
                .put("kind", task.path("kind").asText())
                .put("trigger", task.path("trigger").asText())
                .put("started", started.toString());
        if (task.path("schedule").isTextual() && task.path("until").isTextual()) {
            run.putObject("slot")
                    .put("schedule", task.path("schedule").asText())
                    .put("opens", task.path("since").asText());
        }
    }

    String id() {
        return task.path("run").asText();
    }

    boolean isOver(Instant now) {
        return !now.isBefore(ends);
    }

    private double bytes() {
        return Math.max(4096, task.path("expectedBytes").asDouble());
    }

    /** The run as it stands: how much is read and written. */
    String running(Instant now) {
        double share = Math.min(
                1,
                (double) Duration.between(started, now).toMillis()
                        / Math.max(1, Duration.between(started, ends).toMillis()));
        note(now, share);
        return run.deepCopy().put("outcome", "running").toString();
    }

    private void note(Instant now, double share) {
        run.withArray("course")
                .addObject()
                .put("at", now.toString())
                .put("readBytes", Math.round(share * bytes() * DataRun.READ_PER_WRITTEN))
                .put("writtenBytes", Math.round(share * bytes()));
    }

    /** The run as it failed. */
    String failed(String message, Instant now) {
        return run.deepCopy()
                .put("ended", now.toString())
                .put("outcome", "failed")
                .put("message", message)
                .put("output", "opening " + store + "\n" + message)
                .toString();
    }

    /** The run as it ended well, and the backup that came of it. */
    List<String> done() {
        note(ends, 1);
        ObjectNode over = run.deepCopy().put("ended", ends.toString()).put("outcome", "ok");
        over.put(
                "output",
                "read " + Math.round(bytes() * DataRun.READ_PER_WRITTEN) + " bytes\nwrote " + Math.round(bytes())
                        + " bytes to " + store + "\ndone");
        List<String> out = new ArrayList<>(List.of(over.toString()));
        backups().forEach(b -> out.add(b.toString()));
        return out;
    }

    /** One data backup with the logs it needs to be consistent, one config backup, or a log of each stream. */
    List<ObjectNode> backups() {
        List<ObjectNode> out = new ArrayList<>();
        String kind = task.path("kind").asText();
        if (kind.equals("log")) {
            return logs(started, bytes());
        }
        ObjectNode data = backup("", bytes());
        Optional.ofNullable(task.path("parent").textValue()).ifPresent(p -> data.put("parent", p));
        if (!kind.equals("config") && !task.path("from").isEmpty()) {
            ObjectNode from = data.putObject("from");
            ObjectNode to = data.putObject("to");
            task.path("from").properties().forEach(s -> {
                from.put(s.getKey(), position(s.getValue(), started));
                to.put(s.getKey(), position(s.getValue(), ends));
            });
        }
        out.add(data);
        if (!kind.equals("config")) {
            out.addAll(logs(ends, LOG_BYTES));
        }
        return out;
    }

    /** A log a stream from where the last one ended. */
    private List<ObjectNode> logs(Instant until, double bytes) {
        List<ObjectNode> out = new ArrayList<>();
        for (Map.Entry<String, JsonNode> stream : task.path("from").properties()) {
            out.add(backup(":log:" + stream.getKey(), bytes / task.path("from").size())
                    .put("kind", "log")
                    .put("stream", stream.getKey())
                    .put("from", stream.getValue().path("position").asLong())
                    .put("to", position(stream.getValue(), until))
                    .put("fromTime", stream.getValue().path("time").asText())
                    .put("toTime", until.toString()));
        }
        return out;
    }

    private ObjectNode backup(String suffix, double bytes) {
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("type", "backup")
                .put("id", task.path("backup").asText() + suffix)
                .put("database", task.path("database").asText())
                .put("kind", task.path("kind").asText())
                .put("run", id())
                .put("lineage", task.path("lineage").asText())
                .put("started", started.toString())
                .put("ended", ends.toString())
                .put("bytes", Math.round(bytes))
                .put("bytesRead", Math.round(bytes * DataRun.READ_PER_WRITTEN))
                .put("compressed", true)
                .put("checksummed", true);
        out.putObject("encrypted").put("key", "quay-2026");
        out.putArray("copies")
                .addObject()
                .put("store", store)
                .put(
                        "path",
                        "/" + store + "/" + task.path("database").asText() + "/"
                                + out.path("id").asText())
                .put("landed", ends.toString());
        return out;
    }

    private static long position(JsonNode reached, Instant at) {
        Duration since = Duration.between(Instant.parse(reached.path("time").asText()), at);
        return reached.path("position").asLong() + Math.round(since.toMillis() / 1000.0 * POSITIONS_PER_SECOND);
    }

    JsonNode task() {
        return task;
    }
}
