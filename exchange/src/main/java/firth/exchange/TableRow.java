package firth.exchange;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Mapping;
import firth.core.model.Outcome;
import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Turns the cells of one row of a table into a record of the exchange format. */
final class TableRow {

    private static final Set<String> MOMENTS = Set.of(
            "started", "ended", "fromTime", "toTime", "consistentAt", "verified", "landed", "lockedUntil", "gone");
    private static final Set<String> AMOUNTS = Set.of("bytes", "bytesRead", "parallel", "from", "to");
    private static final Set<String> FLAGS =
            Set.of("selfContained", "streamed", "compressed", "encrypted", "checksummed");
    private static final Set<String> TEXTS = Set.of(
            "id",
            "database",
            "kind",
            "trigger",
            "outcome",
            "message",
            "output",
            "parent",
            "run",
            "lineage",
            "stream",
            "lag",
            "note",
            "components",
            "copies",
            "store",
            "path",
            "checksum",
            "seconds",
            "type");
    private static final Set<String> OF_RUN =
            Set.of("id", "database", "kind", "trigger", "started", "ended", "outcome", "message", "output");

    /** Fields of a run that a backup of the same row does not take. */
    private static final Set<String> OF_RUN_ALONE = Set.of("trigger", "outcome", "message", "output");

    private static final List<String> OUTCOMES =
            Arrays.stream(Outcome.values()).map(Outcome::word).toList();

    /** Fields of the one copy a row may speak of. */
    private static final Set<String> OF_COPY = Set.of("store", "path", "checksum", "landed", "lockedUntil", "gone");

    private static final Map<String, BigDecimal> UNITS = Map.of(
            "kB", new BigDecimal("1e3"),
            "MB", new BigDecimal("1e6"),
            "GB", new BigDecimal("1e9"),
            "TB", new BigDecimal("1e12"),
            "KiB", new BigDecimal(1L << 10),
            "MiB", new BigDecimal(1L << 20),
            "GiB", new BigDecimal(1L << 30),
            "s", BigDecimal.ONE,
            "min", new BigDecimal(60),
            "h", new BigDecimal(3600));
    private static final Map<String, Boolean> YES_AND_NO = Map.of(
            "true", true, "yes", true, "y", true, "1", true, "false", false, "no", false, "n", false, "0", false);

    private final Mapping mapping;
    private final ZoneId zone;
    private final @Nullable DateTimeFormatter pattern;

    TableRow(Mapping mapping) {
        this.mapping = mapping;
        this.zone = mapping.zone().orElse(ZoneOffset.UTC);
        this.pattern = mapping.pattern()
                .map(p -> DateTimeFormatter.ofPattern(p, Locale.ENGLISH))
                .orElse(null);
    }

    /** Whether a column may point at a field, with a unit or without. */
    static boolean reads(String target) {
        String field = field(target);
        boolean known =
                MOMENTS.contains(field) || AMOUNTS.contains(field) || FLAGS.contains(field) || TEXTS.contains(field);
        return known && (!target.contains(":") || UNITS.containsKey(unit(target)));
    }

    private static String field(String target) {
        return target.contains(":") ? target.substring(0, target.indexOf(':')) : target;
    }

    private static String unit(String target) {
        return target.contains(":") ? target.substring(target.indexOf(':') + 1) : "";
    }

    /**
     * What a row says: a run, a backup, or a run and the backup it made. A row that tells of a run which did not go well is never a
     * backup, whatever the table is of.
     *
     * @throws BadField naming the column where a cell cannot be what its field wants
     */
    List<ObjectNode> records(Map<String, String> cells) {
        ObjectNode whole = whole(cells);
        boolean ok = !whole.has("outcome") || whole.path("outcome").asText().equals("ok");
        if (mapping.of().equals("run") || !ok) {
            return List.of(run(whole, mapping.of().equals("both")));
        }
        if (mapping.of().equals("backup")) {
            return List.of(whole.put("type", "backup"));
        }
        ObjectNode run = run(whole, true);
        ObjectNode backup =
                whole.deepCopy().put("type", "backup").put("run", run.path("id").asText());
        OF_RUN_ALONE.forEach(backup::remove);
        return List.of(run, backup);
    }

    /** The run a row speaks of. Where the row is of its backup too, the row's id is the backup's. */
    private static ObjectNode run(ObjectNode whole, boolean beside) {
        ObjectNode out = Json.MAPPER.createObjectNode().put("type", "run");
        whole.properties().stream()
                .filter(e -> OF_RUN.contains(e.getKey()))
                .forEach(e -> out.set(e.getKey(), e.getValue()));
        if (whole.has("run")) {
            out.set("id", whole.get("run"));
        } else if (beside && whole.has("id")) {
            out.put("id", whole.path("id").asText() + ":run");
        }
        if (beside && !out.has("outcome")) {
            out.put("outcome", "ok");
        }
        return out;
    }

    private ObjectNode whole(Map<String, String> cells) {
        ObjectNode out = Json.MAPPER.createObjectNode();
        ObjectNode copy = Json.MAPPER.createObjectNode();
        Map<String, String> headers = new HashMap<>();
        mapping.fixed().forEach((field, value) -> put(out, copy, field, field, value));
        cells.forEach((header, cell) -> {
            String target =
                    mapping.columns().isEmpty() ? header : mapping.columns().get(header);
            if (target != null && !cell.isBlank()) {
                headers.put(field(target), header);
                String word =
                        mapping.words().getOrDefault(field(target), Map.of()).getOrDefault(cell.trim(), cell.trim());
                put(out, copy, header, target, word);
            }
        });
        if (out.has("outcome") && !OUTCOMES.contains(out.path("outcome").asText())) {
            throw new BadField(
                    headers.getOrDefault("outcome", "outcome"),
                    "is none of " + String.join(", ", OUTCOMES) + ": "
                            + out.path("outcome").asText());
        }
        lasting(out, headers);
        if (!copy.isEmpty() && !out.has("copies")) {
            out.putArray("copies").add(copy);
        }
        if (!out.has("id") && out.has("database") && out.has("kind") && (out.has("started") || out.has("ended"))) {
            out.put("id", made(out));
        }
        return out;
    }

    /** A row without an id is known by its database, kind and time: the same row again is the same fact. */
    private static String made(ObjectNode out) {
        String at = out.path(out.has("started") ? "started" : "ended").asText();
        return out.path("database").asText() + "-" + out.path("kind").asText() + "-" + at;
    }

    /** How long it took, where the table says that and not when it ended, or not when it started. */
    private static void lasting(ObjectNode out, Map<String, String> headers) {
        if (out.has("seconds")) {
            double seconds = out.remove("seconds").asDouble();
            Duration took = Duration.ofMillis(Math.round(seconds * 1000));
            if (!out.has("ended") && out.has("started")) {
                out.put("ended", moment(out, headers, "started").plus(took).toString());
            } else if (!out.has("started") && out.has("ended")) {
                out.put("started", moment(out, headers, "ended").minus(took).toString());
            }
        }
    }

    private static Instant moment(ObjectNode out, Map<String, String> headers, String field) {
        return Texts.instant(out.path(field).asText())
                .orElseThrow(() -> new BadField(headers.getOrDefault(field, field), "is not a moment"));
    }

    private void put(ObjectNode out, ObjectNode copy, String header, String target, String value) {
        String field = field(target);
        ObjectNode to = OF_COPY.contains(field) ? copy : out;
        if (MOMENTS.contains(field)) {
            to.put(field, moment(header, value));
        } else if (AMOUNTS.contains(field) || field.equals("seconds")) {
            to.put(field, amount(header, value, unit(target)));
        } else if (FLAGS.contains(field)) {
            Boolean flag = YES_AND_NO.get(value.toLowerCase(Locale.ROOT));
            if (flag == null) {
                throw new BadField(header, "is neither yes nor no: " + value);
            }
            to.put(field, flag);
        } else if (field.equals("components")) {
            ArrayNode components = to.putArray(field);
            for (String c : value.split(Pattern.quote(" | "))) {
                components.add(c.trim());
            }
        } else if (field.equals("copies")) {
            copies(to.putArray(field), header, value);
        } else {
            to.put(field, value);
        }
    }

    private void copies(ArrayNode out, String header, String value) {
        for (String group : value.split(Pattern.quote(" | "))) {
            ObjectNode copy = out.addObject();
            for (String pair : group.split(";")) {
                int at = pair.indexOf('=');
                if (at < 1) {
                    throw new BadField(header, "has a copy that is not written as store=...;landed=...: " + group);
                }
                String name = pair.substring(0, at).trim();
                String text = pair.substring(at + 1).trim();
                if (name.equals("spoiled")) {
                    copy.putObject("spoiled").put("found", moment(header, text));
                } else if (name.equals("bytes")) {
                    copy.put(name, amount(header, text, ""));
                } else if (OF_COPY.contains(name)) {
                    copy.put(name, MOMENTS.contains(name) ? moment(header, text) : text);
                } else {
                    throw new BadField(header, "has a copy with something unknown: " + name);
                }
            }
        }
    }

    /** A moment as RFC 3339 says it; local times that do not exist move forward, those that occur twice are the first. */
    private String moment(String header, String value) {
        if (pattern == null) {
            return value;
        }
        try {
            return pattern.parseBest(value, java.time.OffsetDateTime::from, LocalDateTime::from)
                            instanceof LocalDateTime local
                    ? local.atZone(zone)
                            .toInstant()
                            .truncatedTo(ChronoUnit.MILLIS)
                            .toString()
                    : java.time.OffsetDateTime.parse(value, pattern).toInstant().toString();
        } catch (DateTimeException e) {
            throw new BadField(
                    header, "is not a time written as " + mapping.pattern().orElse("") + ": " + value);
        }
    }

    private static BigDecimal amount(String header, String value, String unit) {
        try {
            BigDecimal number =
                    new BigDecimal(value.replace(" ", "").replace("\u202f", "").replace("_", ""));
            BigDecimal scaled =
                    number.multiply(UNITS.getOrDefault(unit, BigDecimal.ONE)).stripTrailingZeros();
            return scaled.scale() < 0 ? scaled.setScale(0) : scaled;
        } catch (NumberFormatException e) {
            throw new BadField(header, "is not a number: " + value);
        }
    }
}
