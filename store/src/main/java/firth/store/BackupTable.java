package firth.store;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Kind;
import firth.core.model.Positions;
import firth.core.model.Spoilage;
import firth.core.model.Worded;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;

/**
 * Backups, their positions and copies as rows. What is new is inserted or ignored: a statement that may fail half way keeps an image
 * of every page it writes to, which costs more than the row.
 */
final class BackupTable implements AutoCloseable {

    static final String COLUMNS =
            "id, database, kind, parent, run, started, ended, bytes, lineage, stream, from_position,"
                    + " to_position, from_time, to_time, consistent_at, self_contained, streamed, lag, verified, rest";
    private static final String MARKS = "?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?";
    private static final int ID_AGAIN = 21;
    private static final int NUM = 21;

    private final PreparedStatement insert;
    private final PreparedStatement select;
    private final PreparedStatement update;
    private final PreparedStatement insertLog;
    private final PreparedStatement insertCopy;
    private final PreparedStatement insertUsualCopy;
    private final PreparedStatement selectCopies;
    private final PreparedStatement insertPosition;
    private final PreparedStatement selectPositions;
    private final PreparedStatement deletePositions;
    /** How a copy is known, as what is kept of it says; absent for most, which are only told of. */
    static final String EVIDENCE = "iif(c.rest = '', NULL, json_extract(c.rest, '$.evidence.is'))";

    private final OuterPlaces outer;
    private final PreparedStatement noteShared;
    private final PreparedStatement selectSharing;
    private final Set<String> sharing = new HashSet<>();
    private long number;

    BackupTable(Connection connection) throws SQLException {
        insert = connection.prepareStatement(
                "INSERT OR IGNORE INTO backup (" + COLUMNS + ", num) VALUES (" + MARKS + ", ?)");
        try (PreparedStatement greatest = connection.prepareStatement("SELECT coalesce(max(num), 0) FROM backup");
                ResultSet row = greatest.executeQuery()) {
            row.next();
            number = row.getLong(1);
        }
        select = connection.prepareStatement("SELECT num, " + COLUMNS + " FROM backup WHERE id = ?");
        update = connection.prepareStatement("UPDATE backup SET (" + COLUMNS + ") = (" + MARKS + ") WHERE id = ?");
        insertUsualCopy = connection.prepareStatement(
                "INSERT OR IGNORE INTO copy (backup, store, landed, landed_stated, locked_until) VALUES (?, ?, ?, ?, ?)");
        insertLog = connection.prepareStatement(
                "INSERT OR IGNORE INTO backup (num, id, database, kind, started, ended, bytes, stream, from_position, to_position,"
                        + " from_time, to_time, consistent_at, self_contained, streamed, lag)"
                        + " VALUES (?, ?, ?, 'log', ?, ?, ?, ?, ?, ?, ?, ?, ?, 0, 0, 0)");
        insertCopy = connection.prepareStatement(
                "INSERT OR REPLACE INTO copy (backup, store, landed, landed_stated, locked_until, gone, spoiled_found,"
                        + " spoiled_since, bytes, rest) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
        selectCopies = connection.prepareStatement("SELECT store, landed, landed_stated, locked_until, gone,"
                + " spoiled_found, spoiled_since, bytes, rest, " + EVIDENCE + " FROM copy c WHERE backup = ?");
        insertPosition = connection.prepareStatement("INSERT INTO position VALUES (?, ?, ?, ?)");
        selectPositions =
                connection.prepareStatement("SELECT stream, from_position, to_position FROM position WHERE backup = ?");
        deletePositions = connection.prepareStatement("DELETE FROM position WHERE backup = ?");
        outer = new OuterPlaces(connection);
        noteShared = connection.prepareStatement("""
                INSERT OR IGNORE INTO shared_place
                SELECT c.store, ltrim(json_extract(c.rest, '$.path'), '/') FROM copy c
                WHERE c.backup = ?1 AND c.store = ?2 AND json_extract(c.rest, '$.path') IS NOT NULL
                  AND EXISTS (SELECT 1 FROM copy other WHERE other.store = c.store AND other.rest <> ''
                    AND ltrim(json_extract(other.rest, '$.path'), '/') = ltrim(json_extract(c.rest, '$.path'), '/')
                    AND other.backup <> c.backup)
                """);
        selectSharing = connection.prepareStatement("""
                SELECT DISTINCT b.database FROM copy c
                JOIN shared_place p ON p.store = c.store
                  AND p.path = ltrim(json_extract(iif(c.rest = '', '{}', c.rest), '$.path'), '/')
                JOIN copy o ON o.store = p.store AND o.rest <> '' AND ltrim(json_extract(o.rest, '$.path'), '/') = p.path
                JOIN backup b ON b.num = o.backup
                WHERE c.backup = ?1 AND c.store = ?2
                """);
    }

    /**
     * The databases of which a backup lies where one of those that were written does, too: what is said of them changes with it, though
     * none of their own facts did.
     */
    Set<String> sharing() {
        return sharing;
    }

    private void noteSharing(long num, String store) throws SQLException {
        noteShared.setLong(1, num);
        noteShared.setString(2, store);
        noteShared.executeUpdate();
        outer.note(num, store);
        addSharing(num, store);
    }

    private void addSharing(long num, String store) throws SQLException {
        selectSharing.setLong(1, num);
        selectSharing.setString(2, store);
        try (ResultSet rows = selectSharing.executeQuery()) {
            while (rows.next()) {
                sharing.add(rows.getString(1));
            }
        }
    }

    /** Adds a backup whose id is new and gives its number; 0 where it is not new. */
    long add(Backup backup) throws SQLException {
        if ((isUsualLog(backup) ? addLog(backup) : addWhole(backup)) == 0) {
            return 0;
        }
        number++;
        parts(number, backup);
        return number;
    }

    private int addWhole(Backup backup) throws SQLException {
        bind(insert, backup);
        insert.setLong(NUM, number + 1);
        return insert.executeUpdate();
    }

    /** Whether it is a log of which nothing is said but what every log says: most facts are. */
    private static boolean isUsualLog(Backup b) {
        return b.kind() == Kind.LOG
                && b.times().isPresent()
                && b.positions().size() == 1
                && !b.streamed()
                && !b.selfContained()
                && b.lag().isZero()
                && b.rest().isEmpty()
                && b.parent().isEmpty()
                && b.run().isEmpty()
                && b.lineage().isEmpty()
                && b.verified().isEmpty();
    }

    private int addLog(Backup b) throws SQLException {
        Map.Entry<String, Positions> only = b.positions().entrySet().iterator().next();
        Backup.LogTimes times = b.times().orElseThrow();
        insertLog.setLong(1, number + 1);
        insertLog.setString(2, b.id());
        insertLog.setString(3, b.database());
        insertLog.setLong(4, b.started().toEpochMilli());
        insertLog.setLong(5, b.ended().toEpochMilli());
        Columns.set(insertLog, 6, b.bytes());
        insertLog.setString(7, only.getKey());
        insertLog.setLong(8, only.getValue().from());
        insertLog.setLong(9, only.getValue().to());
        insertLog.setLong(10, times.from().toEpochMilli());
        insertLog.setLong(11, times.to().toEpochMilli());
        insertLog.setLong(12, b.consistentAt().toEpochMilli());
        return insertLog.executeUpdate();
    }

    Optional<Backup> find(String id) throws SQLException {
        select.setString(1, id);
        try (ResultSet rows = select.executeQuery()) {
            Cells row = new Cells(rows);
            return row.next() ? Optional.of(read(row)) : Optional.empty();
        }
    }

    /** Puts a backup in the place of the one with its id and gives its number. */
    long replace(Backup backup) throws SQLException {
        bind(update, backup);
        update.setString(ID_AGAIN, backup.id());
        update.executeUpdate();
        select.setString(1, backup.id());
        try (ResultSet row = select.executeQuery()) {
            row.next();
            long num = row.getLong(1);
            for (Copy copy : backup.copies()) {
                addSharing(num, copy.store());
            }
            deletePositions.setLong(1, num);
            deletePositions.executeUpdate();
            parts(num, backup);
            return num;
        }
    }

    private void parts(long num, Backup backup) throws SQLException {
        if (backup.positions().size() > 1) {
            for (Map.Entry<String, Positions> p : new TreeMap<>(backup.positions()).entrySet()) {
                insertPosition.setLong(1, num);
                insertPosition.setString(2, p.getKey());
                insertPosition.setLong(3, p.getValue().from());
                insertPosition.setLong(4, p.getValue().to());
                insertPosition.executeUpdate();
            }
        }
        for (Copy copy : backup.copies()) {
            if (isUsual(copy)) {
                insertUsualCopy.setLong(1, num);
                insertUsualCopy.setString(2, copy.store());
                insertUsualCopy.setLong(3, copy.landed().toEpochMilli());
                insertUsualCopy.setBoolean(4, copy.statedLanding());
                Columns.setMoment(insertUsualCopy, 5, copy.lockedUntil());
                if (insertUsualCopy.executeUpdate() == 1) {
                    continue;
                }
            }
            insertCopy.setLong(1, num);
            insertCopy.setString(2, copy.store());
            insertCopy.setLong(3, copy.landed().toEpochMilli());
            insertCopy.setBoolean(4, copy.statedLanding());
            Columns.setMoment(insertCopy, 5, copy.lockedUntil());
            Columns.setMoment(insertCopy, 6, copy.gone());
            Columns.setMoment(insertCopy, 7, copy.spoiled().map(Spoilage::found));
            Columns.setMoment(insertCopy, 8, copy.spoiled().flatMap(Spoilage::since));
            Columns.set(insertCopy, 9, copy.bytes());
            insertCopy.setString(10, copy.rest());
            insertCopy.executeUpdate();
            if (!copy.rest().isEmpty()) {
                noteSharing(num, copy.store());
            }
        }
    }

    /** Whether it is still there as it landed, and nothing more is said of it. */
    private static boolean isUsual(Copy copy) {
        return copy.gone().isEmpty()
                && copy.spoiled().isEmpty()
                && copy.bytes().isEmpty()
                && copy.rest().isEmpty();
    }

    private static void bind(PreparedStatement to, Backup b) throws SQLException {
        to.setString(1, b.id());
        to.setString(2, b.database());
        to.setString(3, b.kind().word());
        Columns.set(to, 4, b.parent());
        Columns.set(to, 5, b.run());
        to.setLong(6, b.started().toEpochMilli());
        to.setLong(7, b.ended().toEpochMilli());
        Columns.set(to, 8, b.bytes());
        Columns.set(to, 9, b.lineage());
        if (b.positions().size() == 1) {
            Map.Entry<String, Positions> only =
                    b.positions().entrySet().iterator().next();
            to.setString(10, only.getKey());
            to.setLong(11, only.getValue().from());
            to.setLong(12, only.getValue().to());
        } else {
            to.setNull(10, Types.VARCHAR);
            to.setNull(11, Types.INTEGER);
            to.setNull(12, Types.INTEGER);
        }
        Columns.setMoment(to, 13, b.times().map(Backup.LogTimes::from));
        Columns.setMoment(to, 14, b.times().map(Backup.LogTimes::to));
        to.setLong(15, b.consistentAt().toEpochMilli());
        to.setBoolean(16, b.selfContained());
        to.setBoolean(17, b.streamed());
        to.setLong(18, b.lag().toMillis());
        Columns.setMoment(to, 19, b.verified());
        to.setString(20, b.rest());
    }

    /** Reads the backup of a row of its number and {@link #COLUMNS}, with its copies and positions. */
    Backup read(Cells row) throws SQLException {
        long num = row.number();
        String id = row.text();
        String database = row.text();
        Kind kind = Worded.of(Kind.class, row.text());
        Optional<String> parent = row.optionalText();
        Optional<String> run = row.optionalText();
        Instant started = row.moment();
        Instant ended = row.moment();
        OptionalDouble bytes = row.amount();
        Optional<String> lineage = row.optionalText();
        Optional<String> stream = row.optionalText();
        long from = row.number();
        long to = row.number();
        Optional<Instant> fromTime = row.optionalMoment();
        Optional<Instant> toTime = row.optionalMoment();
        return new Backup(
                id,
                database,
                kind,
                parent,
                run,
                started,
                ended,
                bytes,
                lineage,
                stream.isPresent() ? Map.of(stream.get(), new Positions(from, to)) : positions(num),
                fromTime.map(t -> new Backup.LogTimes(t, toTime.orElse(t))),
                row.moment(),
                row.flag(),
                row.flag(),
                Duration.ofMillis(row.number()),
                row.optionalMoment(),
                copies(num),
                row.text());
    }

    private Map<String, Positions> positions(long num) throws SQLException {
        Map<String, Positions> out = new LinkedHashMap<>();
        selectPositions.setLong(1, num);
        try (ResultSet rows = selectPositions.executeQuery()) {
            for (Cells row = new Cells(rows); row.next(); ) {
                out.put(row.text(), new Positions(row.number(), row.number()));
            }
        }
        return out;
    }

    private List<Copy> copies(long num) throws SQLException {
        List<Copy> out = new ArrayList<>();
        selectCopies.setLong(1, num);
        try (ResultSet rows = selectCopies.executeQuery()) {
            for (Cells row = new Cells(rows); row.next(); ) {
                out.add(copy(row));
            }
        }
        return out;
    }

    private static Copy copy(Cells row) throws SQLException {
        String store = row.text();
        Instant landed = row.moment();
        boolean stated = row.flag();
        Optional<Instant> lockedUntil = row.optionalMoment();
        Optional<Instant> gone = row.optionalMoment();
        Optional<Instant> found = row.optionalMoment();
        Optional<Instant> since = row.optionalMoment();
        OptionalDouble bytes = row.amount();
        String rest = row.text();
        return new Copy(
                store,
                landed,
                stated,
                lockedUntil,
                gone,
                found.map(f -> new Spoilage(f, since)),
                bytes,
                row.evidence(),
                rest);
    }

    @Override
    public void close() throws SQLException {
        for (PreparedStatement s : List.of(
                insert,
                select,
                update,
                insertLog,
                insertCopy,
                insertUsualCopy,
                selectCopies,
                insertPosition,
                selectPositions,
                deletePositions,
                noteShared,
                selectSharing)) {
            s.close();
        }
        outer.close();
    }
}
