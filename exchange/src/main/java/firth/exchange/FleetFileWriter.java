package firth.exchange;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Positions;
import firth.core.model.Run;
import java.io.IOException;
import java.io.OutputStream;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;

/** Writes fleet files: what was read comes out again as the same facts, fields Firth does not know included. */
public final class FleetFileWriter implements AutoCloseable {

    private final OutputStream to;
    private final JsonGenerator out;

    /** Starts a fleet file; {@code to} is left open by {@link #close}. */
    public FleetFileWriter(OutputStream to) throws IOException {
        this.to = to;
        this.out = Json.MAPPER
                .getFactory()
                .createGenerator(to)
                .disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET)
                .setRootValueSeparator(null);
        out.writeRaw("{\"type\":\"firth\",\"version\":1}\n");
    }

    /** Writes a record that was kept as text. */
    public void write(String document) throws IOException {
        out.writeRaw(document);
        out.writeRaw('\n');
    }

    public void write(Run run) throws IOException {
        ObjectNode node = start("run", run.id(), run.database(), run.kind());
        run.trigger().ifPresent(t -> node.put("trigger", t.word()));
        run.slot()
                .ifPresent(s -> node.putObject("slot")
                        .put("schedule", s.schedule())
                        .put("opens", s.opens().toString()));
        node.put("started", run.started().toString());
        put(node, "ended", run.ended());
        node.put("outcome", run.outcome().word());
        run.message().ifPresent(m -> node.put("message", m));
        finish(node, run.rest());
    }

    public void write(Backup b) throws IOException {
        ObjectNode node = start("backup", b.id(), b.database(), b.kind());
        b.parent().ifPresent(p -> node.put("parent", p));
        b.run().ifPresent(r -> node.put("run", r));
        node.put("started", b.started().toString());
        node.put("ended", b.ended().toString());
        put(node, "bytes", b.bytes());
        b.lineage().ifPresent(l -> node.put("lineage", l));
        positions(node, b);
        b.times().ifPresent(t -> {
            node.put("fromTime", t.from().toString());
            node.put("toTime", t.to().toString());
        });
        if (!b.consistentAt().equals(b.ended())) {
            node.put("consistentAt", b.consistentAt().toString());
        }
        if (b.selfContained()) {
            node.put("selfContained", true);
        }
        if (b.streamed()) {
            node.put("streamed", true);
        }
        if (!b.lag().equals(Duration.ZERO)) {
            node.put("lag", b.lag().toString());
        }
        put(node, "verified", b.verified());
        if (!b.copies().isEmpty()) {
            b.copies().forEach(c -> node.withArray("copies").add(copy(c)));
        }
        finish(node, b.rest());
    }

    private static ObjectNode copy(Copy c) {
        ObjectNode node = Json.MAPPER.createObjectNode();
        node.put("store", c.store());
        if (c.statedLanding()) {
            node.put("landed", c.landed().toString());
        }
        put(node, "lockedUntil", c.lockedUntil());
        put(node, "gone", c.gone());
        c.spoiled().ifPresent(s -> {
            ObjectNode spoiled = node.putObject("spoiled");
            spoiled.put("found", s.found().toString());
            put(spoiled, "since", s.since());
        });
        put(node, "bytes", c.bytes());
        if (!c.rest().isEmpty()) {
            node.setAll(Json.object(c.rest()));
        }
        return node;
    }

    private static void positions(ObjectNode node, Backup b) {
        Positions main = b.positions().get(Database.DEFAULT_STREAM);
        if (b.kind() == Kind.LOG) {
            b.positions().forEach((stream, p) -> {
                node.put("stream", stream);
                node.put("from", p.from());
                node.put("to", p.to());
            });
        } else if (main != null && b.positions().size() == 1) {
            node.put("from", main.from());
            node.put("to", main.to());
        } else if (!b.positions().isEmpty()) {
            ObjectNode from = node.putObject("from");
            ObjectNode to = node.putObject("to");
            for (Map.Entry<String, Positions> p : new TreeMap<>(b.positions()).entrySet()) {
                from.put(p.getKey(), p.getValue().from());
                to.put(p.getKey(), p.getValue().to());
            }
        }
    }

    private static ObjectNode start(String type, String id, String database, Kind kind) {
        ObjectNode node = Json.MAPPER.createObjectNode();
        node.put("type", type);
        node.put("id", id);
        node.put("database", database);
        node.put("kind", kind.word());
        return node;
    }

    private void finish(ObjectNode node, String rest) throws IOException {
        if (!rest.isEmpty()) {
            node.setAll(Json.object(rest));
        }
        write(Json.MAPPER.writeValueAsString(node));
    }

    private static void put(ObjectNode node, String name, Optional<Instant> moment) {
        moment.ifPresent(m -> node.put(name, m.toString()));
    }

    private static void put(ObjectNode node, String name, OptionalDouble number) {
        number.ifPresent(n -> node.put(name, n));
    }

    @Override
    public void close() throws IOException {
        out.flush();
        to.flush();
    }
}
