package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Lineage;
import firth.exchange.FleetFileReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.sqlite.SQLiteConfig;

/** What is read from packs is what the rows say, whatever changed since. */
class PackTest {

    private static final Instant BEGIN = Instant.parse("2026-01-01T00:00:00Z");
    private static final Database DATABASE = new Database(
            "d",
            "d",
            Optional.empty(),
            Optional.empty(),
            ZoneId.of("UTC"),
            Optional.empty(),
            List.of(),
            BEGIN,
            List.of("a", "b"),
            OptionalDouble.empty(),
            OptionalDouble.empty(),
            List.of(),
            List.of(
                    Lineage.FIRST,
                    new Lineage("2", Optional.of("1"), Map.of("a", 9L, "b", 9L), Optional.of(BEGIN.plusSeconds(900)))));

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

    private void take(String text) throws IOException {
        store.write(
                catalog -> FleetFileReader.read(
                        new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "test", catalog),
                r -> new From("test", r.newestFact()),
                BEGIN);
    }

    private static String backup(int n, Random random) {
        String at = BEGIN.plusSeconds(n * 60L + random.nextInt(40)).toString();
        StringBuilder out = new StringBuilder("{\"type\":\"backup\",\"id\":\""
                + (random.nextInt(9) == 0 ? "b:" : "backup-") + n + "\",\"database\":\"d\",\"ended\":\"" + at + "\"");
        if (n % 20 == 0) {
            out.append(",\"kind\":\"full\",\"selfContained\":").append(random.nextBoolean());
            out.append(random.nextBoolean() ? ",\"to\":{\"a\":" + n + ",\"b\":" + 2 * n + "}" : ",\"to\":{\"b\":7}");
            out.append(random.nextBoolean() ? ",\"run\":\"r" + n + "\",\"parent\":\"p\"" : "");
        } else {
            out.append(",\"kind\":\"log\",\"stream\":\"").append(n % 3 == 0 ? "b" : n % 7 == 0 ? "none" : "a");
            out.append("\",\"from\":" + n + ",\"to\":" + (n + random.nextInt(3)) + ",\"fromTime\":\"" + BEGIN
                    + "\",\"toTime\":\"" + at + "\"");
            out.append(random.nextInt(4) == 0 ? ",\"streamed\":true,\"lag\":\"PT7S\"" : "");
        }
        out.append(random.nextInt(3) == 0 ? ",\"lineage\":\"2\"" : "");
        out.append(random.nextBoolean() ? ",\"bytes\":" + random.nextInt(1_000) + ".5" : "");
        return out.append(",\"copies\":[" + copies(at, random) + "]}\n").toString();
    }

    private static String copies(String at, Random random) {
        List<String> out = new ArrayList<>();
        for (String in : List.of("near", "far", "unheard-of")) {
            if (random.nextInt(3) > 0) {
                String copy = "{\"store\":\"" + in + "\"";
                copy += random.nextBoolean()
                        ? ",\"landed\":\"" + Instant.parse(at).plusSeconds(30) + "\""
                        : "";
                copy += random.nextInt(3) == 0
                        ? ",\"gone\":\"" + Instant.parse(at).plusSeconds(90_000) + "\""
                        : "";
                copy += random.nextInt(3) == 0 ? ",\"lockedUntil\":\"" + BEGIN.plusSeconds(9) + "\"" : "";
                copy += random.nextInt(5) == 0 ? ",\"spoiled\":{\"found\":\"" + at + "\"}" : "";
                copy += random.nextInt(3) == 0
                        ? ",\"evidence\":{\"is\":\"" + Evidence.values()[1 + random.nextInt(5)].word()
                                + "\",\"by\":\"x\",\"at\":\"" + at + "\"}"
                        : "";
                out.add(copy + "}");
            }
        }
        return String.join(",", out);
    }

    private List<String> read() {
        try (Snapshot snapshot = store.read()) {
            return described(snapshot.history(DATABASE));
        }
    }

    private static List<String> described(History h) {
        List<String> out = new ArrayList<>();
        for (int i = 0; i < h.size(); i++) {
            StringBuilder row = new StringBuilder(h.id(i) + " " + h.kind(i) + " " + h.lineage(i) + " " + h.stream(i)
                    + " "
                    + h.parentId(i) + h.runId(i) + h.startedMs(i) + " " + h.endedMs(i) + " " + h.consistentAtMs(i)
                    + h.selfContained(i) + h.from(i, 0) + " " + h.to(i, 0) + " " + h.from(i, 1) + " " + h.to(i, 1) + " "
                    + h.fromTimeMs(i) + " " + h.toTimeMs(i) + " " + (h.streamed(i) ? h.lagMs(i) : -1));
            List<String> copies = new ArrayList<>();
            for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
                copies.add(h.store(c) + " " + h.landedMs(c) + " " + h.arrivesMs(i, c) + " " + h.lockedUntilMs(c) + " "
                        + h.goneMs(c) + " " + h.foundMs(c) + " " + h.sinceMs(c) + " " + h.bytes(c) + " "
                        + h.evidence(c));
            }
            out.add(row.append(copies.stream().sorted().toList()).toString());
        }
        return out.stream().sorted().toList();
    }

    private long number(String sql) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + directory.resolve("firth.db"));
                Statement statement = connection.createStatement();
                java.sql.ResultSet row = statement.executeQuery(sql)) {
            return row.next() ? row.getLong(1) : -1;
        }
    }

    private void change(String sql, byte[] value) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + directory.resolve("firth.db"));
                PreparedStatement statement = connection.prepareStatement(sql)) {
            if (value.length > 0) {
                statement.setBytes(1, value);
            }
            statement.executeUpdate();
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void aPackAndWhatChangedSinceAreTheRows(long seed) throws Exception {
        Random random = new Random(seed);
        StringBuilder first = new StringBuilder();
        for (int n = 0; n < 600; n++) {
            first.append(backup(n, random));
        }
        take(first.toString());
        assertEquals(600, number("SELECT rows FROM pack"));
        StringBuilder later = new StringBuilder();
        for (int n = 590; n < 640; n++) {
            later.append(backup(n, random));
        }
        take(later.toString());
        take(
                "{\"type\":\"backup\",\"id\":\"backup-3\",\"database\":\"other\",\"kind\":\"full\",\"ended\":\"2026-01-01T00:00:00Z\"}\n");
        assertTrue(number("SELECT count(*) FROM unpacked") > 20, "what changed is noted, the pack stays");
        assertEquals(600, number("SELECT rows FROM pack"));
        List<String> fromPack = read();
        change("DELETE FROM pack", new byte[0]);
        assertEquals(read(), fromPack);
    }

    @Test
    void howACopyIsKnownIsKeptAndAWordDoesNotRaiseIt() throws Exception {
        String log =
                "{\"type\":\"backup\",\"id\":\"%s\",\"database\":\"d\",\"kind\":\"log\",\"stream\":\"a\",\"from\":1,\"to\":2,"
                        + "\"fromTime\":\"" + BEGIN + "\",\"toTime\":\"" + BEGIN + "\",\"ended\":\"" + BEGIN
                        + "\",\"copies\":[{\"store\":\"near\"%s}]}\n";
        String read = ",\"evidence\":{\"is\":\"read\",\"by\":\"x\",\"at\":\"" + BEGIN + "\"}";
        take(String.format(Locale.ROOT, log, "seen", read)
                + String.format(Locale.ROOT, log, "told", "")
                + String.format(Locale.ROOT, log, "boast", ",\"evidence\":{\"is\":\"restored\"}"));
        List<String> known = read();
        assertEquals(2, known.size(), "who says more than told says who found it so, and when");
        assertTrue(known.get(0).endsWith(" READ]") && known.get(1).endsWith(" TOLD]"), known.toString());
        take(String.format(Locale.ROOT, log, "seen", ",\"bytes\":7"));
        assertTrue(read().get(0).endsWith(" 7.0 TOLD]"), "what was read was not this");
    }

    @ParameterizedTest(name = "{0} in memory")
    @ValueSource(longs = {1, 300, 500, 900, 100_000})
    void whatComesAtOnceIsPackedHoweverMuchOfItIsInMemory(long most) throws Exception {
        Random random = new Random(most);
        StringBuilder all = new StringBuilder();
        for (int n = 0; n < 400; n++) {
            all.append(backup(n, random));
        }
        for (int n = 0; n < 400; n++) {
            all.append(backup(n, random).replace("\"d\"", "\"e\"").replace("\"id\":\"b", "\"id\":\"e"));
        }
        for (int n = 380; n < 700; n++) {
            all.append(backup(n, random));
        }
        try (Connection connection = Connections.to(
                                directory.resolve("firth.db"), SQLiteConfig.TransactionMode.IMMEDIATE)
                        .getConnection();
                SqliteCatalog catalog = new SqliteCatalog(connection, most, most)) {
            connection.setAutoCommit(false);
            FleetFileReader.read(
                    new ByteArrayInputStream(all.toString().getBytes(StandardCharsets.UTF_8)), "test", catalog);
            catalog.finish(new From("test", Optional.empty()), BEGIN);
            connection.commit();
        }
        assertEquals(2, number("SELECT count(*) FROM pack"));
        List<String> fromPacks = read("d", "e");
        change("DELETE FROM pack", new byte[0]);
        assertEquals(read("d", "e"), fromPacks);
    }

    private List<String> read(String... databases) {
        List<String> out = new ArrayList<>();
        try (Snapshot snapshot = store.read()) {
            for (String id : databases) {
                out.addAll(
                        described(snapshot.historyLater(DATABASE, List.of(id)).get()));
            }
        }
        return out;
    }

    @Test
    void packsAnewWhenMuchChanged() throws Exception {
        Random random = new Random(7);
        StringBuilder all = new StringBuilder();
        for (int n = 0; n < 1_000; n++) {
            all.append(backup(n, random));
            if (n == 299) {
                take(all.toString());
                all.setLength(0);
                assertEquals(300, number("SELECT rows FROM pack"));
            }
        }
        take(all.toString());
        assertEquals(1_000, number("SELECT rows FROM pack"));
        assertEquals(0, number("SELECT count(*) FROM unpacked"));
    }

    @Test
    void aDamagedPackIsNotUsed() throws Exception {
        Random random = new Random(9);
        StringBuilder all = new StringBuilder();
        for (int n = 0; n < 300; n++) {
            all.append(backup(n, random));
        }
        take(all.toString());
        List<String> sound = read();
        change("UPDATE pack SET content = ?", new byte[] {1, 0, 0, 0, 0, 0, 0, 0, 7, 1, 2, 3});
        assertEquals(sound, read());
        change("UPDATE pack SET content = ?", new byte[] {99});
        assertEquals(sound, read());
    }

    @Test
    void aDamageIsSeen() {
        Pack pack = new Pack();
        pack.backup(new BackupRows.Row(
                1,
                "b",
                firth.core.model.Kind.FULL,
                null,
                null,
                false,
                0,
                null,
                null,
                1,
                2,
                3,
                true,
                -1,
                -1,
                History.ALWAYS,
                History.ALWAYS));
        byte[] content = pack.content();
        assertTrue(Pack.isSound(content));
        for (int at = 0; at < content.length; at++) {
            byte[] damaged = content.clone();
            damaged[at] ^= 4;
            assertFalse(Pack.isSound(damaged), "byte " + at);
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {0, 1, -1, 63, 64, -64, -65, 1L << 33, Long.MAX_VALUE, Long.MIN_VALUE})
    void numbersComeBackAsTheyWent(long value) {
        Bytes out = new Bytes();
        out.put(value);
        out.putPlain(value);
        out.putDouble(value / 3.0);
        out.put("tide " + value);
        Bytes in = new Bytes(out.written(), 0);
        assertEquals(value, in.take());
        assertEquals(value, in.takePlain());
        assertEquals(value / 3.0, in.takeDouble());
        assertEquals("tide " + value, in.takeText());
    }
}
