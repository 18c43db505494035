package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Readiness;
import firth.core.findings.SharedPlace;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Place;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.exchange.FleetFileWriter;
import firth.exchange.ImportReport;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Facts into a real SQLite file and out again. */
class FactStoreTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:00Z");
    private static final String FLEET = """
            {"type":"site","id":"north","name":"Northquay","berths":3}
            {"type":"store","id":"n1","site":"north","medium":"disk","role":"near"}
            {"type":"policy","id":"p","version":1,"effectiveFrom":"2026-01-01T00:00:00Z","objective":{"mishap":"PT4H","reach":"P2D"},"retain":[{"role":"near","fulls":1}],"demands":{"compressed":true}}
            {"type":"database","id":"d","site":"north","zone":"UTC","policy":"p","inServiceFrom":"2026-01-01T00:00:00Z"}
            {"type":"run","id":"r","database":"d","kind":"log","started":"2026-01-02T06:00:00Z","ended":"2026-01-02T06:01:00Z","outcome":"failed","message":"full disk","course":[{"at":"2026-01-02T06:00:30Z","readBytes":1}]}
            {"type":"backup","id":"f","database":"d","kind":"full","started":"2026-01-02T00:00:00Z","ended":"2026-01-02T01:00:00Z","bytes":5000000000,"from":100,"to":120,"selfContained":true,"tint":"red","copies":[{"store":"n1","path":"/f","shelf":7,"lockedUntil":"2026-01-09T00:00:00Z"},{"store":"f9","landed":"2026-01-02T02:00:00Z","spoiled":{"found":"2026-01-03T00:00:00Z","since":null}}]}
            {"type":"backup","id":"l","database":"d","kind":"log","stream":"main","from":110,"to":180,"fromTime":"2026-01-02T00:30:00Z","toTime":"2026-01-02T04:00:00Z","verified":"2026-01-02T05:00:00Z","copies":[{"store":"n1"}]}
            {"type":"backup","id":"m","database":"other","kind":"full","ended":"2026-01-02T01:00:00Z","from":{"a":1,"b":2},"to":{"a":3,"b":4},"lag":"PT5S","copies":[]}
            {"type":"hold","id":"h","backup":"f","reason":"audit"}
            {"type":"drill","id":"q","database":"d","started":"2026-01-02T07:00:00Z","outcome":"ok"}
            """;

    @TempDir
    private Path directory;

    private FactStore store;

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void open() {
        store = FactStore.open(directory.resolve("firth.db"));
    }

    private record From(String source, Optional<Instant> newestFact) implements FactStore.Delivery {}

    private ImportReport take(String text) throws IOException {
        return store.write(
                catalog -> FleetFileReader.read(
                        new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "test", catalog),
                r -> new From("test", r.newestFact()),
                NOW);
    }

    private String export() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Snapshot snapshot = store.read();
                FleetFileWriter writer = new FleetFileWriter(out)) {
            for (String document : snapshot.documents()) {
                writer.write(document);
            }
            snapshot.runs(writer::write);
            snapshot.backups(writer::write);
        }
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void knowsThePlacesThatSeveralBackupsLieAt() throws IOException {
        take(FLEET);
        Instant landed = Instant.parse("2026-01-02T01:00:00Z");
        try (Snapshot snapshot = store.read()) {
            assertEquals(List.of(), snapshot.sharedPlaces(NOW));
            assertTrue(snapshot.rest("f").contains("\"tint\":\"red\""));
            assertEquals("", snapshot.rest("nobody"));
        }
        String other = """
                {"type":"backup","id":"g","database":"e","kind":"diff","run":"r9","ended":"2026-01-03T01:00:00Z","copies":[{"store":"n1","path":"f"%s}]}
                """;
        take(String.format(java.util.Locale.ROOT, other, ""));
        try (Snapshot snapshot = store.read()) {
            SharedPlace found = snapshot.sharedPlaces(NOW).get(0);
            assertEquals(new Place("n1", "f"), found.place());
            assertEquals(
                    List.of("f", "g"),
                    found.copies().stream().map(SharedPlace.Lying::backup).toList());
            assertEquals(Optional.of("r9"), found.last().run());
            assertTrue(found.concerns("d") && found.concerns("e"));
            assertEquals(List.of(), snapshot.sharedPlaces(landed), "the other has not landed yet");
        }
        take(String.format(java.util.Locale.ROOT, other, ",\"gone\":\"2026-01-04T00:00:00Z\""));
        try (Snapshot snapshot = store.read()) {
            assertEquals(List.of(), snapshot.sharedPlaces(NOW));
        }
    }

    @Test
    void importingTheSameAgainChangesNothing() throws IOException {
        ImportReport first = take(FLEET);
        assertEquals(10, first.added(), first.rejected().toString());
        ImportReport second = take(FLEET);
        assertEquals(10, second.unchanged());
        assertEquals(0, second.added() + second.updated());
    }

    @Test
    void whatCameInGoesOutAgainAsTheSameFacts() throws IOException {
        take(FLEET);
        String exported = export();
        assertTrue(exported.contains("\"tint\":\"red\""), exported);
        assertTrue(exported.contains("\"shelf\":7"), exported);
        assertTrue(exported.contains("\"readBytes\":1"), exported);
        assertTrue(exported.contains("\"demands\":{\"compressed\":true}"), exported);
        ImportReport again = take(exported);
        assertEquals(10, again.unchanged(), "the export says nothing new to where it came from");
        FactStore other = FactStore.open(directory.resolve("other.db"));
        FactStore mine = store;
        store = other;
        assertEquals(10, take(exported).added());
        assertEquals(exported, export(), "and a second export is the same text");
        store = mine;
    }

    @Test
    void aFileThatFailsHalfWayLeavesNothingBehind() throws IOException {
        take(FLEET);
        long changes = changesOf("d");
        assertThrows(
                IllegalStateException.class,
                () -> store.write(
                        catalog -> {
                            FleetFileReader.read(
                                    new ByteArrayInputStream(
                                            "{\"type\":\"site\",\"id\":\"lost\"}\n".getBytes(StandardCharsets.UTF_8)),
                                    "test",
                                    catalog);
                            throw new IllegalStateException("the line went dead");
                        },
                        r -> new From("test", Optional.empty()),
                        NOW));
        assertFalse(export().contains("lost"));
        assertEquals(changes, changesOf("d"));
    }

    private long changesOf(String database) {
        try (Snapshot snapshot = store.read()) {
            return snapshot.changes().getOrDefault(database, 0L);
        }
    }

    @Test
    void onlyDatabasesWhoseFactsChangedCountAsChanged() throws IOException {
        take(FLEET);
        long before = changesOf("d");
        take(
                "{\"type\":\"run\",\"id\":\"r2\",\"database\":\"other\",\"kind\":\"full\",\"started\":\"2026-01-02T06:00:00Z\","
                        + "\"outcome\":\"running\"}\n");
        assertEquals(before, changesOf("d"));
        assertEquals(2, changesOf("other"));
    }

    @Test
    void whatChangedSinceAViewIsFoundByItsNumber() throws IOException {
        take(FLEET);
        long before;
        try (Snapshot snapshot = store.read()) {
            before = snapshot.changeCount();
            assertEquals(Set.of(), snapshot.changedSince(before));
            assertEquals(snapshot.changes().keySet(), snapshot.changedSince(0));
        }
        String run =
                "{\"type\":\"run\",\"id\":\"r2\",\"database\":\"other\",\"kind\":\"full\",\"started\":\"2026-01-02T06:00:00Z\","
                        + "\"outcome\":\"running\"}\n";
        take(run);
        try (Snapshot snapshot = store.read()) {
            assertEquals(Set.of("other"), snapshot.changedSince(before));
            assertEquals(changesOf("d") + 2, snapshot.changesOf(List.of("d", "other", "nobody")));
            before = snapshot.changeCount();
        }
        take(run);
        take("{\"type\":\"site\",\"id\":\"late\"}\n");
        try (Snapshot snapshot = store.read()) {
            assertEquals(Set.of(""), snapshot.changedSince(before), "what was told again changed nothing");
            assertTrue(snapshot.changeCount() > before);
        }
    }

    @Test
    void aViewStaysAsItWasWhileOthersWrite() throws IOException {
        take(FLEET);
        try (Snapshot before = store.read()) {
            assertEquals(6, before.documents().size());
            take("{\"type\":\"site\",\"id\":\"late\"}\n");
            assertEquals(6, before.documents().size());
        }
        try (Snapshot after = store.read()) {
            assertEquals(7, after.documents().size());
        }
    }

    private static String probe(String at, boolean on) {
        return """
                {"type":"probe","id":"h1:d","database":"d","source":"runner on h1","at":"%s","scheduler":%s}
                """.formatted(at, on);
    }

    @Test
    void anEarlierProbeNeverTakesThePlaceOfALaterAndNoAnswerRestsOnOne() throws IOException {
        take(FLEET);
        long shared = changesOf("");
        assertEquals(1, take(probe("2026-01-05T00:00:00Z", true)).added());
        assertEquals(1, take(probe("2026-01-04T00:00:00Z", false)).unchanged());
        assertTrue(export().contains("\"scheduler\":true"));
        assertEquals(
                1, take(probe("2026-01-05T00:00:00Z", false)).updated(), "of one moment, the line that comes last");
        assertEquals(1, take(probe("2026-01-06T00:00:00Z", true)).updated());
        assertEquals(shared, changesOf(""));
    }

    @Test
    void theNewestDataBackupSaysWhetherItWasTakenByHand() throws IOException {
        take(FLEET);
        try (Snapshot snapshot = store.read()) {
            assertEquals(Readiness.Backed.NEVER, snapshot.backed("nobody"));
            Readiness.Backed known = snapshot.backed("d");
            assertEquals(OptionalDouble.of(5e9), known.fullBytes());
            assertEquals(
                    Optional.of(new Readiness.TakenBackup(Kind.FULL, Instant.parse("2026-01-02T01:00:00Z"), false)),
                    known.newest());
        }
        take("""
                {"type":"run","id":"hand","database":"d","kind":"diff","trigger":"hand","started":"2026-01-03T00:00:00Z","ended":"2026-01-03T01:00:00Z","outcome":"ok"}
                {"type":"backup","id":"g","database":"d","kind":"diff","parent":"f","run":"hand","bytes":7,"ended":"2026-01-03T01:00:00Z","copies":[]}
                """);
        try (Snapshot snapshot = store.read()) {
            Readiness.Backed known = snapshot.backed("d");
            assertEquals(OptionalDouble.of(5e9), known.fullBytes());
            assertEquals(
                    Optional.of(new Readiness.TakenBackup(Kind.DIFF, Instant.parse("2026-01-03T01:00:00Z"), true)),
                    known.newest());
        }
    }

    @Test
    void sourcesKnowTheirNewestFact() throws IOException {
        take(FLEET);
        take("{\"type\":\"site\",\"id\":\"late\"}\n");
        try (Snapshot snapshot = store.read()) {
            Snapshot.Source source = snapshot.sources().get(0);
            assertEquals("test", source.name());
            assertEquals(Optional.of(Instant.parse("2026-01-03T00:00:00Z")), source.newestFact());
        }
    }

    @Test
    void aFileThatIsNoDatabaseIsRefusedInASentence() throws IOException {
        Path file = directory.resolve("letter.txt");
        Files.writeString(file, "Dear harbour master, ".repeat(200));
        StoreFailure e = assertThrows(StoreFailure.class, () -> FactStore.open(file));
        assertTrue(e.getMessage().contains("letter.txt"), e.getMessage());
        assertTrue(Files.readString(file).startsWith("Dear"), "and is left alone");
    }

    /** Any order of lines gives the same facts, as far as they do not contradict each other. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5})
    void theOrderOfLinesSaysNothing(long seed) throws IOException {
        List<String> lines = Arrays.asList(FLEET.split("\n"));
        Collections.shuffle(lines, new Random(seed));
        take(String.join("\n", lines));
        MemoryCatalog memory = new MemoryCatalog();
        FleetFileReader.read(new ByteArrayInputStream(FLEET.getBytes(StandardCharsets.UTF_8)), "test", memory);
        Instant now = Instant.parse("2026-01-04T00:00:00Z");
        Span period = new Span(now.minus(Duration.ofDays(3)), now);
        Evaluation expected = Evaluation.of(memory.databases().get(0), memory.fleet(), now, period);
        try (Snapshot snapshot = store.read()) {
            Database d = expected.database();
            Fleet fleet = memory.fleet();
            Evaluation found = Evaluation.of(
                    new firth.core.history.DatabaseFacts(d, snapshot.history(d), List.of(), List.of()),
                    fleet,
                    now,
                    period);
            for (Hazard hazard : Hazard.values()) {
                assertEquals(
                        expected.under(hazard).restorable(), found.under(hazard).restorable());
            }
            assertEquals(Map.of("f", 1, "l", 1), copies(found));
            assertEquals(expected.gaps(), found.gaps());
            assertEquals(Optional.of("d"), snapshot.databaseOf("f"));
        }
    }

    private static Map<String, Integer> copies(Evaluation e) {
        Map<String, Integer> out = new java.util.TreeMap<>();
        for (int r = 0; r < e.retention().size(); r++) {
            out.merge(e.history().id(e.retention().backup(r)), 1, Integer::sum);
        }
        return out;
    }
}
