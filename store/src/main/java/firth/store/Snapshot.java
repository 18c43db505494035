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

    /** How many cells of a row of history are about the backup, its number left out. */
    private static final int BACKUP_CELLS = 15;

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
                out.put(rows.text(), rows.number());
            }
            return out;
        });
    }

    /** Records that are not history, as text of the exchange format, ordered by type, id and version. */
    public List<String> documents() {
        return query("SELECT document FROM record ORDER BY type, id, version", s -> {}, rows -> {
            List<String> out = new ArrayList<>();
            while (rows.next()) {
                out.add(rows.text());
            }
            return out;
        });
    }

    public List<Source> sources() {
        return query("SELECT name, received, newest_fact FROM source ORDER BY name", s -> {}, rows -> {
            List<Source> out = new ArrayList<>();
            while (rows.next()) {
                out.add(new Source(rows.text(), rows.moment(), rows.optionalMoment()));
            }
            return out;
        });
    }

    /** The database a backup is of. */
    public Optional<String> databaseOf(String backup) {
        return query(
                "SELECT database FROM backup WHERE id = ?",
                s -> s.setString(1, backup),
                rows -> rows.next() ? Optional.of(rows.text()) : Optional.empty());
    }

    /** The history of a database as columns, without an object per backup. */
    public History history(Database database) {
        History.Builder history = History.of(database);
        query(
                "SELECT b.num, b.id, b.kind, b.lineage, b.stream, b.streamed, b.parent, b.run, b.started, b.ended,"
                        + " b.consistent_at, b.self_contained, b.from_position, b.to_position, b.from_time, b.to_time,"
                        + " c.store, c.landed, c.locked_until, c.gone, c.spoiled_found, c.spoiled_since,"
                        + " coalesce(c.bytes, b.bytes) FROM backup b LEFT JOIN copy c ON c.backup = b.num"
                        + " WHERE b.database = ? ORDER BY b.num",
                s -> s.setString(1, database.id()),
                rows -> {
                    addAll(rows, history);
                    return history;
                });
        query(
                "SELECT " + RunTable.COLUMNS + " FROM run WHERE database = ?",
                s -> s.setString(1, database.id()),
                rows -> {
                    while (rows.next()) {
                        history.add(RunTable.read(rows));
                    }
                    return history;
                });
        return history.build();
    }

    private static void addAll(Cells row, History.Builder history) throws SQLException {
        Map<String, Kind> kinds = new HashMap<>();
        for (Kind kind : Kind.values()) {
            kinds.put(kind.word(), kind);
        }
        long last = -1;
        boolean taken = false;
        while (row.next()) {
            long num = row.number();
            if (num == last) {
                row.skip(BACKUP_CELLS);
            } else {
                last = num;
                taken = add(row, kinds, history);
            }
            String store = row.text();
            if (taken && store != null) {
                history.addCopy(
                        store,
                        row.number(),
                        row.numberOr(History.ALWAYS),
                        row.numberOr(History.NEVER),
                        row.numberOr(History.NEVER),
                        row.numberOr(History.ALWAYS),
                        row.amountOr(Double.NaN));
            }
        }
    }

    /** Adds the backup of a row, if it has an effect; leaves the row before its copy. */
    private static boolean add(Cells row, Map<String, Kind> kinds, History.Builder history) throws SQLException {
        String id = row.text();
        Kind kind = kinds.get(row.text());
        Optional<String> lineage = row.optionalText();
        Optional<String> stream = row.optionalText();
        boolean streamed = row.flag();
        if (!history.takes(kind, lineage, stream)) {
            row.skip(BACKUP_CELLS - 5);
            return false;
        }
        history.streamed(streamed);
        long other = stream.filter(history::isStream).isPresent() ? 0 : -1;
        history.add(
                id,
                kind,
                row.text(),
                row.text(),
                row.number(),
                row.number(),
                row.number(),
                row.flag(),
                row.numberOr(-1) | other,
                row.numberOr(-1) | other,
                row.numberOr(History.ALWAYS),
                row.numberOr(History.ALWAYS));
        return true;
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
        T of(Cells row) throws SQLException;
    }

    private interface Binding {
        void to(PreparedStatement statement) throws SQLException;
    }

    private <T> void each(String sql, Reading<T> reading, Taker<T> taker) throws java.io.IOException {
        try (PreparedStatement statement = connection.prepareStatement(sql);
                ResultSet rows = statement.executeQuery()) {
            for (Cells row = new Cells(rows); row.next(); ) {
                taker.take(reading.of(row));
            }
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    private <T> T query(String sql, Binding binding, Reading<T> reading) {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            binding.to(statement);
            try (ResultSet rows = statement.executeQuery()) {
                return reading.of(new Cells(rows));
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
