package firth.engines.sqlite;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;

/** A file that was restored, opened by the engine to see what is in it. */
public final class RestoredFile {

    private final Path file;

    public RestoredFile(Path file) {
        this.file = file;
    }

    /** Has the engine read and check all of it; gives what it found, {@code ok} where nothing is wrong. */
    public String check() throws IOException {
        return first("PRAGMA integrity_check").orElse("");
    }

    /** What the engine itself finds wrong with a file, which it is told not to change; empty where that is nothing. */
    static String wrong(Path file) {
        String url =
                "jdbc:sqlite:" + file.toUri().toString().replaceFirst("^file:/*", "file:/") + "?immutable=1&mode=ro";
        try (Connection c = DriverManager.getConnection(url);
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery("pragma integrity_check(1)")) {
            String said = r.next() ? r.getString(1) : "nothing";
            return "ok".equals(said)
                    ? ""
                    : "the engine's own check says: " + said.lines().findFirst().orElse(said);
        } catch (SQLException e) {
            return "the engine cannot open it: " + e.getMessage();
        }
    }

    /**
     * The first value of the first row a statement gives; empty where it gives none.
     *
     * @throws IOException where the engine does not carry it out; the message is the engine's
     */
    public Optional<String> first(String sql) throws IOException {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement s = c.createStatement();
                ResultSet row = s.executeQuery(sql)) {
            return row.next() ? Optional.ofNullable(row.getString(1)) : Optional.empty();
        } catch (SQLException e) {
            throw new IOException(e.getMessage(), e);
        }
    }
}
