package firth.bench;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** What the file alone takes: backups and their copies, put as rows into empty tables with the same indexes, and nothing else done. */
final class BareInsert {

    private static final int BACKUPS = 300_000;
    private static final int BATCH = 1_000;

    /** Of a table the rows that belong to those backups. */
    private enum Table {
        BACKUP("backup", "num"),
        COPY("copy", "backup");

        private final String table;
        private final String number;

        Table(String table, String number) {
            this.table = table;
            this.number = number;
        }
    }

    private BareInsert() {}

    /** @return backups a second, each with its copies, all in one transaction */
    static double aSecond(Path served, Path empty) throws SQLException {
        try (Connection from = DriverManager.getConnection("jdbc:sqlite:" + served);
                Connection to = DriverManager.getConnection("jdbc:sqlite:" + empty);
                Statement statement = to.createStatement()) {
            statement.execute("PRAGMA journal_mode = WAL");
            statement.execute("PRAGMA cache_size = -65536");
            List<List<Object[]>> rows = new ArrayList<>();
            for (Table t : Table.values()) {
                for (String sql : made(from, t)) {
                    statement.execute(sql);
                }
                rows.add(rows(from, t));
            }
            long begun = System.nanoTime();
            to.setAutoCommit(false);
            for (Table t : Table.values()) {
                insert(to, t, rows.get(t.ordinal()));
            }
            to.commit();
            return rows.get(0).size() / ((System.nanoTime() - begun) / 1e9);
        }
    }

    /** What makes a table and its indexes. */
    private static List<String> made(Connection from, Table t) throws SQLException {
        List<String> out = new ArrayList<>();
        try (Statement statement = from.createStatement();
                ResultSet row = statement.executeQuery("SELECT sql FROM sqlite_master WHERE tbl_name = '" + t.table
                        + "' AND type IN ('table', 'index') AND sql IS NOT NULL ORDER BY type DESC")) {
            while (row.next()) {
                out.add(row.getString(1));
            }
        }
        return out;
    }

    private static List<Object[]> rows(Connection from, Table t) throws SQLException {
        List<Object[]> out = new ArrayList<>();
        try (Statement statement = from.createStatement();
                ResultSet row =
                        statement.executeQuery("SELECT * FROM " + t.table + " WHERE " + t.number + " <= " + BACKUPS)) {
            int columns = row.getMetaData().getColumnCount();
            while (row.next()) {
                Object[] values = new Object[columns];
                for (int c = 0; c < columns; c++) {
                    values[c] = row.getObject(c + 1);
                }
                out.add(values);
            }
        }
        return out;
    }

    private static void insert(Connection to, Table t, List<Object[]> rows) throws SQLException {
        String marks = String.join(", ", Collections.nCopies(rows.get(0).length, "?"));
        try (PreparedStatement s = to.prepareStatement("INSERT INTO " + t.table + " VALUES (" + marks + ")")) {
            for (int r = 0; r < rows.size(); r++) {
                for (int c = 0; c < rows.get(r).length; c++) {
                    s.setObject(c + 1, rows.get(r)[c]);
                }
                s.addBatch();
                if (r % BATCH == BATCH - 1) {
                    s.executeBatch();
                }
            }
            s.executeBatch();
        }
    }
}
