package firth.store;

import firth.core.fleet.Database;
import firth.core.history.Backup;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.history.Run;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** An unchanging view of all facts. Not safe for use by several threads. */
public final class Snapshot implements AutoCloseable {

    /** Where facts come from, when some came last, and the newest moment they speak of. */
    public record Source(String name, Instant received, Optional<Instant> newestFact) {}

    /** Something that takes one fact after another and may fail to pass it on. */
    public interface Taker<T> {
        void take(T fact) throws java.io.IOException;
    }

    private final Connection connection;

    Snapshot(Connection connection) throws SQLException {
        this.connection = connection;
        connection.setAutoCommit(false);
    }

    /** How often the facts of each database changed; under the empty name, how often shared records did. */
    public Map<String, Long> changes() {
        return query("SELECT database, count FROM change", s -> {}, rows -> {
            Map<String, Long> out = new HashMap<>();
            while (rows.next()) {
                out.put(rows.getString(1), rows.getLong(2));
            }
            return out;
        });
    }

    /** Records that are not history, as text of the exchange format, ordered by type, id and version. */
    public List<String> documents() {
        return query("SELECT document FROM record ORDER BY type, id, version", s -> {}, rows -> {
            List<String> out = new ArrayList<>();
            while (rows.next()) {
                out.add(rows.getString(1));
            }
            return out;
        });
    }

    public List<Source> sources() {
        return query("SELECT name, received, newest_fact FROM source ORDER BY name", s -> {}, rows -> {
            List<Source> out = new ArrayList<>();
            while (rows.next()) {
                out.add(new Source(
                        rows.getString(1),
                        Columns.moment(rows, "received").orElseThrow(),
                        Columns.moment(rows, "newest_fact")));
            }
            return out;
        });
    }

    /** The database a backup is of. */
    public Optional<String> databaseOf(String backup) {
        return query(
                "SELECT database FROM backup WHERE id = ?",
                s -> s.setString(1, backup),
                rows -> rows.next() ? Optional.of(rows.getString(1)) : Optional.empty());
    }

    /** The history of a database as columns, without an object per backup. */
    public History history(Database database) {
        History.Builder history = History.of(database);
        query(
                "SELECT b.*, c.store, c.landed, c.locked_until, c.gone, c.spoiled_found, c.spoiled_since,"
                        + " coalesce(c.bytes, b.bytes) AS held FROM backup b LEFT JOIN copy c ON c.backup = b.num"
                        + " WHERE b.database = ? ORDER BY b.num",
                s -> s.setString(1, database.id()),
                rows -> {
                    addAll(rows, history);
                    return history;
                });
        query(
                "SELECT " + RunTable.COLUMNS + " FROM run WHERE database = ? AND outcome = 'failed'",
                s -> s.setString(1, database.id()),
                rows -> {
                    while (rows.next()) {
                        history.add(RunTable.read(rows));
                    }
                    return history;
                });
        return history.build();
    }

    private static void addAll(ResultSet rows, History.Builder history) throws SQLException {
        Map<String, Kind> kinds = new HashMap<>();
        for (Kind kind : Kind.values()) {
            kinds.put(kind.word(), kind);
        }
        long last = -1;
        boolean taken = false;
        while (rows.next()) {
            long num = rows.getLong("num");
            if (num != last) {
                last = num;
                Kind kind = kinds.get(rows.getString("kind"));
                String stream = rows.getString("stream");
                taken = history.takes(kind, Columns.text(rows, "lineage"), Optional.ofNullable(stream));
                if (taken) {
                    history.streamed(rows.getBoolean("streamed"));
                    boolean positioned = history.isStream(stream);
                    history.add(
                            rows.getString("id"),
                            kind,
                            rows.getString("parent"),
                            rows.getLong("started"),
                            rows.getLong("ended"),
                            rows.getLong("consistent_at"),
                            rows.getBoolean("self_contained"),
                            positioned ? rows.getLong("from_position") : -1,
                            positioned ? rows.getLong("to_position") : -1,
                            orElse(rows, "from_time", History.ALWAYS),
                            orElse(rows, "to_time", History.ALWAYS));
                }
            }
            if (taken && rows.getString("store") != null) {
                double held = rows.getDouble("held");
                double bytes = rows.wasNull() ? Double.NaN : held;
                history.addCopy(
                        rows.getString("store"),
                        rows.getLong("landed"),
                        orElse(rows, "locked_until", History.ALWAYS),
                        orElse(rows, "gone", History.NEVER),
                        orElse(rows, "spoiled_found", History.NEVER),
                        orElse(rows, "spoiled_since", History.ALWAYS),
                        bytes);
            }
        }
    }

    private static long orElse(ResultSet rows, String column, long otherwise) throws SQLException {
        long value = rows.getLong(column);
        return rows.wasNull() ? otherwise : value;
    }

    /** Passes on every run in the order it was first told of. */
    public void runs(Taker<Run> taker) throws java.io.IOException {
        each("SELECT " + RunTable.COLUMNS + " FROM run ORDER BY num", RunTable::read, taker);
    }

    /** Passes on every backup in the order it was first told of. */
    public void backups(Taker<Backup> taker) throws java.io.IOException {
        try (BackupTable table = new BackupTable(connection)) {
            each("SELECT num, " + BackupTable.COLUMNS + " FROM backup ORDER BY num", table::read, taker);
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    private interface Reading<T> {
        T of(ResultSet rows) throws SQLException;
    }

    private interface Binding {
        void to(PreparedStatement statement) throws SQLException;
    }

    private <T> void each(String sql, Reading<T> reading, Taker<T> taker) throws java.io.IOException {
        try (PreparedStatement statement = connection.prepareStatement(sql);
                ResultSet rows = statement.executeQuery()) {
            while (rows.next()) {
                taker.take(reading.of(rows));
            }
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    private <T> T query(String sql, Binding binding, Reading<T> reading) {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            binding.to(statement);
            try (ResultSet rows = statement.executeQuery()) {
                return reading.of(rows);
            }
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    private static StoreFailure failure(SQLException e) {
        return new StoreFailure("The facts could not be read", e);
    }

    @Override
    public void close() {
        try {
            connection.close();
        } catch (SQLException e) {
            throw failure(e);
        }
    }
}
