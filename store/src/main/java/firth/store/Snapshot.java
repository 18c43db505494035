package firth.store;

import firth.core.findings.Readiness;
import firth.core.findings.SharedPlace;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Place;
import firth.core.model.Run;
import firth.core.model.Worded;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;

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
                out.put(rows.text(), rows.number());
            }
            return out;
        });
    }

    /** Those of which facts changed after a view of the file had a number; under the empty name, shared records. */
    public Set<String> changedSince(long changeCount) {
        return query("SELECT database FROM change WHERE at > ?", s -> s.setLong(1, changeCount), rows -> {
            Set<String> out = new HashSet<>();
            while (rows.next()) {
                out.add(rows.text());
            }
            return out;
        });
    }

    /** How often the facts of some databases changed, added up. */
    public long changesOf(Collection<String> databases) {
        long out = 0;
        for (String database : databases) {
            out += query(
                    "SELECT count FROM change WHERE database = ?",
                    s -> s.setString(1, database),
                    rows -> rows.next() ? rows.number() : 0L);
        }
        return out;
    }

    /** Grows with each change of facts or records, so that two views with the same number are of the same facts. */
    public long changeCount() {
        return number("SELECT coalesce(max(at), 0) FROM change");
    }

    /** How often shared records changed. */
    public long sharedChangeCount() {
        return changesOf(Set.of(""));
    }

    private long number(String sql) {
        return query(sql, s -> {}, rows -> rows.next() ? rows.number() : 0);
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

    /** Records of one type, as text of the exchange format, ordered by id and version. */
    public List<String> documents(String type) {
        return query(
                "SELECT document FROM record WHERE type = ? ORDER BY id, version", s -> s.setString(1, type), rows -> {
                    List<String> out = new ArrayList<>();
                    while (rows.next()) {
                        out.add(rows.text());
                    }
                    return out;
                });
    }

    /** A record that is not history and has no versions, as text of the exchange format. */
    public Optional<String> document(String type, String id) {
        return query(
                "SELECT document FROM record WHERE type = ? AND id = ? AND version = 0",
                s -> {
                    s.setString(1, type);
                    s.setString(2, id);
                },
                rows -> rows.next() ? Optional.of(rows.text()) : Optional.empty());
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

    /** Runs and backups in the order of time; for as long as this view is open. */
    public Entries entries() {
        return new Entries(connection);
    }

    /** A run or backup by its id. */
    public record Known(String id, String kind, String database) {}

    /** Backups, then runs, whose ids begin so, each by id; at most so many of either. */
    public List<Known> idsFrom(String beginning, int most) {
        List<Known> out = new ArrayList<>();
        for (String table : List.of("backup", "run")) {
            out.addAll(query(
                    "SELECT id, kind, database FROM " + table + " WHERE id >= ? AND id < ? ORDER BY id LIMIT ?",
                    s -> {
                        s.setString(1, beginning);
                        s.setString(2, beginning + Character.toString(Character.MAX_CODE_POINT));
                        s.setInt(3, most);
                    },
                    rows -> {
                        List<Known> found = new ArrayList<>();
                        while (rows.next()) {
                            found.add(new Known(rows.text(), rows.text(), rows.text()));
                        }
                        return found;
                    }));
        }
        return out;
    }

    /** The database a backup is of. */
    public Optional<String> databaseOf(String backup) {
        return query(
                "SELECT database FROM backup WHERE id = ?",
                s -> s.setString(1, backup),
                rows -> rows.next() ? Optional.of(rows.text()) : Optional.empty());
    }

    /** Of each kind the backup of a database that ended last by a moment. */
    public List<Backup> newestOfKinds(String database, Instant by) {
        List<Backup> out = new ArrayList<>();
        try (BackupTable table = new BackupTable(connection)) {
            for (Kind kind : Kind.values()) {
                query(
                                "SELECT num, " + BackupTable.COLUMNS + " FROM backup WHERE database = ? AND kind = ?"
                                        + " AND ended <= ? ORDER BY " + (kind.isData() ? "ended" : "started")
                                        + " DESC LIMIT 1",
                                s -> {
                                    s.setString(1, database);
                                    s.setString(2, kind.word());
                                    s.setLong(3, by.toEpochMilli());
                                },
                                rows -> rows.next() ? Optional.of(table.read(rows)) : Optional.<Backup>empty())
                        .ifPresent(out::add);
            }
            return out;
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    /** One backup whole; empty where nobody knows it. */
    public Optional<Backup> backup(String id) {
        try (BackupTable backups = new BackupTable(connection)) {
            return backups.find(id);
        } catch (SQLException e) {
            throw new StoreFailure("The facts could not be read", e);
        }
    }

    /** A copy in a store, as a stocktake looks at it. */
    public record Lying(
            String backup,
            String database,
            Instant landed,
            OptionalDouble bytes,
            Optional<Instant> lockedUntil,
            Optional<Instant> gone,
            Optional<Instant> spoiledFound,
            Optional<Instant> spoiledSince,
            String told) {}

    /** Hands over every copy there is or was in a store. */
    public void copiesIn(String store, Consumer<Lying> to) {
        try (PreparedStatement select = connection.prepareStatement(
                "SELECT b.id, b.database, c.landed, coalesce(c.bytes, b.bytes), c.locked_until, c.gone, c.spoiled_found, c.spoiled_since, c.rest"
                        + " FROM copy c JOIN backup b ON b.num = c.backup WHERE c.store = ? ORDER BY b.num")) {
            select.setString(1, store);
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    to.accept(new Lying(
                            row.text(),
                            row.text(),
                            row.moment(),
                            row.amount(),
                            row.optionalMoment(),
                            row.optionalMoment(),
                            row.optionalMoment(),
                            row.optionalMoment(),
                            row.text()));
                }
            }
        } catch (SQLException e) {
            throw new StoreFailure("The facts could not be read", e);
        }
    }

    /** What was told of a copy beyond what is computed with, as text of the exchange format; empty where nothing was. */
    public String copyTold(String backup, String store) {
        try (PreparedStatement select = connection.prepareStatement(
                "SELECT c.rest FROM backup b JOIN copy c ON c.backup = b.num WHERE b.id = ? AND c.store = ?")) {
            select.setString(1, backup);
            select.setString(2, store);
            try (ResultSet row = select.executeQuery()) {
                return row.next() ? row.getString(1) : "";
            }
        } catch (SQLException e) {
            throw new StoreFailure("The facts could not be read", e);
        }
    }

    /** What is kept of a backup besides what it is judged by, as text of the exchange format; empty where there is none. */
    public String rest(String backup) {
        return query(
                "SELECT rest FROM backup WHERE id = ?",
                s -> s.setString(1, backup),
                rows -> rows.next() ? rows.text() : "");
    }

    /** The places of stores that several backups lie at by what is known: their copies that are there at a moment. */
    public List<SharedPlace> sharedPlaces(Instant at) {
        return query("""
                SELECT p.store, p.path, b.id, b.database, b.kind, b.run, c.landed FROM shared_place p
                JOIN copy c ON c.store = p.store AND c.rest <> '' AND ltrim(json_extract(c.rest, '$.path'), '/') = p.path
                JOIN backup b ON b.num = c.backup
                WHERE c.landed <= ?1 AND (c.gone IS NULL OR c.gone > ?1)
                  AND (c.spoiled_found IS NULL OR c.spoiled_found > ?1)
                """, s -> s.setLong(1, at.toEpochMilli()), rows -> {
            List<SharedPlace.Lying> out = new ArrayList<>();
            while (rows.next()) {
                out.add(new SharedPlace.Lying(
                        new Place(rows.text(), rows.text()),
                        rows.text(),
                        rows.text(),
                        Worded.of(Kind.class, rows.text()),
                        rows.optionalText(),
                        rows.moment()));
            }
            return SharedPlace.among(out);
        });
    }

    /**
     * A copy that is there, in a directory or around a place that is another copy's.
     *
     * @param other the backup of the other
     */
    public record Nested(String backup, String store, String other) {}

    /** Those whose places lie within one another, each with one of the others; what is gone by then is none of them. */
    public List<Nested> nested(Instant at) {
        return query("""
                SELECT b.id, p.store, o.id FROM outer_place p
                JOIN copy c ON c.store = p.store AND c.rest <> ''
                  AND ltrim(json_extract(c.rest, '$.path'), '/') IN (p.path, p.path || '/')
                JOIN copy i ON i.store = p.store AND i.rest <> '' AND i.backup <> c.backup
                  AND ltrim(json_extract(i.rest, '$.path'), '/') > p.path || '/'
                  AND ltrim(json_extract(i.rest, '$.path'), '/') < p.path || '0'
                JOIN backup b ON b.num = c.backup
                JOIN backup o ON o.num = i.backup
                WHERE c.landed <= ?1 AND (c.gone IS NULL OR c.gone > ?1) AND i.landed <= ?1 AND (i.gone IS NULL OR i.gone > ?1)
                """, s -> s.setLong(1, at.toEpochMilli()), rows -> {
            List<Nested> out = new ArrayList<>();
            while (rows.next()) {
                String around = rows.text();
                String store = rows.text();
                String within = rows.text();
                out.add(new Nested(around, store, within));
                out.add(new Nested(within, store, around));
            }
            return out;
        });
    }

    /** What the newest data backups of a database say of its readiness. */
    public Readiness.Backed backed(String database) {
        Optional<Newest> newest = newest(database, "'full', 'diff', 'incr'");
        Optional<Newest> full = newest.isEmpty() ? newest : newest(database, "'full'");
        return new Readiness.Backed(
                newest.map(Newest::taken), full.map(Newest::bytes).orElse(OptionalDouble.empty()));
    }

    private record Newest(Readiness.TakenBackup taken, OptionalDouble bytes) {}

    private Optional<Newest> newest(String database, String kinds) {
        return query(
                "SELECT kind, ended, (SELECT coalesce(triggered_by, '') = 'hand'"
                        + " FROM run WHERE run.id = backup.run), bytes FROM backup"
                        + " WHERE database = ? AND kind IN ('full', 'diff', 'incr') AND kind IN (" + kinds
                        + ") ORDER BY ended DESC LIMIT 1",
                s -> s.setString(1, database),
                rows -> rows.next()
                        ? Optional.of(new Newest(
                                new Readiness.TakenBackup(
                                        Worded.of(Kind.class, rows.text()), rows.moment(), rows.flag()),
                                rows.amount()))
                        : Optional.empty());
    }

    /** The history of a database as columns, without an object per backup. */
    public History history(Database database) {
        return historyLater(database, List.of(database.id())).get();
    }

    /**
     * What is known of a database, read now and put into columns when it is asked for, by any thread.
     *
     * @param members the ids under which its facts come: its own, and those of its standbys
     */
    public Supplier<History> historyLater(Database database, List<String> members) {
        List<Packs.Loaded> backups = new ArrayList<>();
        List<Run> runs = new ArrayList<>();
        for (String member : members) {
            try {
                backups.add(new Packs(connection).load(member));
            } catch (SQLException e) {
                throw failure(e);
            }
            runs.addAll(runs(member));
        }
        return () -> {
            HistoryBuilder history = History.of(database);
            backups.forEach(b -> b.into(history));
            runs.forEach(history::add);
            return history.build();
        };
    }

    private List<Run> runs(String database) {
        return query(
                "SELECT " + RunTable.COLUMNS + " FROM run WHERE database = ?", s -> s.setString(1, database), rows -> {
                    List<Run> out = new ArrayList<>();
                    while (rows.next()) {
                        out.add(RunTable.read(rows));
                    }
                    return out;
                });
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

    static StoreFailure failure(SQLException e) {
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
