package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.MissingNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.AgeKey;
import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.ObservedBackup;
import firth.engines.Observer;
import firth.engines.mariadb.Coordinate;
import firth.engines.mariadb.MariadbFiles;
import firth.exchange.Json;
import firth.servers.RealMariadb;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** On a real server. */
class MariadbInstanceTest {

    private static Workplace work;
    private static RealMariadb server;
    private static Path options;

    @TempDir
    private Path directory;

    @BeforeAll
    static void begin() throws Exception {
        work = new Workplace("America/St_Johns");
        server = RealMariadb.fresh(work, "data", "--log-bin=binlog", "--server-id=7");
        server.query("create database harbour");
        server.query("create table harbour.truth(n int auto_increment primary key)");
        server.query("create user firth_backup@localhost identified by 'between us'");
        server.query(
                "grant reload, process, lock tables, binlog monitor, replication slave on *.* to firth_backup@localhost");
        options = optionFile("firth_backup", "between us");
    }

    private static Path optionFile(String user, String password) throws Exception {
        Path file = work.path(user + ".cnf");
        Files.writeString(
                file, "[client]\nsocket=" + server.socketPath() + "\nuser=" + user + "\npassword=" + password + "\n");
        return file;
    }

    @AfterAll
    static void end() {
        server.close();
        work.close();
    }

    private static MariadbInstance instance() {
        return new MariadbInstance(options, Optional.empty());
    }

    private static void row() {
        server.query("insert into harbour.truth values ()");
    }

    private static List<String> names(Path within) throws Exception {
        try (Stream<Path> all = Files.list(within)) {
            return all.map(p -> p.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    void theLeastRightsAreEnoughAndNoMore() throws Exception {
        ObjectNode probe = Json.MAPPER.createObjectNode();
        instance().probe(probe, false);
        assertEquals(probe.path("rights").path("needed"), probe.path("rights").path("held"), probe.toString());
        assertEquals("on", probe.path("logs").asText());
        assertTrue(probe.path("processes").path("server").asBoolean());
        assertTrue(probe.path("client").asText().matches("\\d+\\.\\d+\\.\\d+"), probe.toString());
        ObjectNode refused = Json.MAPPER.createObjectNode();
        new MariadbInstance(optionFile("stranger", "?"), Optional.empty()).probe(refused, false);
        assertFalse(refused.path("processes").path("server").asBoolean(true));
    }

    @Test
    void aFullMayBeADump() throws Exception {
        server.query("create user dumper@localhost identified by 'between us'");
        server.query(
                "grant reload, process, lock tables, binlog monitor, replication slave, select, show view, trigger,"
                        + " event on *.* to dumper@localhost");
        MariadbInstance dumping = new MariadbInstance(optionFile("dumper", "between us"), Optional.empty(), true);
        ObjectNode probe = Json.MAPPER.createObjectNode();
        dumping.probe(probe, false);
        assertEquals(probe.path("rights").path("needed"), probe.path("rights").path("held"), probe.toString());
        assertEquals(Set.of(Kind.FULL, Kind.LOG, Kind.CONFIG), dumping.kinds());
        row();
        Path store = Files.createDirectory(directory.resolve("dumps")).toRealPath();
        Path dump = store.resolve(dumping.fileName("harbour", Kind.FULL, "20261130T100000000Z"));
        List<Long> written = new ArrayList<>();
        String said = dumping.take(Kind.FULL, Optional.empty(), dump, written::add);
        assertTrue(said.startsWith("dumped harbour"), said);
        assertEquals(List.of(Files.size(dump)), written);
        dumping.endLog(new Archive(store, directory.resolve("fetched"), directory.resolve("aside"), Laying.PLAIN));
        ObservedBackup read = new Observer(List.of(new MariadbFiles()))
                        .observe(List.of(new Looking.Root("near", store)), Known.nothing(), true, p -> {})
                        .databases()
                        .get(0)
                        .backups()
                        .stream()
                        .filter(b -> b.kind() == Kind.FULL)
                        .findFirst()
                        .orElseThrow();
        assertEquals(Optional.empty(), read.wrong());
        assertTrue(read.positions().isPresent(), "it says where it stands in the logs");
    }

    @Test
    void itSaysWhatItConsistsOf() throws Exception {
        server.query("create database quay_side");
        server.query("create table quay_side.moorings(n int)");
        List<Instance.Part> parts = instance().parts();
        assertEquals(
                List.of("harbour", "quay_side"),
                parts.stream().map(Instance.Part::name).toList());
        assertTrue(parts.stream().allMatch(p -> p.kind().equals("schema") && p.bytes() > 10_000), parts.toString());
    }

    @Test
    void itSaysWhatItIsAndWhereItListens() throws Exception {
        Instance.Server is = instance().server().orElseThrow();
        assertTrue(is.engine().matches("MariaDB \\d+\\.\\d+\\.\\d+"), is.engine());
        assertEquals(Set.of(Path.of(server.socketPath())), is.sockets());
        assertEquals(Optional.empty(), new MariadbInstance(optionFile("stranger", "?"), Optional.empty()).server());
    }

    @Test
    void aFullAndItsLogsAreReadTogether() throws Exception {
        assertTrue(taken(Rules.NONE, Carrying.Sealing.NONE).stream()
                .allMatch(f -> !f.endsWith(".zst") && !f.endsWith(".age")));
    }

    @Test
    void theyAreCompressedWhereThatIsDemanded() throws Exception {
        Rules demanding = id -> new Rules.Asked(Rules.Speed.FREE, true, Optional.empty());
        List<String> files = taken(demanding, Carrying.Sealing.NONE);
        assertTrue(files.stream().anyMatch(f -> f.endsWith("/ibdata1.zst")), files.toString());
        assertTrue(files.stream().anyMatch(f -> f.matches("harbour/log/.*[.]\\d{6}[.]zst")), files.toString());
    }

    @Test
    void theyAreEncryptedWhereThereIsAKeyForThem() throws Exception {
        Keys keys = Keys.of(Map.of("quay-2026", AgeKey.write(directory.resolve("quay.key"))));
        Rules demanding = id -> new Rules.Asked(Rules.Speed.FREE, true, Optional.empty());
        List<String> files = taken(demanding, new Carrying.Sealing(keys, Optional.of("quay-2026")));
        assertEquals(
                List.of(),
                files.stream()
                        .filter(f -> !f.endsWith(".age"))
                        .filter(f -> !f.matches(".*/((xtrabackup|mariadb_backup)_\\w+|backup-my[.]cnf)"))
                        .toList());
        assertTrue(files.stream().anyMatch(f -> f.matches("harbour/log/.*[.]\\d{6}[.]zst[.]age")), files.toString());
    }

    /** Two fulls and incrementals with their logs; gives the files in the store. */
    private List<String> taken(Rules rules, Carrying.Sealing sealing) throws Exception {
        StoreDirectory near = new StoreDirectory("near", directory.resolve("near"));
        Files.createDirectory(near.root());
        Files.createDirectory(directory.resolve("state"));
        List<String> said = new ArrayList<>();
        Carrying carrying = carrying(instance(), List.of(near), rules, sealing, said);
        row();
        List<String> parents = new ArrayList<>();
        for (String kind : List.of("full", "log", "log", "incr", "incr", "config")) {
            ObjectNode asked = Json.MAPPER
                    .createObjectNode()
                    .put("run", kind + System.nanoTime())
                    .put("backup", "b" + System.nanoTime())
                    .put("database", "harbour")
                    .put("kind", kind)
                    .put("trigger", "hand");
            asked.putArray("stores").add("near");
            if (kind.equals("incr")) {
                parents.add(newestData());
                asked.put("parent", newestData());
            }
            Task task = new Task(asked, Instant.now());
            carrying.begin(task);
            carrying.carryOut(task);
        }
        List<String> told = Files.readAllLines(directory.resolve("state/to-tell.ndjson"));
        assertEquals(
                6,
                told.stream()
                        .filter(l -> l.contains("\"type\":\"run\"") && l.contains("\"outcome\":\"ok\""))
                        .count(),
                () -> String.join("\n", told));
        assertEquals(
                1,
                told.stream()
                        .filter(l -> l.contains("\"type\":\"backup\"") && l.contains("\"kind\":\"full\""))
                        .count());
        assertTrue(
                told.stream()
                        .anyMatch(l -> l.contains("\"kind\":\"config\"")
                                && l.contains("\"type\":\"backup\"")
                                && l.contains("\"run\":\"config")),
                () -> String.join("\n", told));
        assertEquals(2, parents.stream().distinct().count());
        for (String parent : parents) {
            assertTrue(
                    told.stream().anyMatch(l -> l.contains("\"parent\":\"" + parent)), () -> String.join("\n", told));
        }
        assertTrue(
                told.stream().anyMatch(l -> l.contains("nothing was committed since the last round")),
                "the second round of logs found nothing: " + told.get(told.size() - 2));
        for (String line : told) {
            if (line.contains("\"type\":\"backup\"")
                    && !line.contains("\"bytes\":0,")
                    && !line.contains("\"config\"")) {
                JsonNode backup = Json.MAPPER.readTree(line);
                assertEquals(
                        rules.of("harbour").compressed(),
                        backup.path("compressed").asBoolean(),
                        line);
                assertEquals(
                        sealing.key().orElse(""),
                        backup.path("encrypted").path("key").asText(),
                        line);
            }
        }
        assertEquals(List.of(), said);
        try (Stream<Path> all = Files.walk(near.root())) {
            return all.filter(Files::isRegularFile)
                    .map(f -> near.root().relativize(f).toString())
                    .toList();
        }
    }

    /** The id of the data backup that was told last. */
    private Carrying carrying(
            MariadbInstance instance,
            List<StoreDirectory> stores,
            Rules rules,
            Carrying.Sealing sealing,
            List<String> said)
            throws Exception {
        Path state = directory.resolve("state");
        Shelves shelves = new Shelves(
                "harbour",
                () -> new Observer(List.of(new MariadbFiles()), sealing.keys()),
                stores,
                Optional.empty(),
                state,
                Clock.systemUTC(),
                said::add);
        return new Carrying(
                instance,
                stores.stream().collect(Collectors.toMap(StoreDirectory::id, Function.identity())),
                shelves,
                new Begun(state),
                new Outbox(state, said::add),
                state,
                rules,
                sealing,
                Clock.systemUTC(),
                said::add);
    }

    private static List<String> serversLogs() {
        return server.query("show binary logs")
                .lines()
                .map(l -> l.split("\t")[0])
                .toList();
    }

    private static void logs(Carrying carrying, String... copies) throws Exception {
        row();
        ObjectNode asked = Json.MAPPER
                .createObjectNode()
                .put("run", "log" + System.nanoTime())
                .put("backup", "b" + System.nanoTime())
                .put("database", "harbour")
                .put("kind", "log")
                .put("trigger", "schedule");
        asked.putArray("stores").add("near");
        List.of(copies).forEach(asked.putArray("copies")::add);
        Task task = new Task(asked, Instant.now());
        carrying.begin(task);
        carrying.carryOut(task);
    }

    @Test
    void itsLogsAreDeletedOnceTheyLieInAsManyStoresAsIsAsked() throws Exception {
        Files.createDirectory(directory.resolve("state"));
        StoreDirectory near = new StoreDirectory("near", Files.createDirectory(directory.resolve("near")));
        StoreDirectory far = new StoreDirectory("far", Files.createDirectory(directory.resolve("far")));
        List<String> said = new ArrayList<>();
        server.query("create user firth_deletes@localhost identified by 'between us'");
        server.query("grant reload, process, lock tables, binlog monitor, replication slave, binlog admin on *.*"
                + " to firth_deletes@localhost");
        MariadbInstance instance = new MariadbInstance(optionFile("firth_deletes", "between us"), Optional.empty());
        Rules two = id -> new Rules.Asked(Rules.Speed.FREE, false, Optional.of(2));
        Carrying carrying = carrying(instance, List.of(near, far), two, Carrying.Sealing.NONE, said);
        logs(carrying);
        List<String> before = serversLogs();
        logs(carrying);
        assertTrue(serversLogs().containsAll(before), "each lies in one store alone");
        // It keeps what a reader that has left may still be reading until it notices.
        List<String> left = serversLogs();
        for (int tries = 0; tries < 20 && left.contains(before.get(0)); tries++) {
            logs(carrying, "far");
            left = serversLogs();
        }
        assertFalse(left.contains(before.get(0)), left + " " + said);
        for (String gone : before.subList(0, before.size() - 1)) {
            for (StoreDirectory store : List.of(near, far)) {
                assertTrue(
                        left.contains(gone)
                                || Files.exists(store.archive("harbour").resolve(gone)),
                        gone + " is in " + store.id());
            }
        }
        ObjectNode probe = Json.MAPPER.createObjectNode();
        instance.probe(probe, true);
        assertEquals(probe.path("rights").path("needed"), probe.path("rights").path("held"), probe.toString());
        assertEquals(
                Coordinate.ofFile(serversLogs().get(0)).orElseThrow().position(),
                probe.path("logsFrom").path("main").asLong());
        assertEquals(List.of(), said);
    }

    private String newestData() throws IOException {
        String id = "";
        for (String line : Files.readAllLines(directory.resolve("state/to-tell.ndjson"))) {
            JsonNode node = line.isBlank() ? MissingNode.getInstance() : Json.MAPPER.readTree(line);
            boolean data = node.path("type").asText().equals("backup")
                    && !node.path("kind").asText().equals("log");
            id = data ? node.path("id").asText() : id;
        }
        return id;
    }

    @Test
    void logsAreFetchedAsTheServerHasThem() throws Exception {
        Path archive = Files.createDirectory(directory.resolve("log"));
        Path aside = directory.resolve("aside");
        row();
        String first = instance()
                .endLog(new Archive(archive, aside, aside, Laying.PLAIN))
                .orElseThrow();
        for (String name : names(archive)) {
            assertEquals(-1, Files.mismatch(server.data().resolve(name), archive.resolve(name)), name);
        }
        row();
        String second = instance()
                .endLog(new Archive(archive, aside, aside, Laying.PLAIN))
                .orElseThrow();
        assertNotEquals(first, second);
        assertTrue(
                names(archive).containsAll(List.of(first, second)),
                names(archive).toString());
        assertEquals(List.of(), names(aside));
        Files.writeString(archive.resolve(second), "of before the numbers began again");
        Trouble e =
                assertThrows(Trouble.class, () -> instance().endLog(new Archive(archive, aside, aside, Laying.PLAIN)));
        assertTrue(e.why().contains("its numbers began again"), e.why());
    }

    @Test
    void logsTheServerRemovedBeforeTheyWereFetchedAreMissedOnce() throws Exception {
        Path archive = Files.createDirectory(directory.resolve("log"));
        Path aside = directory.resolve("aside");
        row();
        String first = instance()
                .endLog(new Archive(archive, aside, aside, Laying.PLAIN))
                .orElseThrow();
        row();
        server.query("flush binary logs");
        row();
        server.query("flush binary logs");
        List<String> there = server.query("show binary logs")
                .lines()
                .map(l -> l.split("\t")[0])
                .toList();
        String last = there.get(there.size() - 1);
        // It keeps what a reader that has left may still be reading until it notices.
        for (int tries = 0; tries < 100 && !server.query("show binary logs").startsWith(last); tries++) {
            row();
            server.query("purge binary logs to '" + last + "'");
            Thread.sleep(100);
        }
        LogsLost e = assertThrows(
                LogsLost.class,
                () -> instance().endLog(new Archive(archive, aside, aside, Laying.PLAIN)),
                () -> first + "; " + there + "; " + server.query("show binary logs"));
        assertTrue(e.why().contains("before they were fetched"), e.why());
        assertTrue(names(archive).contains(last), "what is there still was fetched");
        assertTrue(names(archive).contains(first));
        row();
        instance().endLog(new Archive(archive, aside, aside, Laying.PLAIN));
    }

    @Test
    void itStandsWhereItStoodUntilSomethingIsCommitted() throws Exception {
        Instance.Standing before = instance().standing();
        server.query("select count(*) from harbour.truth");
        server.query("flush binary logs");
        assertEquals(before.mark(), instance().standing().mark());
        row();
        assertNotEquals(before.mark(), instance().standing().mark());
        assertFalse(instance().standing().until().isAfter(Instant.now()));
        assertTrue(
                instance().standing().until().isAfter(Instant.now().minusSeconds(60)), "the server is in another zone");
    }

    @Test
    void whoMayNotIsToldInTheServersWords() throws Exception {
        MariadbInstance stranger = new MariadbInstance(optionFile("stranger", "?"), Optional.empty());
        Trouble e = assertThrows(
                Trouble.class,
                () -> stranger.take(Kind.FULL, Optional.empty(), directory.resolve("base"), bytes -> {}));
        assertTrue(e.why().contains("Access denied"), e.why());
    }
}
