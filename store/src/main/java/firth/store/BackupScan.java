package firth.store;

import firth.core.history.History;
import firth.core.model.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;

/** Reads the backups of a database from their rows. */
final class BackupScan {

    private static final String ALL =
            "SELECT b.num, b.id, b.kind, b.lineage, b.stream, b.streamed, b.lag, b.parent, b.run,"
                    + " b.started, b.ended, b.consistent_at, b.self_contained, b.from_position, b.to_position, b.from_time, b.to_time,"
                    + " c.store, c.landed, c.landed_stated, c.locked_until, c.gone, c.spoiled_found, c.spoiled_since,"
                    + " coalesce(c.bytes, b.bytes), " + BackupTable.EVIDENCE
                    + " FROM backup b LEFT JOIN copy c ON c.backup = b.num WHERE b.database = ?";
    private static final String CHANGED = " AND b.num IN (SELECT backup FROM unpacked WHERE database = b.database)";

    /** How many cells of a row are about the backup, its number left out. */
    private static final int BACKUP_CELLS = 16;

    private static final Map<String, Kind> KINDS = new HashMap<>();

    static {
        for (Kind kind : Kind.values()) {
            KINDS.put(kind.word(), kind);
        }
    }

    private record Position(String stream, long from, long to) {}

    private final Connection connection;

    BackupScan(Connection connection) {
        this.connection = connection;
    }

    /** @param changed only those that changed since the database was packed */
    void read(String database, boolean changed, BackupRows taker) throws SQLException {
        Map<Long, List<Position>> positions = positions(database);
        try (PreparedStatement all = connection.prepareStatement(ALL + (changed ? CHANGED : "") + " ORDER BY b.num")) {
            all.setString(1, database);
            try (ResultSet rows = all.executeQuery()) {
                read(new Cells(rows), positions, taker);
            }
        }
    }

    private Map<Long, List<Position>> positions(String database) throws SQLException {
        Map<Long, List<Position>> out = new TreeMap<>();
        try (PreparedStatement select =
                connection.prepareStatement("SELECT p.backup, p.stream, p.from_position, p.to_position FROM position p"
                        + " JOIN backup b ON b.num = p.backup WHERE b.database = ?")) {
            if (!anyPositions()) {
                return out;
            }
            select.setString(1, database);
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    out.computeIfAbsent(row.number(), n -> new java.util.ArrayList<>())
                            .add(new Position(row.text(), row.number(), row.number()));
                }
            }
        }
        return out;
    }

    /** Few fleets have databases of several streams; the others need not look for them in every database. */
    private boolean anyPositions() throws SQLException {
        try (PreparedStatement any = connection.prepareStatement("SELECT 1 FROM position LIMIT 1");
                ResultSet row = any.executeQuery()) {
            return row.next();
        }
    }

    private static void read(Cells row, Map<Long, List<Position>> positions, BackupRows taker) throws SQLException {
        long last = -1;
        while (row.next()) {
            long num = row.number();
            if (num == last) {
                row.skip(BACKUP_CELLS);
            } else {
                last = num;
                taker.backup(backup(num, row));
                positions.getOrDefault(num, List.of()).forEach(p -> taker.positions(p.stream, p.from, p.to));
            }
            String store = row.text();
            if (store != null) {
                taker.copy(
                        store,
                        row.number(),
                        row.flag(),
                        row.numberOr(History.ALWAYS),
                        row.numberOr(History.NEVER),
                        row.numberOr(History.NEVER),
                        row.numberOr(History.ALWAYS),
                        row.amountOr(Double.NaN),
                        row.evidence());
            }
        }
    }

    private static BackupRows.Row backup(long num, Cells row) throws SQLException {
        return new BackupRows.Row(
                num,
                row.text(),
                Objects.requireNonNull(KINDS.get(row.text())),
                row.text(),
                row.text(),
                row.flag(),
                row.number(),
                row.text(),
                row.text(),
                row.number(),
                row.number(),
                row.number(),
                row.flag(),
                row.numberOr(-1),
                row.numberOr(-1),
                row.numberOr(History.ALWAYS),
                row.numberOr(History.ALWAYS));
    }
}
