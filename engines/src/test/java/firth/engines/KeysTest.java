package firth.engines;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.engines.Looking.Root;
import firth.engines.sqlite.SqliteFiles;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class KeysTest {

    @TempDir
    private Path directory;

    private Path quay;
    private Path pier;
    private Keys keys;

    @BeforeEach
    void make() throws IOException {
        quay = AgeKey.write(directory.resolve("quay.key"));
        pier = AgeKey.write(directory.resolve("pier.key"));
        keys = Keys.of(Map.of("quay-2026", quay, "pier-2025", pier));
    }

    private Path sealed(byte[] content, String name) throws IOException {
        Path out = directory.resolve(name);
        try (OutputStream file = keys.seal(out, "quay-2026");
                OutputStream to = Packed.of(name) == Packed.ZSTD ? Packed.zstd(file) : file) {
            to.write(content);
        }
        return out;
    }

    private static byte[] read(Path file, Keys keys) throws IOException {
        try (InputStream in = Packed.open(file, keys)) {
            return in.readAllBytes();
        }
    }

    private static byte[] bytes(int size) {
        byte[] out = new byte[size];
        new Random(size).nextBytes(out);
        return out;
    }

    /** The format's pieces are of 65 536 bytes. */
    @ParameterizedTest
    @ValueSource(ints = {0, 1, 65_535, 65_536, 65_537, 131_072, 1_000_003})
    void whatIsSealedIsWhatIsOpened(int size) throws Exception {
        byte[] content = bytes(size);
        assertArrayEquals(content, read(sealed(content, "plain.age"), keys));
        assertArrayEquals(content, read(sealed(content, "packed.zst.age"), keys));
    }

    @Test
    void theFormatIsTheOpenOne() throws Exception {
        byte[] content = bytes(200_000);
        Path file = sealed(content, "ours.age");
        Process ours = new ProcessBuilder("age", "--decrypt", "-i", quay.toString(), file.toString()).start();
        assertArrayEquals(content, ours.getInputStream().readAllBytes());
        assertEquals(0, ours.waitFor());
        Path plain = Files.write(directory.resolve("plain"), content);
        Path theirs = directory.resolve("theirs.age");
        assertEquals(
                0,
                new ProcessBuilder("age", "-e", "-i", quay.toString(), "-o", theirs.toString(), plain.toString())
                        .start()
                        .waitFor());
        assertArrayEquals(content, read(theirs, keys));
    }

    @Test
    void whatNoKeyOpensSaysSo() throws Exception {
        Path file = sealed(bytes(10), "x.age");
        assertEquals("quay-2026", keys.nameFor(file));
        Keys other = Keys.of(Map.of("pier-2025", pier));
        assertEquals(
                "is encrypted, and none of the keys pier-2025 opens it",
                assertThrows(IOException.class, () -> read(file, other)).getMessage());
        assertEquals(
                "is encrypted, and no key is named here",
                assertThrows(IOException.class, () -> read(file, Keys.NONE)).getMessage());
    }

    @Test
    void whatWasChangedOrCutOffIsNotRead() throws Exception {
        Path file = sealed(bytes(200_000), "x.age");
        byte[] whole = Files.readAllBytes(file);
        byte[] changed = whole.clone();
        changed[100_000] ^= 1;
        Files.write(file, changed);
        assertThrows(IOException.class, () -> read(file, keys));
        for (int length : List.of(whole.length - 1, whole.length - 70_000, 30)) {
            Files.write(file, java.util.Arrays.copyOf(whole, length));
            assertThrows(IOException.class, () -> read(file, keys), length + " bytes");
        }
    }

    @Test
    void whatIsNoKeyIsNamed() throws Exception {
        Path file = Files.writeString(
                directory.resolve("not.key"), Files.readString(quay).replace("# public", "# "));
        assertEquals(
                file + " is no key as age-keygen writes it, with its public half in a comment above",
                assertThrows(IOException.class, () -> Keys.of(Map.of("x", file)))
                        .getMessage());
        Files.writeString(file, Files.readString(quay).replaceFirst("(?m)^(AGE-SECRET-KEY-1..........).*$", "$1"));
        assertTrue(assertThrows(IOException.class, () -> Keys.of(Map.of("x", file)))
                .getMessage()
                .startsWith(file + " is no key: "));
    }

    @Test
    void anEncryptedCopyIsReadWithItsKeyAndNamedWithoutIt() throws Exception {
        Path plain = directory.resolve("kiosk.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + plain);
                Statement s = c.createStatement()) {
            s.execute("create table t(n)");
        }
        Path store = Files.createDirectory(directory.resolve("store")).toRealPath();
        byte[] content = Files.readAllBytes(plain);
        try (OutputStream to = keys.seal(store.resolve("kiosk-20261130.db.age"), "quay-2026")) {
            to.write(content);
        }
        Observer observer = new Observer(List.of(new SqliteFiles()), keys);
        ObservedBackup read = observer.observe(List.of(new Root("near", store)), Known.nothing(), true, p -> {})
                .databases()
                .get(0)
                .backups()
                .get(0);
        assertEquals("quay-2026", read.form().key().orElseThrow());
        assertTrue(read.wrong().isEmpty());
        Observation without = new Observer(List.of(new SqliteFiles()))
                .observe(List.of(new Root("near", store)), Known.nothing(), true, p -> {});
        assertEquals(List.of(), without.databases());
        assertEquals(
                "is encrypted, and no key is named here",
                without.unread().get(0).reason());
    }
}
