package firth.demo;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Looks at the databases of a host and at the stores they write to, as the stand-in runner there would. */
final class Prober {

    private final Path tree;

    Prober(Path tree) {
        this.tree = tree;
    }

    /** The hosts there are. */
    List<String> hosts() throws IOException {
        return names(tree.resolve("hosts"));
    }

    private static List<String> names(Path directory) throws IOException {
        try (Stream<Path> entries = Files.list(directory)) {
            return entries.map(e -> e.getFileName().toString()).sorted().toList();
        }
    }

    /** What stands to be reported of a host at a moment, as lines of a fleet file. */
    List<String> probe(String host, Instant at) throws IOException {
        List<String> out = new ArrayList<>();
        for (String id : names(tree.resolve("hosts").resolve(host))) {
            out.add(line(host, id, at.truncatedTo(ChronoUnit.SECONDS)));
        }
        return out;
    }

    private String line(String host, String id, Instant at) throws IOException {
        SimulatedDatabase database =
                new SimulatedDatabase(tree.resolve("hosts").resolve(host).resolve(id));
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("type", "probe")
                .put("id", host + ":" + id)
                .put("database", id)
                .put("source", "runner on " + host)
                .put("at", at.toString())
                .put("logs", logs(database))
                .put("scheduler", database.setting("scheduler").equals("on"))
                .put("client", database.setting("client"))
                .put("server", database.setting("server"));
        out.set(
                "rights",
                Json.MAPPER
                        .createObjectNode()
                        .<ObjectNode>set("held", Json.MAPPER.valueToTree(database.settings("account.held")))
                        .set("needed", Json.MAPPER.valueToTree(database.settings("account.needed"))));
        out.set("processes", Json.MAPPER.valueToTree(database.processes()));
        out.putObject("names")
                .put("engine", database.setting("name"))
                .put("scheduler", database.setting("name.scheduler"));
        database.logDisk()
                .ifPresent(d -> out.putObject("logDisk")
                        .put("freeBytes", d.free())
                        .put("fillBytesPerSecond", d.fillPerSecond()));
        for (String store : database.setting("stores").split(",")) {
            out.withArray("destinations").add(destination(store, id));
        }
        return Json.MAPPER.writeValueAsString(out);
    }

    private static String logs(SimulatedDatabase database) {
        String running = database.setting("logs.running");
        return running.equals(database.setting("logs.configured")) ? running : "waiting-for-restart";
    }

    /** Writes a file there, reads it back and takes it away again. */
    private ObjectNode destination(String name, String database) throws IOException {
        SimulatedStore store = new SimulatedStore(tree.resolve("stores").resolve(name));
        ObjectNode out = Json.MAPPER.createObjectNode().put("store", name).put("reached", store.isThere());
        if (!store.isThere()) {
            return out;
        }
        byte[] content = "written to see whether it can be".getBytes(StandardCharsets.UTF_8);
        try {
            Path file = store.write(database, "firth-probe", content);
            boolean whole = java.util.Arrays.equals(content, Files.readAllBytes(file));
            Files.delete(file);
            out.put("written", whole);
        } catch (IOException refused) {
            out.put("written", false).put("message", refused.getMessage());
        }
        return out.put("freeBytes", store.freeBytes(database)).put("host", store.host());
    }
}
