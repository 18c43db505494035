package firth.engines;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.engines.Looking.Root;
import firth.engines.sqlite.SqliteFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Copies of a configuration beside the backups of a database. */
class ConfigurationFilesTest {

    private static final Instant BEGUN = Instant.parse("2026-11-30T10:00:00.250Z");

    @TempDir
    private Path directory;

    @BeforeEach
    void aDatabase() throws Exception {
        Files.createDirectories(directory.resolve("sheds"));
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + directory.resolve("sheds/sheds-1.db"));
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE shed (n INTEGER PRIMARY KEY)");
        }
    }

    private Path configuration(String home) throws IOException {
        Path out = Files.createDirectories(directory.resolve(home).resolve(ConfigurationFiles.name(BEGUN)));
        Files.createDirectories(out.resolve("files/etc"));
        Files.writeString(out.resolve("files/etc/engine.conf"), "room = 7\n");
        Files.writeString(out.resolve("settings.txt"), "room = 7\nport = 1\n");
        Files.setLastModifiedTime(out.resolve("settings.txt"), FileTime.from(BEGUN.plusSeconds(2)));
        return out;
    }

    private Observation seen() throws IOException {
        Path root = directory.toRealPath();
        return new Observer(List.of(new SqliteFiles()))
                .observe(List.of(new Root("near", root)), Known.of(directory.resolve("none")), false, p -> {});
    }

    @Test
    void oneBelongsToTheDatabaseItLiesBeside() throws IOException {
        configuration("sheds");
        ObservedDatabase sheds = seen().databases().get(0);
        assertEquals(2, sheds.backups().size());
        ObservedBackup config = sheds.backups().get(1);
        assertEquals(Kind.CONFIG, config.kind());
        assertEquals("config-20261130T100000250Z", config.name());
        assertEquals("sheds/config-20261130T100000250Z", config.path());
        assertEquals(BEGUN, config.started());
        assertEquals(BEGUN.plusSeconds(2), config.ended());
        assertEquals(27, config.bytes());
        assertTrue(config.isDirectory());
        assertEquals(List.of(), seen().unread());
    }

    @Test
    void oneOfNobodyIsNamedAndOneThatIsNotWholeIsNone() throws IOException {
        Path lonely = configuration("elsewhere");
        Observation seen = seen();
        assertEquals(1, seen.databases().get(0).backups().size());
        assertEquals(lonely.toRealPath(), seen.unread().get(0).path());
        assertTrue(seen.unread().get(0).reason().contains("beside it lies no backup"));
        Files.delete(lonely.resolve("settings.txt"));
        assertEquals(1, seen().unread().size(), "the files in it are strange now");
        assertEquals("engine.conf", seen().unread().get(0).path().getFileName().toString());
    }
}
