package firth.runner.observed;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Positions;
import firth.core.stocktake.MemberSum;
import firth.engines.ObservedBackup;
import firth.engines.ObservedBackup.Member;
import firth.engines.ObservedDatabase;
import firth.exchange.Json;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What was observed in stores, put together as the lines of a fleet file. */
public final class ObservedFleet {

    private final Instant now;
    private final String by;
    private final Map<String, ObjectNode> databases = new LinkedHashMap<>();
    private final List<ObjectNode> backups = new ArrayList<>();

    /**
     * @param name gives the id of a database in the file
     * @param now when it was observed
     * @param by whom
     */
    public ObservedFleet(
            List<ObservedDatabase> found, Function<ObservedDatabase, String> name, Instant now, String by) {
        this.now = now;
        this.by = by;
        for (ObservedDatabase d : found) {
            String id = name.apply(d);
            databases.put(id, database(id, d));
            Map<String, Map<String, ObservedBackup>> copies = new TreeMap<>();
            for (ObservedBackup b : d.backups()) {
                copies.computeIfAbsent(b.name(), n -> new TreeMap<>())
                        .merge(b.store(), b, (one, other) -> holdsMore(other, one) ? other : one);
            }
            copies.values().forEach(of -> backups.add(backup(id, of.values())));
        }
    }

    private static boolean holdsMore(ObservedBackup a, ObservedBackup b) {
        return a.wrong().isEmpty() && (b.wrong().isPresent() || end(a) > end(b));
    }

    /** The stores something was found in. */
    public Set<String> stores() {
        Set<String> stores = new TreeSet<>();
        backups.forEach(
                b -> b.path("copies").forEach(c -> stores.add(c.path("store").asText())));
        return stores;
    }

    /** Statements of databases, by their ids. */
    public Map<String, ObjectNode> databases() {
        return databases;
    }

    public List<ObjectNode> backups() {
        return backups;
    }

    private static ObjectNode database(String id, ObservedDatabase d) {
        ObjectNode node = Json.MAPPER
                .createObjectNode()
                .put("type", "database")
                .put("id", id)
                .put("name", id)
                .put("engine", d.engine())
                .put("identity", d.identity())
                .put("zone", "UTC")
                .put("inServiceFrom", d.since().toString());
        for (Lineage l : d.lineages()) {
            ObjectNode lineage = node.withArray("lineages").addObject().put("id", l.id());
            l.parent().ifPresent(p -> lineage.put("parent", p));
            if (!l.forkPos().isEmpty()) {
                ObjectNode fork = lineage.putObject("forkPos");
                l.forkPos().forEach(fork::put);
            }
            l.openedAt().ifPresent(at -> lineage.put("openedAt", at.toString()));
        }
        return node;
    }

    /** The copy that holds most tells of the backup; one that holds less is spoiled. */
    private ObjectNode backup(String database, Collection<ObservedBackup> copies) {
        ObservedBackup b = copies.stream()
                .reduce((one, other) -> holdsMore(other, one) ? other : one)
                .orElseThrow();
        ObjectNode node = Json.MAPPER
                .createObjectNode()
                .put("type", "backup")
                .put("id", database + "/" + b.name())
                .put("database", database)
                .put("kind", b.kind().word());
        b.parent().ifPresent(p -> node.put("parent", database + "/" + p));
        node.put("started", b.started().toString())
                .put("ended", b.ended().toString())
                .put("bytes", b.bytes())
                .put("lineage", b.lineage());
        b.positions().ifPresent(p -> positions(node, p));
        b.written().ifPresent(w -> {
            ObjectNode written = node.putObject("written").put("from", w.from()).put("to", w.to());
            w.transactions().ifPresent(t -> written.put("transactions", t));
        });
        b.times().ifPresent(t -> node.put("fromTime", t.from().toString()).put("toTime", t.to().toString()));
        b.lastCommit().ifPresent(c -> node.put("lastCommit", c.toString()));
        if (b.kind() != Kind.LOG) {
            node.put("consistentAt", b.consistentAt().toString()).put("selfContained", b.selfContained());
        } else if (!b.sealed()) {
            node.put("sealed", false);
        }
        node.put("compressed", b.form().compressed());
        b.form()
                .key()
                .ifPresentOrElse(k -> node.putObject("encrypted").put("key", k), () -> node.put("encrypted", false));
        for (ObservedBackup c : copies) {
            copy(node.withArray("copies").addObject(), c, end(b));
        }
        return node;
    }

    private static long end(ObservedBackup b) {
        return b.positions().map(Positions::to).orElse(0L);
    }

    private static void positions(ObjectNode node, Positions p) {
        node.put("from", p.from()).put("to", p.to());
    }

    private void copy(ObjectNode node, ObservedBackup b, long end) {
        node.put("store", b.store())
                .put("path", b.path())
                .put("bytes", b.bytesAtPath())
                .put("landed", b.landed().toString());
        if (b.isDirectory()) {
            node.put(
                    "checksum",
                    MemberSum.of(b.members().stream().collect(Collectors.toMap(Member::path, Member::bytes))));
        }
        if (b.wrong().isPresent() || end(b) < end) {
            node.putObject("spoiled").put("found", now.toString());
        }
        node.putObject("evidence").put("is", b.evidence().word()).put("by", by).put("at", now.toString());
    }
}
