package firth.store;

import firth.core.history.HistoryBuilder;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collection;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;

/** Keeps the packs of databases, and which backups changed since. */
final class Packs {

    /** Fewer backups than this are read from their rows as fast. */
    private static final int WORTH_PACKING = 256;

    /** A pack is made anew when more than one in so many of its backups changed. */
    private static final int CHANGED_PART = 8;

    private final Connection connection;

    Packs(Connection connection) {
        this.connection = connection;
    }

    /** Keeps everything there is of a database nobody knew before. */
    void fresh(String database, Pack all) throws SQLException {
        if (all.rows() >= WORTH_PACKING) {
            put(database, all);
        }
    }

    /** Packs a database anew, whatever changed of it. */
    void anew(String database) throws SQLException {
        if (number("SELECT count(*) FROM backup WHERE database = ?", database) >= WORTH_PACKING) {
            pack(database);
        }
    }

    /** Notes that backups of a database changed, and packs it anew where too many have. */
    void changed(String database, Collection<Long> backups) throws SQLException {
        long packed = number("SELECT rows FROM pack WHERE database = ?", database);
        long known = number("SELECT count(*) FROM unpacked WHERE database = ?", database);
        long allowed = packed == 0 ? WORTH_PACKING - 1L : Math.max(WORTH_PACKING, packed / CHANGED_PART);
        boolean anew = packed == 0
                ? number("SELECT count(*) FROM backup WHERE database = ?", database) > allowed
                : known + backups.size() > allowed;
        if (anew) {
            pack(database);
        } else if (packed > 0) {
            note(database, backups);
        }
    }

    private void note(String database, Collection<Long> backups) throws SQLException {
        try (PreparedStatement insert = connection.prepareStatement("INSERT OR IGNORE INTO unpacked VALUES (?, ?)")) {
            for (long backup : backups) {
                insert.setString(1, database);
                insert.setLong(2, backup);
                insert.addBatch();
            }
            insert.executeBatch();
        }
    }

    private void pack(String database) throws SQLException {
        Pack pack = new Pack();
        new BackupScan(connection).read(database, false, pack);
        put(database, pack);
    }

    private void put(String database, Pack pack) throws SQLException {
        try (PreparedStatement put = connection.prepareStatement("INSERT OR REPLACE INTO pack VALUES (?, ?, ?)");
                PreparedStatement forget = connection.prepareStatement("DELETE FROM unpacked WHERE database = ?")) {
            put.setString(1, database);
            put.setLong(2, pack.rows());
            put.setBytes(3, pack.content());
            put.executeUpdate();
            forget.setString(1, database);
            forget.executeUpdate();
        }
    }

    private long number(String sql, String database) throws SQLException {
        try (PreparedStatement select = connection.prepareStatement(sql)) {
            select.setString(1, database);
            try (ResultSet row = select.executeQuery()) {
                return row.next() ? row.getLong(1) : 0;
            }
        }
    }

    /** What is kept of a database's backups, read but not yet taken apart. */
    interface Loaded {
        void into(HistoryBuilder history);
    }

    Loaded load(String database) throws SQLException {
        int rows = (int) number("SELECT rows FROM pack WHERE database = ?", database);
        Optional<byte[]> content = content(database).filter(Pack::isSound);
        if (content.isEmpty()) {
            byte[] all = read(database, false);
            return history -> new Unpacking(all, Set.of(), history).run();
        }
        Set<Long> changed = unpacked(database);
        byte[] since = changed.isEmpty() ? new Pack().content() : read(database, true);
        return history -> {
            history.expect(rows + changed.size());
            new Unpacking(content.get(), changed, history).run();
            new Unpacking(since, Set.of(), history).run();
        };
    }

    private byte[] read(String database, boolean changed) throws SQLException {
        Pack rows = new Pack();
        new BackupScan(connection).read(database, changed, rows);
        return rows.content();
    }

    private Optional<byte[]> content(String database) throws SQLException {
        try (PreparedStatement select = connection.prepareStatement("SELECT content FROM pack WHERE database = ?")) {
            select.setString(1, database);
            try (ResultSet row = select.executeQuery()) {
                return row.next() ? Optional.of(row.getBytes(1)) : Optional.empty();
            }
        }
    }

    private Set<Long> unpacked(String database) throws SQLException {
        Set<Long> out = new HashSet<>();
        try (PreparedStatement select = connection.prepareStatement("SELECT backup FROM unpacked WHERE database = ?")) {
            select.setString(1, database);
            try (ResultSet rows = select.executeQuery()) {
                while (rows.next()) {
                    out.add(rows.getLong(1));
                }
            }
        }
        return out;
    }
}
