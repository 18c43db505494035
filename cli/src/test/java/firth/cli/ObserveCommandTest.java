package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.Json;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

class ObserveCommandTest {

    @TempDir
    Path directory;

    private Path store;
    private final StringWriter err = new StringWriter();

    @BeforeEach
    void copies() throws IOException, SQLException {
        store = Files.createDirectory(directory.resolve("store"));
        for (String day : List.of("28", "29")) {
            try (Connection c = DriverManager.getConnection(
                            "jdbc:sqlite:" + store.resolve("kiosk-2026-11-" + day + ".db"));
                    Statement s = c.createStatement()) {
                s.execute("create table sale(n integer primary key)");
            }
        }
    }

    private int observe(String... arguments) {
        String[] all = Stream.concat(
                        Stream.of(
                                "observe",
                                "--keep",
                                directory.resolve("kept").toString(),
                                "--output",
                                directory.resolve("out.ndjson").toString()),
                        Stream.of(arguments))
                .toArray(String[]::new);
        CommandLine line = FirthCommand.commandLine().setErr(new PrintWriter(err, true));
        return line.execute(all);
    }

    private List<JsonNode> written(String type) throws IOException {
        List<JsonNode> out = new ArrayList<>();
        for (String line : Files.readAllLines(directory.resolve("out.ndjson"))) {
            JsonNode node = Json.MAPPER.readTree(line);
            if (node.path("type").asText().equals(type)) {
                out.add(node);
            }
        }
        return out;
    }

    @Test
    void whatWasFoundIsAFleetFile() throws IOException {
        assertEquals(0, observe("n1=" + store, "--database", "kiosk", "--check"), err.toString());
        assertEquals("n1", written("store").get(0).path("id").asText());
        assertEquals("kiosk", written("database").get(0).path("id").asText());
        assertEquals("sqlite", written("database").get(0).path("engine").asText());
        assertEquals(2, written("backup").size());
        JsonNode copy = written("backup").get(0).path("copies").path(0);
        assertEquals("kiosk-2026-11-28.db", copy.path("path").asText());
        assertEquals("verified", copy.path("evidence").path("is").asText());
        StringWriter said = new StringWriter();
        CommandLine check = FirthCommand.commandLine().setOut(new PrintWriter(said, true));
        assertEquals(0, check.execute("check", directory.resolve("out.ndjson").toString()));
        assertTrue(said.toString().contains("kiosk"), said.toString());
    }

    @Test
    void aCopyThatIsNoLongerThereIsTold() throws IOException {
        observe("n1=" + store, "--database", "kiosk");
        Files.delete(store.resolve("kiosk-2026-11-28.db"));
        assertEquals(0, observe("n1=" + store, "--database", "kiosk"), err.toString());
        assertEquals(2, written("backup").size());
        assertTrue(written("backup").get(0).path("copies").path(0).has("gone"));
        assertFalse(written("backup").get(1).path("copies").path(0).has("gone"));
        String before = Files.readString(directory.resolve("out.ndjson"));
        observe("n1=" + store, "--database", "kiosk");
        assertEquals(before, Files.readString(directory.resolve("out.ndjson")), "a third look finds nothing new");
    }

    /** A file that is moved or copied back keeps its time; told with that, the copy would stay gone for ever. */
    @Test
    void aCopyThatIsThereAgainHasLandedAnew() throws IOException {
        Path copy = store.resolve("kiosk-2026-11-28.db");
        Files.setLastModifiedTime(copy, FileTime.from(Instant.parse("2026-11-28T01:00:00Z")));
        observe("n1=" + store, "--database", "kiosk", "--check");
        Files.move(copy, directory.resolve("aside"));
        observe("n1=" + store, "--database", "kiosk", "--check");
        Instant gone = Instant.parse(first().path("gone").asText());
        Files.move(directory.resolve("aside"), copy);
        observe("n1=" + store, "--database", "kiosk", "--check");
        landedAfter(gone);
    }

    @Test
    void aCopyThatIsWholeAgainHasLandedAnew() throws IOException {
        Path copy = store.resolve("kiosk-2026-11-28.db");
        FileTime written = FileTime.from(Instant.parse("2026-11-28T01:00:00Z"));
        Files.setLastModifiedTime(copy, written);
        observe("n1=" + store, "--database", "kiosk", "--check");
        byte[] whole = Files.readAllBytes(copy);
        Files.write(copy, Arrays.copyOf(whole, whole.length / 2));
        observe("n1=" + store, "--database", "kiosk", "--check");
        Instant found = Instant.parse(first().path("spoiled").path("found").asText());
        Files.write(copy, whole);
        Files.setLastModifiedTime(copy, written);
        observe("n1=" + store, "--database", "kiosk", "--check");
        landedAfter(found);
    }

    private void landedAfter(Instant lost) throws IOException {
        assertFalse(first().has("gone") || first().has("spoiled"), first().toString());
        assertTrue(Instant.parse(first().path("landed").asText()).isAfter(lost), first().toString());
        String before = Files.readString(directory.resolve("out.ndjson"));
        observe("n1=" + store, "--database", "kiosk", "--check");
        assertEquals(before, Files.readString(directory.resolve("out.ndjson")), "and then nothing is new");
    }

    private JsonNode first() throws IOException {
        return written("backup").get(0).path("copies").path(0);
    }

    @Test
    void whatHasBeenGoneForLongIsForgotten() throws IOException {
        observe("n1=" + store, "--database", "kiosk");
        Files.delete(store.resolve("kiosk-2026-11-28.db"));
        observe("n1=" + store, "--database", "kiosk");
        try (Stream<Path> kept = Files.walk(directory)) {
            for (Path p : kept.filter(f -> f.toString().endsWith(".backups")).toList()) {
                Files.writeString(
                        p, Files.readString(p).replaceAll("\"gone\":\"[^\"]*\"", "\"gone\":\"2020-01-01T00:00:00Z\""));
            }
        }
        observe("n1=" + store, "--database", "kiosk");
        assertEquals(1, written("backup").size());
    }

    @Test
    void aStoreThatIsSuddenlyEmptyLosesNothing() throws IOException {
        observe("n1=" + store, "--database", "kiosk");
        Files.delete(store.resolve("kiosk-2026-11-28.db"));
        Files.delete(store.resolve("kiosk-2026-11-29.db"));
        assertEquals(1, observe("n1=" + store, "--database", "kiosk"));
        assertTrue(err.toString().contains("is it mounted?"), err.toString());
        assertEquals(2, written("backup").size());
        assertFalse(written("backup").get(0).path("copies").path(0).has("gone"));
    }

    @Test
    void lookingLessCloselyUnlearnsNothing() throws IOException {
        observe("n1=" + store, "--database", "kiosk", "--check");
        observe("n1=" + store, "--database", "kiosk");
        assertEquals("verified", evidence());
        Files.setLastModifiedTime(
                store.resolve("kiosk-2026-11-28.db"), FileTime.from(Instant.parse("2026-11-30T00:00:00Z")));
        observe("n1=" + store, "--database", "kiosk");
        assertEquals("read", evidence(), "the file was written anew");
    }

    private String evidence() throws IOException {
        return first().path("evidence").path("is").asText();
    }

    @Test
    void theSameBackupInTwoStoresIsOneWithTwoCopies() throws IOException {
        Path far = Files.createDirectory(directory.resolve("far"));
        Files.copy(store.resolve("kiosk-2026-11-28.db"), far.resolve("kiosk-2026-11-28.db"));
        assertEquals(0, observe("n1=" + store, "f1=" + far), err.toString());
        assertEquals(2, written("store").size());
        assertEquals(2, written("backup").size());
        assertEquals(2, written("backup").get(0).path("copies").size());
    }

    @Test
    void pathsInAStoreOfSeveralDirectoriesAreToldFromTheOneAboveThem() throws IOException {
        Path more = Files.createDirectory(directory.resolve("more"));
        Files.move(store.resolve("kiosk-2026-11-29.db"), more.resolve("kiosk-2026-11-29.db"));
        assertEquals(0, observe("n1=" + store, "n1=" + more), err.toString());
        assertEquals(
                List.of("store/kiosk-2026-11-28.db", "more/kiosk-2026-11-29.db"),
                written("backup").stream()
                        .map(b -> b.path("copies").path(0).path("path").asText())
                        .sorted(Comparator.reverseOrder())
                        .toList());
    }

    @Test
    void ofACopyWithAWriteAheadLogTheSizeOfTheFileAtItsPathIsTold() throws IOException, SQLException {
        Path log = store.resolve("kiosk-2026-11-28.db-wal");
        Path live = directory.resolve("live.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + live);
                Statement s = c.createStatement()) {
            s.execute("pragma journal_mode = wal");
            s.execute("create table sale(n integer primary key)");
            Files.copy(live, store.resolve("kiosk-2026-11-28.db"), StandardCopyOption.REPLACE_EXISTING);
            Files.copy(directory.resolve("live.db-wal"), log);
        }
        assertEquals(0, observe("n1=" + store, "--database", "kiosk"), err.toString());
        long file = Files.size(store.resolve("kiosk-2026-11-28.db"));
        assertEquals(file, first().path("bytes").asLong(), "a listing gives each file its own size");
        assertEquals(
                file + Files.size(log), written("backup").get(0).path("bytes").asLong());
        assertFalse(first().has("checksum"));
    }

    @Test
    void whatIsNotReadIsNamed() throws IOException {
        Files.writeString(store.resolve("notes.txt"), "buy rope");
        assertEquals(1, observe("n1=" + store));
        assertTrue(err.toString().contains("notes.txt is no file of an engine Firth reads"), err.toString());
        assertEquals(2, written("backup").size());
        assertEquals(2, observe(store.resolve("nowhere").toString()));
        assertTrue(err.toString().contains("nowhere is no directory"), err.toString());
    }

    @Test
    void aFirthThatDoesNotAnswerIsSaid() {
        assertEquals(2, observe("n1=" + store, "--to", "http://127.0.0.1:9"));
        assertTrue(err.toString().contains("no Firth answers at http://127.0.0.1:9"), err.toString());
        assertEquals(2, observe("n1=" + store, "--to", "http://127.0.0.1:9"), "and nothing counts as told");
    }
}
