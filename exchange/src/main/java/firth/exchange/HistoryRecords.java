package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import firth.core.model.Outcome;
import firth.core.model.Place;
import firth.core.model.Positions;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import firth.core.model.Trigger;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Reads runs and backups. */
final class HistoryRecords {

    private static final Map<String, Outcome> OUTCOMES = Map.of(
            "ok", Outcome.OK, "failed", Outcome.FAILED, "cancelled", Outcome.CANCELLED, "running", Outcome.RUNNING);

    /** Fields of a run that have a place of their own; the others of {@link #RUN} are kept as they came. */
    private static final Set<String> RUN_USED =
            Set.of("type", "id", "database", "kind", "trigger", "slot", "started", "ended", "outcome", "message");

    private static final Map<String, Trigger> TRIGGERS = Map.of("schedule", Trigger.SCHEDULE, "hand", Trigger.HAND);
    private static final Set<String> RUN = with(RUN_USED, "output", "course");
    private static final Set<String> BACKUP_USED = Set.of(
            "type",
            "id",
            "database",
            "kind",
            "parent",
            "run",
            "started",
            "ended",
            "bytes",
            "lineage",
            "stream",
            "from",
            "to",
            "fromTime",
            "toTime",
            "consistentAt",
            "selfContained",
            "streamed",
            "lag",
            "verified",
            "copies");
    private static final Set<String> BACKUP = with(
            BACKUP_USED,
            "lastCommit",
            "bytesRead",
            "parallel",
            "components",
            "compressed",
            "encrypted",
            "checksummed",
            "note",
            "sealed",
            "written");
    private static final Set<String> COPY_USED = Set.of("store", "landed", "lockedUntil", "gone", "spoiled", "bytes");
    static final Map<String, Evidence> EVIDENCE =
            Stream.of(Evidence.values()).collect(Collectors.toMap(Evidence::word, Function.identity()));

    private static final Set<String> COPY = with(COPY_USED, "path", "checksum", "evidence", "dated");

    private HistoryRecords() {}

    private static Set<String> with(Set<String> some, String... more) {
        Set<String> out = new HashSet<>(some);
        out.addAll(List.of(more));
        return Set.copyOf(out);
    }

    static Run run(Fields f) {
        f.warnUnknown(RUN);
        String id = f.requiredId("id");
        Optional<Instant> ended = f.instant("ended");
        Instant started =
                f.instant("started").or(() -> ended).orElseThrow(() -> f.bad("started", "is missing, and so is ended"));
        if (ended.filter(started::isAfter).isPresent()) {
            throw f.bad("ended", "lies before started");
        }
        Outcome outcome = f.word("outcome", OUTCOMES).orElseThrow(() -> f.bad("outcome", "is missing"));
        return new Run(
                id,
                f.requiredId("database"),
                f.word("kind", PolicyRecords.KINDS).orElseThrow(() -> f.bad("kind", "is missing")),
                f.word("trigger", TRIGGERS),
                f.object("slot").map(HistoryRecords::slot),
                started,
                outcome == Outcome.RUNNING ? Optional.empty() : ended,
                outcome,
                f.text("message"),
                f.rest(RUN_USED));
    }

    private static NamedSlot slot(Fields f) {
        return new NamedSlot(f.requiredId("schedule"), f.requiredInstant("opens"));
    }

    static Backup backup(Fields f) {
        f.warnUnknown(BACKUP);
        String id = f.requiredId("id");
        Kind kind = f.word("kind", PolicyRecords.KINDS).orElseThrow(() -> f.bad("kind", "is missing"));
        Optional<Backup.LogTimes> times = kind == Kind.LOG ? Optional.of(times(f)) : Optional.empty();
        Instant ended = f.instant("ended")
                .or(() -> times.map(Backup.LogTimes::to))
                .orElseThrow(() -> f.bad("ended", "is missing"));
        boolean streamed = f.flag("streamed", false);
        Instant started = f.instant("started")
                .or(() -> times.filter(t -> streamed).map(Backup.LogTimes::from))
                .orElse(ended);
        if (ended.isBefore(started)) {
            throw f.bad("ended", "lies before started");
        }
        return new Backup(
                id,
                f.requiredId("database"),
                kind,
                f.id("parent"),
                f.id("run"),
                started,
                ended,
                f.amount("bytes"),
                f.id("lineage"),
                kind == Kind.LOG ? logPositions(f) : dataPositions(f),
                times,
                f.instant("consistentAt").orElse(ended),
                f.flag("selfContained", false),
                streamed,
                f.duration("lag").orElse(Duration.ZERO),
                f.instant("verified"),
                copies(f, ended),
                f.rest(BACKUP_USED));
    }

    private static Backup.LogTimes times(Fields f) {
        Instant from = f.requiredInstant("fromTime");
        Instant to = f.requiredInstant("toTime");
        if (to.isBefore(from)) {
            throw f.bad("toTime", "lies before fromTime");
        }
        if (f.instant("lastCommit").filter(to::isBefore).isPresent()) {
            throw f.bad("lastCommit", "lies after toTime");
        }
        return new Backup.LogTimes(from, to);
    }

    private static Map<String, Positions> logPositions(Fields f) {
        String stream = f.text("stream").orElse(Database.DEFAULT_STREAM);
        if (!f.has("from") || !f.has("to")) {
            throw f.bad(f.has("from") ? "to" : "from", "is missing: a log says which positions it contains");
        }
        return Map.of(stream, positions(f, "", f.value("from"), f.value("to")));
    }

    /** Positions of a data backup: none, a number for the stream main, or numbers by stream. */
    private static Map<String, Positions> dataPositions(Fields f) {
        if (!f.has("to")) {
            if (f.has("from")) {
                throw f.bad("to", "is missing, though from is there");
            }
            return Map.of();
        }
        JsonNode to = f.value("to");
        JsonNode from = f.has("from") ? f.value("from") : to;
        if (!to.isObject()) {
            return Map.of(Database.DEFAULT_STREAM, positions(f, "", from, to));
        }
        Map<String, Positions> out = new LinkedHashMap<>();
        for (Map.Entry<String, JsonNode> entry : to.properties()) {
            JsonNode own = from.path(entry.getKey());
            out.put(
                    entry.getKey(),
                    positions(f, "." + entry.getKey(), own.isMissingNode() ? entry.getValue() : own, entry.getValue()));
        }
        for (Iterator<String> names = from.fieldNames(); names.hasNext(); ) {
            String name = names.next();
            if (!out.containsKey(name)) {
                throw f.bad("to." + name, "is missing, though from." + name + " is there");
            }
        }
        return out;
    }

    private static Positions positions(Fields f, String suffix, JsonNode from, JsonNode to) {
        long high = f.position("to" + suffix, to);
        long low = f.position("from" + suffix, from);
        if (low > high) {
            throw f.bad("to" + suffix, "is smaller than from: positions never run backwards");
        }
        return new Positions(low, high);
    }

    private static List<Copy> copies(Fields f, Instant ended) {
        List<Copy> copies = f.objects("copies", c -> copy(c, ended));
        Set<String> stores = new HashSet<>();
        for (Copy c : copies) {
            if (!stores.add(c.store())) {
                throw f.bad("copies.store", "names the store " + c.store() + " twice");
            }
        }
        return copies;
    }

    /** What is known by more than a word says who found it so, and when. */
    private static Evidence evidence(Fields f) {
        return f.object("evidence")
                .map(e -> {
                    Evidence is = e.word("is", EVIDENCE).orElse(Evidence.TOLD);
                    if (is != Evidence.TOLD
                            && (e.text("by").isEmpty() || e.instant("at").isEmpty())) {
                        throw f.bad("evidence", "says " + is.word() + " and not by whom and when it was found so");
                    }
                    return is;
                })
                .orElse(Evidence.TOLD);
    }

    private static Copy copy(Fields f, Instant ended) {
        f.warnUnknown(COPY);
        Optional<Instant> landed = f.instant("landed");
        f.text("path").flatMap(Place::flaw).ifPresent(flaw -> {
            throw f.bad("path", flaw);
        });
        OptionalDouble bytes = f.amount("bytes");
        String rest = f.rest(COPY_USED);
        return new Copy(
                f.requiredId("store"),
                landed.orElse(ended),
                landed.isPresent(),
                f.instant("lockedUntil"),
                f.instant("gone"),
                f.object("spoiled").map(s -> new Spoilage(s.requiredInstant("found"), s.instant("since"))),
                bytes,
                evidence(f),
                rest);
    }
}
