package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.exchange.FleetFileReader;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.sqlite.SQLiteConfig;

/** Indexes left out of a transaction that brings most of what there is are there again when it has ended, and whole. */
class TimeIndexesTest {

    private static final long FEW = 50;

    @TempDir
    private Path directory;

    private FactStore store;

    private record From(String source, Optional<Instant> newestFact) implements FactStore.Delivery {}

    @BeforeEach
    void open() {
        store = FactStore.open(directory.resolve("firth.db"));
    }

    @AfterEach
    void close() {
        store.close();
    }

    @ParameterizedTest(name = "{0} there, {1} come, left out: {2}")
    @CsvSource({"0, 49, false", "0, 50, true", "40, 60, true", "300, 120, false", "300, 400, true"})
    void areThereAndWholeWhateverCame(int there, int come, boolean leftOut) throws Exception {
        List<String> before = indexes();
        if (there > 0) {
            take(0, there, true);
        }
        int during = take(there, come, true);
        assertEquals(leftOut, during < before.size(), during + " of " + before.size() + " during the transaction");
        assertEquals(before, indexes());
        assertEquals("ok", text("PRAGMA integrity_check"));
        assertEquals(
                String.valueOf(there + come),
                text("SELECT count(*) FROM backup INDEXED BY backup_in_time WHERE started > 0"));
    }

    @Test
    void areAsTheyWereWhereTheTransactionIsNotCommitted() throws Exception {
        List<String> before = indexes();
        assertTrue(take(0, 200, false) < before.size());
        assertEquals(before, indexes());
        assertEquals("ok", text("PRAGMA integrity_check"));
        assertEquals("0", text("SELECT count(*) FROM backup"));
    }

    /** Takes backups, and says how many indexes there were before the end of it. */
    private int take(int from, int many, boolean commit) throws Exception {
        StringBuilder all = new StringBuilder();
        for (int n = from; n < from + many; n++) {
            all.append("""
                    {"type":"backup","id":"b%d","database":"d%d","kind":"%s","started":"%s","ended":"%s",%s"from":1,"to":2,"copies":[{"store":"s"}]}
                    """.formatted(
                    n,
                    n % 3,
                    n % 5 == 0 ? "full" : "log",
                    Instant.ofEpochSecond(1_700_000_000L + 7_919L * n % 1_000),
                    Instant.ofEpochSecond(1_700_002_000L),
                    n % 5 == 0 ? "" : "\"fromTime\":\"2023-11-14T00:00:00Z\",\"toTime\":\"2023-11-14T00:00:01Z\","));
        }
        try (Connection connection = connect();
                SqliteCatalog catalog = new SqliteCatalog(connection, 1_000, FEW)) {
            connection.setAutoCommit(false);
            FleetFileReader.read(
                    new ByteArrayInputStream(all.toString().getBytes(StandardCharsets.UTF_8)), "test", catalog);
            int during = indexes(connection).size();
            catalog.finish(new From("test", Optional.empty()), Instant.EPOCH);
            if (commit) {
                connection.commit();
            } else {
                connection.rollback();
            }
            return during;
        }
    }

    private Connection connect() throws SQLException {
        return Connections.to(directory.resolve("firth.db"), SQLiteConfig.TransactionMode.IMMEDIATE)
                .getConnection();
    }

    private List<String> indexes() throws SQLException {
        try (Connection connection = connect()) {
            return indexes(connection);
        }
    }

    private static List<String> indexes(Connection connection) throws SQLException {
        List<String> out = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet rows = statement.executeQuery(
                        "SELECT sql FROM sqlite_master WHERE type = 'index' AND sql IS NOT NULL ORDER BY sql")) {
            while (rows.next()) {
                out.add(rows.getString(1));
            }
        }
        return out;
    }

    private String text(String sql) throws SQLException {
        try (Connection connection = connect();
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(sql)) {
            row.next();
            return row.getString(1);
        }
    }
}
