package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.model.Assignment;
import firth.core.model.Component;
import firth.core.model.Database;
import firth.core.model.Lineage;
import firth.core.model.Particulars;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

/** Reads databases. */
final class DatabaseRecords {

    private DatabaseRecords() {}

    static Database database(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "name",
                "engine",
                "identity",
                "host",
                "system",
                "site",
                "zone",
                "policy",
                "assigned",
                "route",
                "standbyOf",
                "inServiceFrom",
                "streams",
                "sizeBytes",
                "replayBytesPerSecond",
                "labels",
                "owner",
                "components",
                "stopped",
                "lineages",
                "retired"));
        String id = f.requiredId("id");
        List<String> streams = f.texts("streams");
        if (new HashSet<>(streams).size() < streams.size()) {
            throw f.bad("streams", "names a stream twice");
        }
        List<Lineage> lineages = f.objects("lineages", DatabaseRecords::lineage);
        check(f, lineages);
        return new Database(
                id,
                f.text("name").orElse(id),
                f.text("engine"),
                f.id("site"),
                zone(f),
                f.id("policy"),
                f.objects("assigned", a -> new Assignment(a.id("policy"), a.requiredInstant("from"))),
                f.requiredInstant("inServiceFrom"),
                streams.isEmpty() ? List.of(Database.DEFAULT_STREAM) : streams,
                f.amount("sizeBytes"),
                f.rate("replayBytesPerSecond"),
                f.objects("stopped", DatabaseRecords::stop),
                lineages.isEmpty() ? List.of(Lineage.FIRST) : lineages,
                particulars(f));
    }

    /** Nothing is judged by these, so none of them is a reason to refuse a database. */
    private static Particulars particulars(Fields f) {
        Map<String, String> labels = new LinkedHashMap<>();
        f.value("labels").properties().forEach(l -> plain(l.getValue()).ifPresent(t -> labels.put(l.getKey(), t)));
        return new Particulars(
                plain(f.value("identity")),
                plain(f.value("host")),
                plain(f.value("system")),
                plain(f.value("owner")),
                labels,
                plain(f.value("standbyOf")),
                plain(f.value("route")),
                f.instant("retired"),
                components(f));
    }

    /** Parts without a name are nobody's. */
    private static List<Component> components(Fields f) {
        List<Component> out = new ArrayList<>();
        for (JsonNode c : f.value("components")) {
            plain(c.path("name"))
                    .ifPresent(name -> out.add(new Component(
                            name,
                            plain(c.path("kind")),
                            c.path("bytes").isNumber() && c.path("bytes").doubleValue() >= 0
                                    ? OptionalDouble.of(c.path("bytes").doubleValue())
                                    : OptionalDouble.empty())));
        }
        return out;
    }

    private static Optional<String> plain(JsonNode value) {
        return value.isValueNode() && !value.isNull() && !value.asText().isBlank()
                ? Optional.of(value.asText())
                : Optional.empty();
    }

    private static ZoneId zone(Fields f) {
        Optional<String> zone = f.text("zone");
        if (zone.isEmpty()) {
            f.warn("zone", "is missing: local times are taken as UTC");
        }
        try {
            return ZoneId.of(zone.orElse("UTC"));
        } catch (DateTimeException e) {
            throw f.bad("zone", "is not an IANA time zone such as Europe/Lisbon");
        }
    }

    private static Database.Stop stop(Fields f) {
        Instant from = f.requiredInstant("from");
        Optional<Instant> to = f.instant("to");
        if (to.filter(from::isAfter).isPresent()) {
            throw f.bad("to", "lies before from");
        }
        return new Database.Stop(from, to);
    }

    private static Lineage lineage(Fields f) {
        Map<String, Long> forkPos = new LinkedHashMap<>();
        JsonNode fork = f.value("forkPos");
        if (fork.isNumber()) {
            forkPos.put(Database.DEFAULT_STREAM, f.position("forkPos", fork));
        } else if (fork.isObject()) {
            for (Map.Entry<String, JsonNode> entry : fork.properties()) {
                forkPos.put(entry.getKey(), f.position("forkPos." + entry.getKey(), entry.getValue()));
            }
        } else if (!fork.isMissingNode() && !fork.isNull()) {
            throw f.bad("forkPos", "is neither a position nor positions by stream");
        }
        return new Lineage(f.requiredId("id"), f.id("parent"), forkPos, f.instant("openedAt"));
    }

    private static void check(Fields f, List<Lineage> lineages) {
        Set<String> known = new HashSet<>();
        for (Lineage l : lineages) {
            boolean first = known.isEmpty();
            if (!first && l.openedAt().isEmpty()) {
                throw f.bad("lineages.openedAt", "is missing: when did lineage " + l.id() + " open?");
            }
            if (l.parent().isPresent() && l.forkPos().isEmpty()) {
                throw f.bad("lineages.forkPos", "is missing: where did lineage " + l.id() + " leave its parent?");
            }
            if (l.parent().filter(p -> !known.contains(p)).isPresent()) {
                throw f.bad("lineages.parent", "is not a lineage listed before " + l.id());
            }
            if (!known.add(l.id())) {
                throw f.bad("lineages.id", "names the lineage " + l.id() + " twice");
            }
        }
    }
}
