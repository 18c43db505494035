package firth.store;

import firth.core.history.Catalog;
import firth.core.history.Merging;
import firth.core.model.Backup;
import firth.core.model.FleetRecord;
import firth.core.model.Observed;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A catalog that writes into SQLite within a transaction its owner ends. */
final class SqliteCatalog implements Catalog, AutoCloseable {

    /** Counts changes of records that may concern any database. */
    static final String SHARED = "";

    private final Connection connection;
    private final PreparedStatement selectRecord;
    private final PreparedStatement putRecord;
    private final RunTable runs;
    private final BackupTable backups;
    private final FreshPacks fresh;
    private final TimeIndexes inTime;
    private final Set<String> touched = new HashSet<>();
    /** By database, the numbers of the backups that changed. */
    private final Map<String, Set<Long>> changed = new HashMap<>();

    private final Set<String> repacked = new HashSet<>();

    /** So many backups are packed in memory, some 30 bytes each. */
    private static final long PACKED = 1_000_000;

    /** So many backups are entered in the order of time one by one. */
    private static final long ONE_BY_ONE = 100_000;

    /** So many changes of one database are told apart. */
    private static final int NOTED = 20_000;

    SqliteCatalog(Connection connection) throws SQLException {
        this(connection, PACKED, ONE_BY_ONE);
    }

    SqliteCatalog(Connection connection, long packed, long oneByOne) throws SQLException {
        this.connection = connection;
        selectRecord = connection.prepareStatement(
                "SELECT document, observed FROM record WHERE type = ? AND id = ? AND version = ?");
        putRecord = connection.prepareStatement(
                "INSERT OR REPLACE INTO record (type, id, version, document, observed) VALUES (?, ?, ?, ?, ?)");
        runs = new RunTable(connection);
        backups = new BackupTable(connection);
        fresh = new FreshPacks(connection, packed);
        inTime = new TimeIndexes(connection, oneByOne);
    }

    @Override
    public Change put(FleetRecord record, String document) {
        try {
            String type = record.type();
            int version = record instanceof PolicyVersion p ? p.version() : 0;
            for (PreparedStatement s : List.of(selectRecord, putRecord)) {
                s.setString(1, type);
                s.setString(2, record.id());
                s.setInt(3, version);
            }
            Optional<Instant> observed = record instanceof Observed o ? Optional.of(o.at()) : Optional.empty();
            boolean laterKnown = false;
            String known = null;
            try (ResultSet row = selectRecord.executeQuery()) {
                if (row.next()) {
                    known = row.getString(1);
                    laterKnown = observed.isPresent() && observed.get().toEpochMilli() < row.getLong(2);
                }
            }
            if (document.equals(known) || laterKnown) {
                return Change.UNCHANGED;
            }
            putRecord.setString(4, document);
            Columns.setMoment(putRecord, 5, observed);
            putRecord.executeUpdate();
            if (record.isJudgedBy()) {
                touched.add(SHARED);
            }
            return known == null ? Change.ADDED : Change.UPDATED;
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    @Override
    public Change put(Run run, Replacing replacing) {
        try {
            if (runs.add(run)) {
                touched.add(run.database());
                return Change.ADDED;
            }
            Run known = runs.find(run.id()).orElseThrow();
            replacing.check(known, run);
            Run merged = Merging.merge(known, run);
            Change change = Merging.change(known, merged);
            if (change != Change.UNCHANGED) {
                runs.replace(merged);
                touched.add(known.database());
                touched.add(run.database());
            }
            return change;
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    @Override
    public Change put(Backup backup, Replacing replacing) {
        try {
            long added = backups.add(backup);
            if (added > 0) {
                inTime.added();
                touched.add(backup.database());
                if (!fresh.added(added, backup)) {
                    note(backup.database(), added);
                }
                return Change.ADDED;
            }
            Backup known = backups.find(backup.id()).orElseThrow();
            replacing.check(known, backup);
            Backup merged = Merging.merge(known, backup);
            Change change = Merging.change(known, merged);
            if (change != Change.UNCHANGED) {
                long num = backups.replace(merged);
                unpack(known.database());
                unpack(backup.database());
                touch(known.database(), num);
                touch(backup.database(), num);
            }
            return change;
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    /** Puts a backup in the place of the known one as it is given. */
    void correct(Backup backup) {
        try {
            unpack(backup.database());
            touch(backup.database(), backups.replace(backup));
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    /** Keeps of copies what is said of them besides what they are judged by, and that anew. */
    void say(List<FactStore.Said> all) {
        try (PreparedStatement number = connection.prepareStatement("SELECT num FROM backup WHERE id = ?");
                PreparedStatement put =
                        connection.prepareStatement("UPDATE copy SET rest = ? WHERE backup = ? AND store = ?")) {
            for (FactStore.Said said : all) {
                number.setString(1, said.backup());
                long num;
                try (ResultSet row = number.executeQuery()) {
                    if (!row.next()) {
                        continue;
                    }
                    num = row.getLong(1);
                }
                put.setString(1, said.rest());
                put.setLong(2, num);
                put.setString(3, said.store());
                put.executeUpdate();
                unpack(said.database());
                touch(said.database(), num);
            }
        } catch (SQLException e) {
            throw failure(e);
        }
    }

    /** The databases whose facts changed, and the empty name where shared records did. */
    Set<String> touched() {
        return Set.copyOf(touched);
    }

    private void touch(String database, long backup) {
        touched.add(database);
        note(database, backup);
    }

    /** Of a database of which very many changed it is not noted which: it is packed anew. */
    private void note(String database, long backup) {
        if (repacked.contains(database)) {
            return;
        }
        Set<Long> own = changed.computeIfAbsent(database, d -> new HashSet<>());
        own.add(backup);
        if (own.size() > NOTED) {
            repacked.add(database);
            changed.remove(database);
        }
    }

    private void unpack(String database) {
        if (fresh.changed(database)) {
            repacked.add(database);
            changed.remove(database);
        }
    }

    /** Counts the changes and notes how new the facts of their source are. */
    void finish(FactStore.Delivery delivery, Instant received) throws SQLException {
        touched.addAll(backups.sharing());
        try (PreparedStatement last = connection.prepareStatement("SELECT coalesce(max(at), 0) FROM change");
                ResultSet at = last.executeQuery();
                PreparedStatement count =
                        connection.prepareStatement("INSERT INTO change (database, count, at) VALUES (?, 1, ?)"
                                + " ON CONFLICT (database) DO UPDATE SET count = count + 1, at = excluded.at")) {
            at.next();
            for (String database : touched) {
                count.setString(1, database);
                count.setLong(2, at.getLong(1) + 1);
                count.executeUpdate();
            }
        }
        Packs packs = new Packs(connection);
        for (Map.Entry<String, Set<Long>> entry : changed.entrySet()) {
            packs.changed(entry.getKey(), entry.getValue());
        }
        for (String database : repacked) {
            packs.anew(database);
        }
        fresh.finish();
        inTime.finish();
        try (PreparedStatement source = connection.prepareStatement(
                "INSERT INTO source (name, received, newest_fact, program) VALUES (?, ?, ?, ?)"
                        + " ON CONFLICT (name) DO UPDATE SET received = excluded.received,"
                        + " newest_fact = max(coalesce(newest_fact, excluded.newest_fact),"
                        + " coalesce(excluded.newest_fact, newest_fact)), program = max(program, excluded.program)")) {
            source.setString(1, delivery.source());
            source.setLong(2, received.toEpochMilli());
            Columns.setMoment(source, 3, delivery.newestFact());
            source.setBoolean(4, delivery.isProgram());
            source.executeUpdate();
        }
    }

    private static StoreFailure failure(SQLException e) {
        return new StoreFailure("The facts could not be written; what was there before is unharmed", e);
    }

    @Override
    public void close() throws SQLException {
        selectRecord.close();
        putRecord.close();
        runs.close();
        backups.close();
        fresh.close();
    }
}
