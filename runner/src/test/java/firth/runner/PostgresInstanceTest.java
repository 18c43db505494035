package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.ObservedBackup;
import firth.engines.Observer;
import firth.engines.postgres.PostgresFiles;
import firth.exchange.Json;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** On a real server. */
class PostgresInstanceTest {

    private static Workplace work;
    private static Path archive;
    private static RealPostgres server;

    @TempDir
    private Path directory;

    @BeforeAll
    static void begin() {
        work = new Workplace("Asia/Kathmandu");
        archive = work.directory("archive");
        server = RealPostgres.fresh(work, "data", archive);
        server.query("create table truth(n serial)");
        server.query("create role firth_backup login replication");
        server.query("grant pg_monitor to firth_backup");
        server.query("grant execute on function pg_switch_wal() to firth_backup");
        server.query("create role nearly login");
    }

    @AfterAll
    static void end() {
        server.close();
        work.close();
    }

    private static PostgresInstance as(String user) {
        return new PostgresInstance(server.connection(user), Optional.empty());
    }

    private static ObjectNode probe(String user) throws InterruptedException {
        ObjectNode out = Json.MAPPER.createObjectNode();
        as(user).probe(out, false);
        return out;
    }

    @Test
    void theLeastRightsAreEnoughAndNoMore() throws Exception {
        JsonNode rights = probe("firth_backup").path("rights");
        assertEquals(rights.path("needed"), rights.path("held"));
        assertEquals("[]", probe("nearly").path("rights").path("held").toString());
        assertEquals(
                "superuser", probe("firth").path("rights").path("held").path(0).asText(), "which is more than needed");
    }

    @Test
    void itSaysWhatItIsAndWhereItListens() throws Exception {
        Instance.Server is = as("firth_backup").server().orElseThrow();
        assertEquals(
                Optional.of(server.query("select system_identifier from pg_control_system()")
                        .strip()),
                is.identity());
        assertTrue(is.engine().matches("PostgreSQL \\d+\\.\\d+"), is.engine());
        assertEquals(Optional.of("1"), is.lineage());
        assertEquals(Set.of(), is.sockets(), "it listens to the network alone");
        assertEquals(
                Optional.empty(), new PostgresInstance("host=127.0.0.1 port=1 user=nobody", Optional.empty()).server());
    }

    @Test
    void itSaysWhatItConsistsOf() throws Exception {
        server.query("create database \"quay|side\"");
        List<Instance.Part> parts = as("firth_backup").parts();
        assertEquals(
                List.of("postgres", "quay|side"),
                parts.stream().map(Instance.Part::name).toList());
        assertTrue(parts.stream().allMatch(p -> p.kind().equals("database") && p.bytes() > 1e6), parts.toString());
    }

    @Test
    void aFullIsCompressedWhereThatIsDemanded() throws Exception {
        Path into = directory.resolve("base-packed");
        as("firth_backup").take(Kind.FULL, Optional.empty(), into, new Instance.Course() {
            @Override
            public void written(long bytes) {}

            @Override
            public Laying laying() {
                return new Laying(true, Keys.NONE, Optional.empty());
            }
        });
        assertTrue(Files.exists(into.resolve("base.tar.zst")));
        Path root = directory.toRealPath();
        ObservedBackup read = new Observer(List.of(new PostgresFiles()))
                        .observe(
                                List.of(new Looking.Root("near", root)), Known.of(root.resolve("none")), false, p -> {})
                        .databases()
                        .get(0)
                        .backups()
                        .stream()
                        .filter(b -> b.kind() == Kind.FULL)
                        .findFirst()
                        .orElseThrow();
        assertTrue(read.form().compressed());
        assertEquals(Optional.empty(), read.wrong());
        byte[] content = Files.readAllBytes(into.resolve("base.tar.zst"));
        assertTrue(content.length < 10_000_000, content.length + " bytes");
    }

    @Test
    void incrementalsAreRefusedByAServerThatTakesNone() {
        Trouble e = assertThrows(
                Trouble.class,
                () -> as("firth_backup")
                        .take(Kind.INCR, Optional.of(directory), directory.resolve("incr"), bytes -> {}));
        assertTrue(e.why().contains("from PostgreSQL 17 on, with summarize_wal = on; it is 15."), e.why());
    }

    @Test
    void itsConfigurationIsCopiedWithWhatItIsSetTo() throws Exception {
        Path into = directory.resolve("config");
        assertEquals("", as("firth_backup").configuration(into));
        assertTrue(Files.readAllLines(into.resolve("settings.txt")).stream()
                .anyMatch(l -> l.startsWith("archive_command = ")));
        Path conf = Path.of(server.query("show config_file").strip());
        assertEquals(
                Files.readString(conf),
                Files.readString(into.resolve("files").resolve(Path.of("/").relativize(conf))));
        assertTrue(Files.exists(into.resolve("files")
                .resolve(Path.of("/")
                        .relativize(Path.of(server.query("show hba_file").strip())))));
    }

    @Test
    void aServerThatDoesNotAnswerIsToldAsDown() throws Exception {
        ObjectNode out = Json.MAPPER.createObjectNode();
        new PostgresInstance("host=127.0.0.1 port=1 user=nobody", Optional.empty()).probe(out, false);
        assertFalse(out.path("processes").path("server").asBoolean(true));
        assertTrue(out.path("client").asText().matches("\\d+\\.\\d+"), out.toString());
    }

    @Test
    void itStandsWhereItStoodUntilSomethingIsCommitted() throws Exception {
        PostgresInstance instance = as("firth_backup");
        Instance.Standing before = instance.standing();
        server.query("select count(*) from truth");
        server.query("checkpoint");
        assertEquals(before.mark(), instance.standing().mark());
        server.query("insert into truth default values");
        Instance.Standing after = instance.standing();
        assertNotEquals(before.mark(), after.mark());
        assertFalse(after.until().isAfter(Instant.now()));
    }

    @Test
    void itStandsNowhereTwiceWhileATransactionIsUnderWay() throws Exception {
        PostgresInstance instance = as("firth_backup");
        server.query("begin; insert into truth default values; prepare transaction 'half'");
        try {
            assertNotEquals(instance.standing().mark(), instance.standing().mark());
        } finally {
            server.query("rollback prepared 'half'");
        }
    }

    @Test
    void aLogIsEndedAndHasCome() throws Exception {
        server.query("insert into truth default values");
        String segment = as("firth_backup")
                .endLog(new Archive(archive, directory, directory, Laying.PLAIN))
                .orElseThrow();
        assertTrue(Files.exists(archive.resolve(segment)));
        assertEquals(
                segment,
                as("firth_backup")
                        .endLog(new Archive(archive, directory, directory, Laying.PLAIN))
                        .orElseThrow(),
                "nothing came since");
    }

    @Test
    void aLogThatIsNotWhereItShouldBeIsATrouble() throws Exception {
        server.query("insert into truth default values");
        Trouble elsewhere = assertThrows(
                Trouble.class,
                () -> as("firth_backup").endLog(new Archive(directory, directory, directory, Laying.PLAIN)));
        assertTrue(elsewhere.why().contains("it is not in " + directory), elsewhere.why());
    }

    @Test
    void anArchiverThatFailsIsNamed() throws Exception {
        server.set("archive_command = 'false'");
        server.query("select pg_reload_conf()");
        try {
            server.query("insert into truth default values");
            Trouble fails = assertThrows(
                    Trouble.class,
                    () -> as("firth_backup").endLog(new Archive(archive, directory, directory, Laying.PLAIN)));
            assertTrue(fails.why().startsWith("the archiver fails at 0000000"), fails.why());
        } finally {
            server.archivesTo(archive);
            server.query("select pg_reload_conf()");
        }
    }

    @Test
    void whoMayNotIsToldInTheServersWords() {
        Trouble e = assertThrows(
                Trouble.class,
                () -> as("nearly").take(Kind.FULL, Optional.empty(), directory.resolve("base"), bytes -> {}));
        assertTrue(e.why().contains("replication"), e.why());
        assertTrue(e.output().contains("nearly") || e.output().contains("role"), e.output());
    }
}
