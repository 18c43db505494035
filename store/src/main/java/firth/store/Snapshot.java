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
    private static final int BACKUP_CELLS = 16;

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
        Map<Long, Integer> rowOf = new HashMap<>();
        query(
                "SELECT b.num, b.id, b.kind, b.lineage, b.stream, b.streamed, b.lag, b.parent, b.run, b.started, b.ended,"
                        + " b.consistent_at, b.self_contained, b.from_position, b.to_position, b.from_time, b.to_time,"
                        + " c.store, c.landed, c.landed_stated, c.locked_until, c.gone, c.spoiled_found, c.spoiled_since,"
                        + " coalesce(c.bytes, b.bytes) FROM backup b LEFT JOIN copy c ON c.backup = b.num"
                        + " WHERE b.database = ? ORDER BY b.num",
                s -> s.setString(1, database.id()),
                rows -> {
                    addAll(rows, history, rowOf);
                    return history;
                });
        if (database.streams().size() > 1) {
            addPositions(database, history, rowOf);
        }
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

    /** Adds the positions of data backups in several streams, which have rows of their own. */
    private void addPositions(Database database, History.Builder history, Map<Long, Integer> rowOf) {
        query(
                "SELECT p.backup, p.stream, p.from_position, p.to_position FROM position p"
                        + " JOIN backup b ON b.num = p.backup WHERE b.database = ?",
                s -> s.setString(1, database.id()),
                row -> {
                    while (row.next()) {
                        Integer at = rowOf.get(row.number());
                        int stream = history.stream(row.text());
                        long from = row.number();
                        long to = row.number();
                        if (at != null) {
                            history.positions(at, stream, from, to);
                        }
                    }
                    return history;
                });
    }

    /** @param rowOf takes where the data backups lie, by their numbers */
    private static void addAll(Cells row, History.Builder history, Map<Long, Integer> rowOf) throws SQLException {
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
                if (taken && !history.lastIsLog()) {
                    rowOf.put(num, history.size() - 1);
                }
            }
            String store = row.text();
            if (taken && store != null) {
                history.addCopy(
                        store,
                        row.number(),
                        row.flag(),
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
        int lineage = history.lineage(row.text());
        String positionedIn = row.text();
        int stream = history.stream(positionedIn);
        boolean streamed = row.flag();
        long lag = row.number();
        boolean log = kind == Kind.LOG;
        if (lineage < 0 || log && stream < 0) {
            row.skip(BACKUP_CELLS - 6);
            return false;
        }
        String parent = row.text();
        String run = row.text();
        long started = row.number();
        long ended = row.number();
        long consistentAt = row.number();
        boolean selfContained = row.flag();
        long from = row.numberOr(-1);
        long to = row.numberOr(-1);
        boolean own = log || stream == 0;
        history.addRow(
                id,
                kind,
                lineage,
                log ? stream : -1,
                parent,
                run,
                started,
                ended,
                consistentAt,
                selfContained,
                own ? from : -1,
                own ? to : -1,
                row.numberOr(History.ALWAYS),
                row.numberOr(History.ALWAYS));
        if (!own) {
            history.addPositions(stream, from, to);
        }
        if (log && streamed) {
            history.streamed(lag);
        }
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
