package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.AgeKey;
import firth.engines.Keys;
import firth.engines.Observer;
import firth.engines.Packed;
import firth.engines.sqlite.SqliteFiles;
import firth.exchange.Json;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CarryingTest {

    @TempDir
    private Path directory;

    private Path database;
    private final Map<String, StoreDirectory> stores = new TreeMap<>();
    private final List<String> said = new ArrayList<>();

    @BeforeEach
    void layOut() throws Exception {
        database = directory.resolve("sheds.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + database);
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE shed (n INTEGER PRIMARY KEY)");
            s.execute("INSERT INTO shed VALUES (1), (2)");
        }
        for (String id : List.of("near", "other", "far")) {
            stores.put(id, new StoreDirectory(id, Files.createDirectory(directory.resolve(id))));
        }
        Files.createDirectory(state());
    }

    private Path state() {
        return directory.resolve("state");
    }

    /** A program started anew over what the one before kept. */
    private Carrying started(Instance instance) throws IOException {
        return started(instance, Rules.NONE);
    }

    private Carrying started(Instance instance, Rules rules) throws IOException {
        return started(instance, rules, Carrying.Sealing.NONE);
    }

    private Carrying started(Instance instance, Rules rules, Carrying.Sealing sealing) throws IOException {
        Shelves shelves = new Shelves(
                "sheds",
                () -> new Observer(List.of(new SqliteFiles()), sealing.keys()),
                List.copyOf(stores.values()),
                Optional.empty(),
                state(),
                Clock.systemUTC(),
                said::add);
        return new Carrying(
                instance,
                stores,
                shelves,
                new Begun(state()),
                new Outbox(state(), said::add),
                state(),
                rules,
                sealing,
                Clock.systemUTC(),
                said::add);
    }

    private Carrying started() throws IOException {
        return started(new SqliteInstance(database, Clock.systemUTC()));
    }

    private static Task task(String run, String kind, String stores) throws IOException {
        return task(run, kind, stores, Instant.now().truncatedTo(ChronoUnit.MILLIS));
    }

    private static Task task(String run, String kind, String stores, Instant started) throws IOException {
        return new Task(
                Json.MAPPER.readTree("{\"run\":\"" + run + "\",\"backup\":\"" + run
                        + ":backup\",\"database\":\"sheds\",\"kind\":\"" + kind
                        + "\",\"trigger\":\"schedule\",\"schedule\":\"fulls\",\"since\":\"2026-11-30T10:00:00Z\",\"stores\":"
                        + stores + ",\"copies\":[\"far\"]}"),
                started);
    }

    private static final String NEAR = "[\"near\",\"other\"]";

    /** What is to be told of a type, the latest of each id. */
    private Map<String, JsonNode> told(String type) throws IOException {
        Map<String, JsonNode> out = new TreeMap<>();
        for (String line : Files.readAllLines(state().resolve("to-tell.ndjson"))) {
            if (!line.isBlank()) {
                JsonNode node = Json.MAPPER.readTree(line);
                if (node.path("type").asText().equals(type)) {
                    out.put(node.path("id").asText(), node);
                }
            }
        }
        return out;
    }

    private List<String> files(String store) throws IOException {
        try (Stream<Path> all = Files.walk(directory.resolve(store))) {
            return all.filter(Files::isRegularFile)
                    .map(p -> directory.resolve(store).relativize(p).toString())
                    .sorted()
                    .toList();
        }
    }

    private void carryOut(Carrying carrying, Task task) throws Exception {
        carrying.begin(task);
        carrying.carryOut(task);
    }

    @Test
    void twoOfOneSecondLieBesideEachOther() throws Exception {
        Carrying carrying = started();
        Instant second = Instant.now().truncatedTo(ChronoUnit.SECONDS);
        carryOut(carrying, task("one", "full", NEAR, second));
        carryOut(carrying, task("two", "full", NEAR, second.plusMillis(1)));
        told("run")
                .values()
                .forEach(run -> assertEquals("ok", run.path("outcome").asText(), run.toString()));
        assertEquals(2, files("near").size());
        assertEquals(2, told("backup").size());
    }

    @Test
    void aFullIsToldWithItsRunAndCopiedOn() throws Exception {
        Instant before = Instant.now();
        carryOut(started(), task("r", "full", NEAR));
        JsonNode run = told("run").get("r");
        assertEquals("ok", run.path("outcome").asText(), run.toString());
        assertEquals("2026-11-30T10:00:00Z", run.path("slot").path("opens").asText());
        assertEquals(1, told("backup").size());
        JsonNode backup = told("backup").values().iterator().next();
        assertEquals("r", backup.path("run").asText());
        assertEquals(2, backup.path("copies").size(), backup.toString());
        for (JsonNode copy : backup.path("copies")) {
            assertEquals("firth runner", copy.path("evidence").path("by").asText());
            assertEquals("read", copy.path("evidence").path("is").asText());
        }
        Instant consistent = Instant.parse(backup.path("consistentAt").asText());
        assertFalse(consistent.isAfter(Instant.parse(run.path("ended").asText())), "not when it was done, but begun");
        assertFalse(consistent.isBefore(before.minusMillis(1)));
        assertEquals(files("near"), files("far"));
        assertEquals(List.of(), files("other"));
        assertEquals(List.of(), said);
    }

    @Test
    void aFullIsCompressedWhereThatIsDemanded() throws Exception {
        Rules demanding = id -> new Rules.Asked(Rules.Speed.FREE, true, Optional.empty());
        carryOut(started(new SqliteInstance(database, Clock.systemUTC()), demanding), task("r", "full", NEAR));
        JsonNode backup = told("backup").values().iterator().next();
        assertTrue(backup.path("compressed").asBoolean(), backup.toString());
        List<String> files = files("near");
        assertEquals(1, files.size(), files.toString());
        assertTrue(files.get(0).endsWith(".db.zst"), files.toString());
        Path plain = directory.resolve("plain.db");
        try (InputStream in = Packed.open(directory.resolve("near").resolve(files.get(0)), Keys.NONE)) {
            Files.copy(in, plain);
        }
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + plain);
                Statement s = c.createStatement()) {
            assertEquals(2, s.executeQuery("SELECT count(*) FROM shed").getInt(1));
        }
        assertEquals(files, files("far"));
    }

    @Test
    void withAKeyNothingOfItLiesInAStoreAsItIs() throws Exception {
        Keys keys = Keys.of(Map.of("quay-2026", AgeKey.write(directory.resolve("quay.key"))));
        Carrying.Sealing sealing = new Carrying.Sealing(keys, Optional.of("quay-2026"));
        Instance watched = new SqliteInstance(database, Clock.systemUTC()) {
            @Override
            public String take(Kind kind, Optional<Path> parent, Path into, Course course) throws Trouble {
                assertTrue(into.startsWith(state()), into.toString());
                return super.take(kind, parent, into, course);
            }
        };
        Rules demanding = id -> new Rules.Asked(Rules.Speed.FREE, true, Optional.empty());
        carryOut(started(watched, demanding, sealing), task("r", "full", NEAR));
        carryOut(started(watched, Rules.NONE, sealing), task("s", "full", NEAR));
        for (JsonNode backup : told("backup").values()) {
            assertEquals("quay-2026", backup.path("encrypted").path("key").asText(), backup.toString());
            assertEquals(
                    "read",
                    backup.path("copies").path(0).path("evidence").path("is").asText());
        }
        List<String> files = files("near");
        assertTrue(files.get(0).endsWith(".db.zst.age") && files.get(1).endsWith(".db.age"), files.toString());
        assertEquals(files, files("far"));
        Path plain = directory.resolve("plain.db");
        try (InputStream in = Packed.open(directory.resolve("near").resolve(files.get(0)), keys)) {
            Files.copy(in, plain);
        }
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + plain);
                Statement s = c.createStatement()) {
            assertEquals(2, s.executeQuery("SELECT count(*) FROM shed").getInt(1));
        }
        assertEquals(List.of(), said);
        try (Stream<Path> left = Files.list(state())) {
            assertTrue(left.noneMatch(f -> f.toString().endsWith(".taken")));
        }
    }

    private Instance keeping() throws Exception {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + database);
                Statement s = c.createStatement()) {
            s.execute("PRAGMA journal_mode = wal");
        }
        return new SqliteInstance(
                database,
                Clock.systemUTC(),
                Optional.of(new SqliteInstance.Kept("sheds", state().resolve("sheds.log"))));
    }

    private void insert(int n) throws Exception {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + database);
                Statement s = c.createStatement()) {
            s.execute("INSERT INTO shed VALUES (" + n + ")");
        }
    }

    @Test
    void aLogThatIsKeptIsTakenPieceByPiece() throws Exception {
        Keys keys = Keys.of(Map.of("quay-2026", AgeKey.write(directory.resolve("quay.key"))));
        Instance instance = keeping();
        for (Carrying.Sealing sealing :
                List.of(Carrying.Sealing.NONE, new Carrying.Sealing(keys, Optional.of("quay-2026")))) {
            Carrying carrying = started(instance, Rules.NONE, sealing);
            String of = sealing.key().orElse("plain");
            carryOut(carrying, task(of + "-full", "full", NEAR));
            insert(10 + of.length());
            carryOut(carrying, task(of + "-log", "log", NEAR));
            carryOut(carrying, task(of + "-nothing", "log", NEAR));
            carryOut(carrying, task(of + "-idle", "log", NEAR));
        }
        told("run").values().forEach(r -> assertEquals("ok", r.path("outcome").asText(), r.toString()));
        assertEquals("nothing was committed since the last round", said("plain-idle"));
        assertEquals("nothing was written", said("plain-nothing"));
        JsonNode full = Json.MAPPER.nullNode();
        JsonNode log = full;
        JsonNode sealed = full;
        JsonNode still = full;
        for (JsonNode b : told("backup").values()) {
            full = b.path("run").asText().equals("plain-full")
                            && b.path("kind").asText().equals("full")
                    ? b
                    : full;
            log = b.path("run").asText().equals("plain-log") ? b : log;
            sealed = b.path("run").asText().equals("quay-2026-log") ? b : sealed;
            still = b.path("run").asText().equals("plain-idle") ? b : still;
        }
        assertEquals(full.path("to"), log.path("from"), "it goes on from there");
        assertEquals(1, log.path("to").asLong() - log.path("from").asLong());
        assertEquals(log.path("to"), still.path("to"), "and is complete until later");
        assertEquals("quay-2026", sealed.path("encrypted").path("key").asText(), sealed.toString());
        assertEquals(2, log.path("copies").size(), "it is copied on");
        assertEquals(List.of(), said);
    }

    private String said(String run) throws IOException {
        JsonNode told = told("run").get(run);
        return told.path("output").asText(told.path("message").asText());
    }

    @Test
    void whatIsWrittenToTheFileMeanwhileIsNotInTheCopyAndKeepsNobody() throws Exception {
        Path copy = directory.resolve("copy.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + database);
                Statement s = c.createStatement()) {
            s.execute("BEGIN");
            s.execute("INSERT INTO shed VALUES (3)");
            new SqliteInstance(database, Clock.systemUTC()).take(Kind.FULL, Optional.empty(), copy, bytes -> {});
            s.execute("COMMIT");
        }
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + copy);
                Statement s = c.createStatement()) {
            assertEquals(2, s.executeQuery("SELECT count(*) FROM shed").getInt(1));
        }
    }

    @Test
    void aStoreThatRefusesIsPassedOver() throws Exception {
        Files.delete(directory.resolve("near"));
        carryOut(started(), task("r", "full", NEAR));
        assertEquals("ok", told("run").get("r").path("outcome").asText());
        assertEquals(1, files("other").size());
    }

    @Test
    void whereNoneTakesItTheRunSaysWhyOfEach() throws Exception {
        Files.delete(directory.resolve("near"));
        carryOut(started(), task("r", "full", "[\"near\",\"attic\"]"));
        JsonNode run = told("run").get("r");
        assertEquals("failed", run.path("outcome").asText());
        assertTrue(run.path("message").asText().contains("near is not there"), run.toString());
        assertTrue(run.path("message").asText().contains("attic refuses writes: this runner's file"), run.toString());
    }

    @Test
    void whyAFileMayNotBeReachedIsSaidBesideItsPath() {
        assertEquals("AccessDenied: /near", Trouble.said(new AccessDeniedException("/near")));
    }

    @Test
    void whatTheEngineDoesNotGiveIsNoBackup() throws Exception {
        carryOut(started(), task("r", "log", NEAR));
        assertEquals(
                "this runner takes no log of such a database, but full",
                told("run").get("r").path("message").asText());
        Files.writeString(database, "no database at all, but a text that is long enough to be read as its first page");
        carryOut(started(), task("s", "full", NEAR));
        assertTrue(
                told("run").get("s").path("message").asText().contains("SQLite does not copy"),
                told("run").get("s").toString());
        assertEquals(List.of(), files("near"));
        assertEquals(Map.of(), told("backup"));
    }

    /** An engine that dies with the program, at some point of a full. */
    private record Dying(Instance engine, boolean after) implements Instance {
        @Override
        public Set<Kind> kinds() {
            return engine.kinds();
        }

        @Override
        public void probe(ObjectNode into, boolean deletes) {}

        @Override
        public String take(Kind kind, Optional<Path> parent, Path into, Course course)
                throws Trouble, InterruptedException {
            if (after) {
                engine.take(kind, parent, into, course);
            } else {
                try {
                    Files.writeString(into, "half of it");
                } catch (IOException e) {
                    throw new Trouble("full disk");
                }
            }
            throw new Death();
        }

        @Override
        public String fileName(String database, Kind kind, String stamp) {
            return engine.fileName(database, kind, stamp);
        }

        @Override
        public Standing standing() throws Trouble, InterruptedException {
            return engine.standing();
        }

        @Override
        public Optional<String> endLog(Archive archive) throws Trouble, InterruptedException, IOException {
            return engine.endLog(archive);
        }
    }

    /** Nobody catches it. */
    private static final class Death extends Error {
        private static final long serialVersionUID = 1;
    }

    /** Carries out until death: the directories are as they were at that moment, for nothing is tidied up by the dead. */
    private void dieOf(Dying engine) throws Exception {
        Carrying carrying = started(engine);
        Task task = task("r", "full", NEAR);
        carrying.begin(task);
        Path parts = Files.createDirectories(directory.resolve("near/.firth-part"));
        Path kept = directory.resolve("kept");
        try {
            carrying.carryOut(task);
        } catch (Death e) {
            Begun.Noted noted = new Begun(state()).all().get(0);
            Files.createDirectories(parts);
            Files.writeString(noted.remains().orElseThrow(), "half of it");
            kept = noted.remains().orElseThrow();
        }
        assertTrue(Files.exists(kept));
    }

    @Test
    void oneThatDiedWhileItWroteIsToldAsFailedAndItsRemainsAreGone() throws Exception {
        for (boolean after : new boolean[] {false, true}) {
            dieOf(new Dying(new SqliteInstance(database, Clock.systemUTC()), after));
            for (Begun.Noted noted : new Begun(state()).all()) {
                started().takeUp(noted);
            }
            JsonNode run = told("run").get("r");
            assertEquals("failed", run.path("outcome").asText());
            assertTrue(run.path("message").asText().contains("the runner was stopped"), run.toString());
            assertEquals(List.of(), files("near"));
            assertEquals(List.of(), new Begun(state()).all());
        }
    }

    @Test
    void oneThatDiedWhenAllWasWrittenWentWell() throws Exception {
        Carrying carrying = started();
        Task task = task("r", "full", NEAR);
        carrying.begin(task);
        new SqliteInstance(database, Clock.systemUTC())
                .take(
                        Kind.FULL,
                        Optional.empty(),
                        stores.get("near").home("sheds").resolve("sheds-20261130T100000Z.db"),
                        bytes -> {});
        for (Begun.Noted noted : new Begun(state()).all()) {
            started().takeUp(noted);
        }
        assertEquals("ok", told("run").get("r").path("outcome").asText());
        assertEquals("r", told("backup").values().iterator().next().path("run").asText());
    }

    @Test
    void oneThatDiedBeforeItsEndWasToldIsToldAsItEnded() throws Exception {
        ObjectNode line =
                Json.MAPPER.createObjectNode().put("type", "run").put("id", "r").put("outcome", "ok");
        new Begun(state()).ended(line, List.of(line));
        for (Begun.Noted noted : new Begun(state()).all()) {
            started().takeUp(noted);
        }
        assertEquals(line, told("run").get("r"));
        assertEquals(List.of(), new Begun(state()).all());
    }

    @Test
    void whatWasTakenAwayFromAStoreIsNotCopiedThereAgain() throws Exception {
        Carrying carrying = started();
        carryOut(carrying, task("r", "full", NEAR));
        Files.delete(directory.resolve("far").resolve(files("far").get(0)));
        Thread.sleep(1_100);
        carryOut(carrying, task("s", "full", NEAR));
        assertEquals(2, files("near").size());
        assertEquals(1, files("far").size());
        assertEquals(
                1,
                told("backup").values().stream()
                        .filter(b -> b.toString().contains("\"gone\""))
                        .count());
    }

    @Test
    void aProbeTriesEachStore() throws Exception {
        Files.setPosixFilePermissions(directory.resolve("far"), PosixFilePermissions.fromString("r-xr-xr-x"));
        Files.delete(directory.resolve("other"));
        ObjectNode probe = started().probe("pier", "sheds");
        assertEquals("pier:sheds", probe.path("id").asText());
        assertEquals("off", probe.path("logs").asText());
        Map<String, JsonNode> tried = new TreeMap<>();
        probe.path("destinations").forEach(d -> tried.put(d.path("store").asText(), d));
        assertTrue(tried.get("near").path("written").asBoolean());
        assertFalse(tried.get("other").path("reached").asBoolean());
        assertTrue(tried.get("other").path("message").asText().contains("is not there"));
    }
}
