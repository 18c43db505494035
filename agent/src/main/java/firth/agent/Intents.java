package firth.agent;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What the agent is about to delete, noted on the disk before it does: after dying it can tell what it deleted from what was gone
 * before, and puts back what it had only taken aside.
 */
public class Intents {

    private static final String PATH = "path";
    private static final String ASIDE = "aside";
    private static final String STAGE = "stage";

    /** How far a deletion has come. */
    enum Stage {
        /** Taken aside, to be looked at once more where nobody else finds it. */
        ASIDE,
        /** Found to be right: it goes. */
        GOING,
        /** Gone. */
        GONE,
        /** In its place still, or again. */
        STAYS
    }

    /**
     * One deletion.
     *
     * @param aside under which name it was taken aside, in the same directory
     * @param bytes what it takes up
     */
    record Intent(String deed, String path, String aside, long bytes, Stage stage) {
        private Intent at(Stage next) {
            return new Intent(deed, path, aside, bytes, next);
        }
    }

    private final Path file;
    private final Map<String, Intent> all = new LinkedHashMap<>();

    /** Those that are noted in a file. A last line that was not written to its end says nothing. */
    public Intents(Path file) throws IOException {
        this.file = file;
        if (Files.isRegularFile(file)) {
            for (String line : Files.readAllLines(file)) {
                read(line);
            }
        }
    }

    private void read(String line) {
        JsonNode node;
        try {
            node = Json.MAPPER.readTree(line);
        } catch (IOException cutOff) {
            return;
        }
        String deed = node.path("deed").asText();
        if (!deed.isEmpty() && node.has(STAGE)) {
            all.put(
                    deed,
                    new Intent(
                            deed,
                            node.path(PATH).asText(),
                            node.path(ASIDE).asText(),
                            node.path("bytes").asLong(),
                            Stage.valueOf(node.path(STAGE).asText())));
        }
    }

    /** Notes that something is taken aside; it is on the disk when this returns. */
    void aside(Storage.Doomed what, String aside, long bytes) throws IOException {
        note(new Intent(what.deed(), what.path(), aside, bytes, Stage.ASIDE));
    }

    /** Notes how far one has come. */
    void reached(String deed, Stage stage) throws IOException {
        Intent known = all.get(deed);
        if (known != null && known.stage() != stage) {
            note(known.at(stage));
        }
    }

    private void note(Intent intent) throws IOException {
        all.put(intent.deed(), intent);
        // A line that the last death cut off must not take this one with it.
        Files.writeString(
                file,
                "\n" + line(intent) + "\n",
                StandardCharsets.UTF_8,
                StandardOpenOption.CREATE,
                StandardOpenOption.APPEND,
                StandardOpenOption.SYNC);
    }

    private static String line(Intent intent) {
        return Json.MAPPER
                .createObjectNode()
                .put("deed", intent.deed())
                .put(PATH, intent.path())
                .put(ASIDE, intent.aside())
                .put("bytes", intent.bytes())
                .put(STAGE, intent.stage().name())
                .toString();
    }

    Optional<Intent> of(String deed) {
        return Optional.ofNullable(all.get(deed));
    }

    /** Those that did not come to an end. */
    List<Intent> open() {
        return all.values().stream()
                .filter(i -> i.stage() == Stage.ASIDE || i.stage() == Stage.GOING)
                .toList();
    }

    /** Forgets what Firth has been told of, but for what is still to be put right. */
    void told(Collection<String> deeds) throws IOException {
        Set<String> over = new HashSet<>(deeds);
        open().forEach(i -> over.remove(i.deed()));
        if (all.keySet().removeAll(over)) {
            List<String> lines = new ArrayList<>();
            all.values().forEach(i -> lines.add(line(i)));
            Path beside = file.resolveSibling(file.getFileName() + ".new");
            Files.write(
                    beside,
                    lines,
                    StandardOpenOption.CREATE,
                    StandardOpenOption.TRUNCATE_EXISTING,
                    StandardOpenOption.WRITE,
                    StandardOpenOption.SYNC);
            Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        }
    }
}
