package firth.runner.observed;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Evidence;
import firth.exchange.Json;
import firth.exchange.Texts;
import firth.exchange.Told;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** The backups of the round before: what of them is no longer there is told as gone, and what is as it was need not be told again. */
public final class LastRound {

    /** What has been gone for so long has been told of often enough. */
    private static final Duration REMEMBERED = Duration.ofDays(60);

    private static final String EVIDENCE = "evidence";
    private static final String COPIES = "copies";
    private static final String GONE = "gone";
    private static final String SPOILED = "spoiled";
    private static final String LANDED = "landed";

    /** The date of a file that landed later than that. */
    private static final String DATED = "dated";

    private final Path file;
    private final Map<String, Known> before = new TreeMap<>();

    /** A backup as it was told, and what it says. */
    private record Known(String line, ObjectNode backup) {}

    /** @param file where they are kept; none of them where it is not there yet */
    public LastRound(Path file) throws IOException {
        this.file = file;
        if (Files.isRegularFile(file)) {
            try (BufferedReader in = Files.newBufferedReader(file)) {
                for (String line = in.readLine(); line != null; line = in.readLine()) {
                    ObjectNode backup = (ObjectNode) Json.MAPPER.readTree(line);
                    before.put(backup.path("id").asText(), new Known(line, backup));
                }
            }
        }
    }

    /** A backup as it was told. */
    public Optional<ObjectNode> before(String id) {
        return Optional.ofNullable(before.get(id)).map(Known::backup);
    }

    /** All that were told. */
    public List<ObjectNode> backups() {
        return before.values().stream().map(Known::backup).toList();
    }

    /**
     * Of the stores that were looked through those that are empty all at once: mostly they are not mounted, so that nothing of them is
     * told as gone.
     *
     * @param found the stores in which something was found now
     * @param says takes that, of each
     */
    public Set<String> emptied(Set<String> found, Collection<String> looked, Consumer<String> says) {
        Set<String> empty = stores();
        empty.removeAll(found);
        empty.retainAll(looked);
        empty.forEach(s -> says.accept("Nothing was found in the store " + s
                + ", where there were backups before: is it mounted? Nothing of it is told as gone."));
        return empty;
    }

    /**
     * Whether a copy that was there is not among what was found.
     *
     * @param looked whether a store was looked through
     */
    public boolean misses(List<ObjectNode> found, Predicate<String> looked) {
        Map<String, Set<String>> there = new HashMap<>();
        for (ObjectNode b : found) {
            Set<String> in = there.computeIfAbsent(b.path("id").asText(), id -> new TreeSet<>());
            b.path(COPIES).forEach(c -> in.add(c.path("store").asText()));
        }
        for (Map.Entry<String, Known> e : before.entrySet()) {
            Set<String> in = there.getOrDefault(e.getKey(), Set.of());
            for (JsonNode c : e.getValue().backup().path(COPIES)) {
                String store = c.path("store").asText();
                if (!c.has(GONE) && looked.test(store) && !in.contains(store)) {
                    return true;
                }
            }
        }
        return false;
    }

    /** The stores in which there was something. */
    private Set<String> stores() {
        Set<String> out = new TreeSet<>();
        for (Known told : before.values()) {
            for (JsonNode c : told.backup().path(COPIES)) {
                if (!c.has(GONE)) {
                    out.add(c.path("store").asText());
                }
            }
        }
        return out;
    }

    /**
     * All backups of this round and of those before: a copy that is no longer found in a store that was looked through is gone.
     *
     * @param looked whether a store was looked through now
     */
    public List<ObjectNode> all(List<ObjectNode> found, Predicate<String> looked, Instant now) {
        Map<String, ObjectNode> out = new TreeMap<>();
        for (ObjectNode b : found) {
            out.put(b.path("id").asText(), b);
        }
        for (Map.Entry<String, Known> e : before.entrySet()) {
            ObjectNode old = e.getValue().backup().deepCopy();
            ObjectNode here = out.get(e.getKey());
            if (here == null && isLongGone(old, now)) {
                continue;
            }
            Map<String, JsonNode> there = new HashMap<>();
            if (here != null) {
                here.path(COPIES).forEach(c -> there.put(c.path("store").asText(), c));
            }
            ObjectNode into = here == null ? old : here;
            List<ObjectNode> missing = new ArrayList<>();
            for (JsonNode c : old.path(COPIES)) {
                JsonNode same = there.get(c.path("store").asText());
                ObjectNode copy = (ObjectNode) c;
                if (same == null) {
                    if (looked.test(copy.path("store").asText()) && !copy.has(GONE)) {
                        copy.put(GONE, now.toString());
                    }
                    missing.add(copy);
                    continue;
                }
                landed((ObjectNode) same, copy, now);
                if (unchanged((ObjectNode) same, copy)) {
                    ((ObjectNode) same).set(EVIDENCE, copy.path(EVIDENCE));
                    if (copy.has(SPOILED)) {
                        ((ObjectNode) same).set(SPOILED, copy.path(SPOILED));
                    }
                }
            }
            if (here != null) {
                missing.forEach(m -> into.withArray(COPIES).add(m));
            }
            out.put(e.getKey(), into);
        }
        return new ArrayList<>(out.values());
    }

    /**
     * A file that was moved or copied back keeps its date. What was told as lost and is there again has landed since, or it would stay
     * lost; and once told so, it stays so while the file has that date.
     */
    private static void landed(ObjectNode copy, ObjectNode before, Instant now) {
        String lost =
                before.path(GONE).asText(before.path(SPOILED).path("found").asText());
        String date = copy.path(LANDED).asText();
        boolean again =
                !lost.isEmpty() && !copy.has(SPOILED) && !Instant.parse(date).isAfter(Instant.parse(lost));
        if (again) {
            copy.put(LANDED, now.toString()).put(DATED, date);
        } else if (date.equals(before.path(DATED).asText())) {
            copy.put(LANDED, before.path(LANDED).asText()).put(DATED, date);
        }
    }

    private static boolean isLongGone(ObjectNode backup, Instant now) {
        Instant longAgo = now.minus(REMEMBERED);
        for (JsonNode copy : backup.path(COPIES)) {
            if (Texts.instant(copy.path(GONE).asText()).filter(longAgo::isAfter).isEmpty()) {
                return false;
            }
        }
        return true;
    }

    /** Whether nothing of a copy is new but when, or less closely, it was looked at: what was known of it before stays known. */
    private static boolean unchanged(ObjectNode now, ObjectNode before) {
        ObjectNode a = now.deepCopy();
        ObjectNode b = before.deepCopy();
        boolean same = evidence(a).compareTo(evidence(b)) <= 0;
        a.remove(List.of(EVIDENCE, SPOILED));
        b.remove(List.of(EVIDENCE, SPOILED));
        return same && now.has(SPOILED) == before.has(SPOILED) && a.toString().equals(b.toString());
    }

    /** Whether a backup was told before exactly as it is now. */
    public boolean told(ObjectNode backup) {
        Known known = before.get(backup.path("id").asText());
        return known != null && backup.toString().equals(known.line());
    }

    private static Evidence evidence(ObjectNode copy) {
        return Told.evidence(copy.toString()).is();
    }

    /** Keeps what was told, for the next round. */
    public void keep(List<ObjectNode> all) throws IOException {
        Path beside = file.resolveSibling(file.getFileName() + ".new");
        Files.createDirectories(file.toAbsolutePath().getParent());
        try (BufferedWriter out = Files.newBufferedWriter(beside, StandardCharsets.UTF_8)) {
            for (ObjectNode b : all) {
                out.write(b.toString());
                out.write('\n');
            }
        }
        Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }
}
