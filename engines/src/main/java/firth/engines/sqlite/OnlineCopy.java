package firth.engines.sqlite;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/** A copy of a SQLite database while others write to it: of all that was committed when it began, and of nothing after. */
public final class OnlineCopy {

    private static final int PATIENCE_MS = 60_000;

    private OnlineCopy() {}

    /** The engine's version. */
    public static String version() {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite::memory:");
                Statement s = c.createStatement();
                ResultSet row = s.executeQuery("SELECT sqlite_version()")) {
            row.next();
            return row.getString(1);
        } catch (SQLException e) {
            throw new IllegalStateException("SQLite comes with this program", e);
        }
    }

    /**
     * Copies and lets the engine check what was written.
     *
     * @param into nothing is there yet
     * @throws IOException where it did not go; the message is the engine's
     */
    public static void of(Path file, Path into) throws IOException {
        if (!Files.isRegularFile(file)) {
            throw new IOException(file + " is not there");
        }
        try (Connection c = open(file)) {
            try (PreparedStatement copy = c.prepareStatement("VACUUM INTO ?")) {
                copy.setString(1, into.toString());
                copy.execute();
            }
        } catch (SQLException e) {
            throw new IOException("SQLite does not copy " + file + ": " + e.getMessage(), e);
        }
        try (Connection c = open(into);
                Statement check = c.createStatement();
                ResultSet row = check.executeQuery("PRAGMA integrity_check(1)")) {
            if (!row.next() || !row.getString(1).equals("ok")) {
                throw new IOException("the copy is not whole: " + row.getString(1));
            }
        } catch (SQLException e) {
            throw new IOException("SQLite does not open its copy: " + e.getMessage(), e);
        }
    }

    static Connection open(Path file) throws SQLException {
        Connection c = DriverManager.getConnection(
                "jdbc:sqlite:" + file.toUri().toString().replaceFirst("^file:/*", "file:/") + "?mode=rw");
        try (Statement s = c.createStatement()) {
            s.execute("PRAGMA busy_timeout = " + PATIENCE_MS);
            return c;
        } catch (SQLException e) {
            c.close();
            throw e;
        }
    }
}
