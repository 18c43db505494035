package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * The indexes by which backups stand in the order of time, across databases. A file that tells of one database after the other goes
 * through them from end to end for each: where one transaction brings most of what there is they are left out of it and built once, at
 * its end.
 */
final class TimeIndexes {

    private final Connection connection;

    private long added;

    /** When to look whether they are the most of it. */
    private long look;

    /** By name the indexes left out, and what builds them. */
    private final Map<String, String> leftOut = new LinkedHashMap<>();

    /** @param few so many backups are entered one by one in any case */
    TimeIndexes(Connection connection, long few) {
        this.connection = connection;
        this.look = few;
    }

    /** A backup was added. */
    void added() throws SQLException {
        added++;
        if (added == look) {
            look *= 2;
            if (leftOut.isEmpty() && isMost()) {
                leaveOut();
            }
        }
    }

    private boolean isMost() throws SQLException {
        try (PreparedStatement newest = connection.prepareStatement("SELECT coalesce(max(num), 0) FROM backup");
                ResultSet row = newest.executeQuery()) {
            return row.next() && row.getLong(1) <= 2 * added;
        }
    }

    private void leaveOut() throws SQLException {
        try (PreparedStatement indexes = connection.prepareStatement(
                        "SELECT name, sql FROM sqlite_master WHERE type = 'index' AND tbl_name = 'backup'"
                                + " AND name LIKE '%\\_in\\_time' ESCAPE '\\'");
                ResultSet rows = indexes.executeQuery()) {
            while (rows.next()) {
                leftOut.put(rows.getString(1), rows.getString(2));
            }
        }
        for (String index : leftOut.keySet()) {
            execute("DROP INDEX " + index);
        }
    }

    /** Builds what was left out; the transaction brings nothing more. */
    void finish() throws SQLException {
        for (String index : leftOut.values()) {
            execute(index);
        }
    }

    private void execute(String sql) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.execute();
        }
    }
}
