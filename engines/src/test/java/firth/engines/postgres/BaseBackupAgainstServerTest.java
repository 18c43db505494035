package firth.engines.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.ObservedDatabase;
import firth.engines.Observer;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;

/** Base backups of a real server: ours and the engine's own check come to the same. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class BaseBackupAgainstServerTest {

    private static Workplace work;
    private static Path store;

    @BeforeAll
    static void write() {
        work = new Workplace();
        store = work.directory("store");
        Path archive = work.directory("store/archive");
        try (RealPostgres server = RealPostgres.fresh(work, "data", archive)) {
            server.script("load", "create table t as select g from generate_series(1, 20000) g;\n");
            server.backUp(store.resolve("plain"), "-X", "none");
            server.backUp(store.resolve("with-log"), "-X", "stream");
            server.backUp(store.resolve("tar"), "-Ft", "-z", "-X", "none");
            server.backUp(store.resolve("tar-log"), "-Ft", "-X", "stream", "--manifest-checksums=SHA256");
            server.backUp(store.resolve("bare"), "-X", "none", "--no-manifest");
            server.script("after", "insert into t select 1;\n");
            server.switchLog();
            server.stop();
        }
    }

    @AfterAll
    static void tidy() {
        work.close();
    }

    private static Observation look(Known known, boolean check) throws IOException {
        return new Observer(List.of(new PostgresFiles()))
                .observe(List.of(new Root("n1", store.toRealPath())), known, check, p -> {});
    }

    private static ObservedBackup at(Observation seen, String path) {
        return seen.databases().get(0).backups().stream()
                .filter(b -> b.path().equals(path))
                .findFirst()
                .orElseThrow();
    }

    @Test
    @Order(1)
    void eachFormIsUnderstood() throws IOException {
        Observation seen = look(Known.nothing(), false);
        assertEquals(List.of(), seen.unread());
        assertEquals(1, seen.databases().size(), "one system");
        ObservedDatabase d = seen.databases().get(0);
        assertEquals("15", d.version().orElseThrow());
        for (String path : List.of("plain", "with-log", "tar", "tar-log", "bare")) {
            ObservedBackup b = at(seen, path);
            assertEquals(Kind.FULL, b.kind());
            assertEquals(path.endsWith("-log"), b.selfContained(), path);
            assertTrue(
                    b.positions().orElseThrow().to()
                            > b.positions().orElseThrow().from(),
                    path);
            assertEquals(path.startsWith("tar") ? Evidence.CHECKED : Evidence.READ, b.evidence(), path);
            assertTrue(b.wrong().isEmpty(), path + " " + b.wrong());
        }
        assertEquals(5, d.companions().size(), "a .backup file each");
        assertEquals(
                List.of("plain", "with-log", "tar", "tar-log", "bare"),
                d.backups().stream()
                        .filter(b -> b.kind() == Kind.FULL)
                        .sorted(java.util.Comparator.comparing(
                                b -> b.positions().orElseThrow().from()))
                        .map(ObservedBackup::path)
                        .toList());
    }

    @Test
    @Order(2)
    void whatHasNotChangedIsNotReadAgain() throws IOException {
        Path kept = work.path("kept");
        Known known = Known.of(kept);
        Observation first = look(known, false);
        known.keep(kept);
        assertTrue(first.bytesRead() > 0);
        Observation second = look(Known.of(kept), false);
        assertEquals(0, second.bytesRead());
        assertEquals(first.databases(), second.databases());
    }

    @Test
    @Order(3)
    void aBackupWhoseBytesWereChangedIsFoundByBothOfUs() throws IOException {
        assertEquals(Evidence.CHECKED, at(look(Known.nothing(), true), "plain").evidence());
        verify("plain");
        Path file = store.resolve("plain/global/pg_filenode.map");
        byte[] bytes = Files.readAllBytes(file);
        bytes[100] ^= 1;
        Files.write(file, bytes);
        assertTrue(
                at(look(Known.nothing(), true), "plain").wrong().orElseThrow().contains("global/pg_filenode.map"));
        assertThrows(Workplace.Failed.class, () -> verify("plain"));
        Files.delete(file);
        assertTrue(
                at(look(Known.nothing(), false), "plain").wrong().orElseThrow().contains("is not there"));
        assertThrows(Workplace.Failed.class, () -> verify("plain"));
    }

    private static void verify(String backup) {
        work.run(
                RealPostgres.program("pg_verifybackup"),
                "-n",
                store.resolve(backup).toString());
    }

    @Test
    @Order(4)
    void aManifestThatWasCutOffIsNotBelieved() throws IOException {
        Path manifest = store.resolve("with-log/backup_manifest");
        byte[] bytes = Files.readAllBytes(manifest);
        Files.write(manifest, java.util.Arrays.copyOf(bytes, bytes.length - 10));
        assertTrue(look(Known.nothing(), false).unread().stream()
                .anyMatch(u -> u.path().endsWith("with-log")));
        Files.write(manifest, bytes);
        assertEquals(List.of(), look(Known.nothing(), false).unread());
    }

    @Test
    @Order(5)
    void strangeFilesAreNamed() throws IOException {
        Files.writeString(store.resolve("archive/readme.txt"), "not of an engine", StandardOpenOption.CREATE);
        Files.write(store.resolve("archive/0000000100000000000000FF"), new byte[1 << 20]);
        List<Observation.Unread> unread = look(Known.nothing(), false).unread();
        assertEquals(2, unread.size(), unread.toString());
        assertTrue(unread.stream().anyMatch(u -> u.reason().equals("is empty at its beginning")));
        assertTrue(unread.stream().anyMatch(u -> u.reason().equals("is no file of an engine Firth reads")));
    }

    @Test
    @Order(99)
    void oneWhoseControlFileWasWipedIsNotOfAnotherSystem() throws IOException {
        Files.write(store.resolve("plain/global/pg_control"), new byte[8192]);
        Observation seen = look(Known.nothing(), true);
        assertEquals(1, seen.databases().size());
        assertTrue(at(seen, "plain").wrong().orElse("").contains("pg_control"), "the check of its manifest finds it");
    }
}
