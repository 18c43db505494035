package firth.demo;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.stream.Stream;

/**
 * Lays the files of the stores that have an agent, once, as Firth's own record has them, and then does to some of them what
 * docs/demo.md tells: one was deleted behind everybody's back, one was cut short, one was never taken away, one nobody knows.
 */
final class Laying {

    static final List<String> STORES = List.of("quay-near", "south-near");

    private final Path stores;
    private final Map<String, Properties> locks = new HashMap<>();
    private String deletedBehind = "";
    private String cutShort = "";
    private String stillThere = "";
    private long stillThereBytes;

    private Laying(Path stores) {
        this.stores = stores;
    }

    /** Lays them where they do not lie yet; where it is interrupted, all of it is done again. */
    static void lay(Firth firth, Path tree) throws IOException, InterruptedException {
        Path done = tree.resolve("stores").resolve("laid");
        if (!Files.exists(done)) {
            Laying laying = new Laying(tree.resolve("stores"));
            try (Stream<String> lines = firth.export()) {
                for (Iterator<String> i = lines.iterator(); i.hasNext(); ) {
                    laying.line(i.next());
                }
            }
            laying.tell();
            Files.createFile(done);
        }
    }

    private void line(String line) throws IOException {
        if (line.contains("\"type\":\"backup\"")) {
            JsonNode backup = Json.MAPPER.readTree(line);
            for (JsonNode copy : backup.path("copies")) {
                if (STORES.contains(copy.path("store").asText()) && copy.hasNonNull("path")) {
                    copy(backup, copy);
                }
            }
        }
    }

    private void copy(JsonNode backup, JsonNode copy) throws IOException {
        String store = copy.path("store").asText();
        String path = copy.path("path").asText();
        long bytes = Math.round(copy.path("bytes").asDouble(backup.path("bytes").asDouble()));
        Instant ended = Instant.parse(backup.path("ended").asText());
        if (copy.hasNonNull("gone")) {
            if (backup.path("database").asText().equals("season-tickets") || stillThere.isEmpty()) {
                stillThere = path;
                stillThereBytes = bytes;
            }
            return;
        }
        new FilesOfStore(stores.resolve(store)).lay(path, bytes, ended);
        if (copy.hasNonNull("lockedUntil")) {
            locks.computeIfAbsent(store, s -> new Properties())
                    .setProperty(path, copy.path("lockedUntil").asText());
        }
        boolean lately = ended.isAfter(Instant.now().minus(Duration.ofDays(12)));
        if (lately
                && backup.path("kind").asText().equals("diff")
                && backup.path("database").asText().equals("crew-rota")) {
            deletedBehind = path;
        }
        if (lately
                && backup.path("kind").asText().equals("full")
                && backup.path("database").asText().equals("kiosk-north")) {
            cutShort = path;
        }
    }

    private void tell() throws IOException {
        for (Map.Entry<String, Properties> own : locks.entrySet()) {
            new FilesOfStore(stores.resolve(own.getKey())).lock(own.getValue());
        }
        FilesOfStore quay = new FilesOfStore(stores.resolve("quay-near"));
        if (!deletedBehind.isEmpty()) {
            quay.remove(deletedBehind);
        }
        if (!cutShort.isEmpty()) {
            quay.lay(cutShort, 12_288, Instant.now().minus(Duration.ofDays(2)));
        }
        if (stillThere.startsWith("/quay-near/")) {
            quay.lay(stillThere, stillThereBytes, Instant.now().minus(Duration.ofDays(40)));
        }
        quay.lay(
                "/quay-near/old-timetable/spring.dump",
                7_340_032_000L,
                Instant.now().minus(Duration.ofDays(210)));
    }
}
