package firth.engines.sqlite;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.Observer;
import firth.engines.Packed;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SqliteFilesTest {

    @TempDir
    Path store;

    private Path live;

    @BeforeEach
    void copies() throws Exception {
        live = store.resolve("kiosk.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + live);
                Statement s = c.createStatement()) {
            s.execute("pragma journal_mode = wal");
            s.execute("create table sale(n integer primary key, what text)");
            for (int i = 0; i < 200; i++) {
                s.execute("insert into sale(what) values (hex(randomblob(200)))");
            }
            s.execute("pragma wal_checkpoint(truncate)");
            s.execute("vacuum into '" + store.resolve("kiosk-2026-11-29.db") + "'");
            s.execute("insert into sale(what) values ('logged')");
            s.execute("insert into sale(what) values ('logged')");
            Files.copy(live, store.resolve("kiosk-2026-11-30.db"));
            Files.copy(store.resolve("kiosk.db-wal"), store.resolve("kiosk-2026-11-30.db-wal"));
        }
        Files.deleteIfExists(live);
    }

    private Observation look(boolean check) throws IOException {
        return new Observer(List.of(new SqliteFiles()))
                .observe(List.of(new Root("n1", store.toRealPath())), Known.nothing(), check, p -> {});
    }

    private ObservedBackup at(String path, boolean check) throws IOException {
        return look(check).databases().get(0).backups().stream()
                .filter(b -> b.path().equals(path))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void copiesOfOneDatabaseAreFullsOfIt() throws IOException {
        Observation seen = look(false);
        assertEquals(List.of(), seen.unread());
        assertEquals(
                List.of("kiosk"),
                seen.databases().stream().map(d -> d.identity()).toList());
        assertEquals(2, seen.databases().get(0).backups().size());
        ObservedBackup plain = at("kiosk-2026-11-29.db", true);
        assertEquals(Kind.FULL, plain.kind());
        assertTrue(plain.selfContained() && plain.wrong().isEmpty());
        assertEquals(Evidence.VERIFIED, plain.evidence());
        ObservedBackup logged = at("kiosk-2026-11-30.db", true);
        assertEquals(2, logged.members().size(), "its write-ahead log is part of it");
        assertEquals(Evidence.READ, logged.evidence());
    }

    @Test
    void theLogCountsUpToItsLastWholeTransaction() throws IOException {
        byte[] log = Files.readAllBytes(store.resolve("kiosk-2026-11-30.db-wal"));
        WriteAheadLog whole = WriteAheadLog.read(new ByteArrayInputStream(log));
        assertEquals(2, whole.commits());
        WriteAheadLog cut = WriteAheadLog.read(new ByteArrayInputStream(Arrays.copyOf(log, log.length - 100)));
        assertEquals(1, cut.commits());
        byte[] changed = log.clone();
        changed[40] ^= 1;
        assertEquals(0, WriteAheadLog.read(new ByteArrayInputStream(changed)).commits());
        assertThrows(
                IOException.class,
                () -> WriteAheadLog.read(
                        new ByteArrayInputStream("no log of any kind, but long".getBytes(StandardCharsets.US_ASCII))));
    }

    @Test
    void aCopyThatWasCutOffOrChangedIsFound() throws IOException, SQLException {
        Path copy = store.resolve("kiosk-2026-11-29.db");
        byte[] bytes = Files.readAllBytes(copy);
        Files.write(copy, Arrays.copyOf(bytes, bytes.length - 4096));
        assertTrue(at("kiosk-2026-11-29.db", false).wrong().orElseThrow().contains("cut off"));
        byte[] changed = bytes.clone();
        Arrays.fill(changed, 4096, 4200, (byte) 7);
        Files.write(copy, changed);
        assertTrue(at("kiosk-2026-11-29.db", true).wrong().isPresent());
        assertTrue(at("kiosk-2026-11-29.db", false).wrong().isEmpty(), "only looking closely tells");
    }

    @Test
    void aPackedCopyIsOne() throws IOException {
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(store.resolve("kiosk-2026-11-28.db.gz")))) {
            Files.copy(store.resolve("kiosk-2026-11-29.db"), out);
        }
        assertTrue(at("kiosk-2026-11-28.db.gz", true).form().compressed());
        assertEquals(1, look(false).databases().size());
    }

    @Test
    void aPackedCopyThatWasCutOffIsFound() throws IOException {
        Path packed = store.resolve("kiosk-2026-11-28.db.zst");
        try (OutputStream out = Packed.zstd(Files.newOutputStream(packed))) {
            Files.copy(store.resolve("kiosk-2026-11-29.db"), out);
        }
        assertTrue(at("kiosk-2026-11-28.db.zst", true).wrong().isEmpty());
        byte[] bytes = Files.readAllBytes(packed);
        Files.write(packed, Arrays.copyOf(bytes, bytes.length - 1));
        assertTrue(at("kiosk-2026-11-28.db.zst", true).wrong().orElseThrow().contains("cut off"));
        assertTrue(at("kiosk-2026-11-28.db.zst", false).wrong().isEmpty(), "only looking closely tells");
    }
}
