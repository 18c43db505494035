package firth.store;

import firth.core.history.History;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Positions;
import firth.core.model.Spoilage;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Packs the backups of databases nobody knew before as they are added, so that their rows need not be read again. */
final class FreshPacks implements AutoCloseable {

    private final PreparedStatement known;
    private final Packs kept;
    private final long most;
    private final Map<String, Pack> packs = new HashMap<>();
    private long rows;

    /** Those of which something was known, or was changed after it had been added. */
    private final Set<String> others = new HashSet<>();

    /**
     * Packs into a file.
     *
     * @param most so many backups are packed in memory at a time
     */
    FreshPacks(Connection connection, long most) throws SQLException {
        this.kept = new Packs(connection);
        this.most = most;
        known = connection.prepareStatement("SELECT 1 FROM backup WHERE database = ? AND num < ? LIMIT 1");
    }

    /**
     * A backup was added under a number higher than all before.
     *
     * @return whether it was packed, so that nothing more need be noted of it
     */
    boolean added(long num, Backup backup) throws SQLException {
        String database = backup.database();
        if (others.contains(database)) {
            return false;
        }
        Pack pack = packs.get(database);
        if (pack == null) {
            known.setString(1, database);
            known.setLong(2, num);
            try (ResultSet row = known.executeQuery()) {
                if (row.next()) {
                    others.add(database);
                    return false;
                }
            }
            pack = new Pack();
            packs.put(database, pack);
        }
        add(pack, num, backup);
        if (++rows > most) {
            putDown(database);
        }
        return true;
    }

    /** Puts what is packed into the file, but for the database that is being added to: files mostly go from one to the next. */
    private void putDown(String current) throws SQLException {
        for (Map.Entry<String, Pack> pack : packs.entrySet()) {
            if (!pack.getKey().equals(current)) {
                kept.fresh(pack.getKey(), pack.getValue());
                others.add(pack.getKey());
            }
        }
        packs.keySet().retainAll(Set.of(current));
        rows = Optional.ofNullable(packs.get(current)).map(Pack::rows).orElse(0L);
    }

    /**
     * A backup was changed in place, so that what was packed of its database is no longer so.
     *
     * @return whether something was packed and not put down yet: it is to be packed anew
     */
    boolean changed(String database) {
        others.add(database);
        return packs.remove(database) != null;
    }

    /** Puts the rest into the file. */
    void finish() throws SQLException {
        putDown("");
    }

    private static void add(Pack pack, long num, Backup b) {
        boolean one = b.positions().size() == 1;
        Optional<Map.Entry<String, Positions>> only =
                one ? b.positions().entrySet().stream().findFirst() : Optional.empty();
        pack.backup(new BackupRows.Row(
                num,
                b.id(),
                b.kind(),
                b.lineage().orElse(null),
                only.map(Map.Entry::getKey).orElse(null),
                b.streamed(),
                b.lag().toMillis(),
                b.parent().orElse(null),
                b.run().orElse(null),
                b.started().toEpochMilli(),
                b.ended().toEpochMilli(),
                b.consistentAt().toEpochMilli(),
                b.selfContained(),
                only.map(p -> p.getValue().from()).orElse(-1L),
                only.map(p -> p.getValue().to()).orElse(-1L),
                ms(b.times().map(Backup.LogTimes::from), History.ALWAYS),
                ms(b.times().map(Backup.LogTimes::to), History.ALWAYS)));
        if (!one) {
            new TreeMap<>(b.positions()).forEach((stream, p) -> pack.positions(stream, p.from(), p.to()));
        }
        for (Copy c : b.copies()) {
            pack.copy(
                    c.store(),
                    c.landed().toEpochMilli(),
                    c.statedLanding(),
                    ms(c.lockedUntil(), History.ALWAYS),
                    ms(c.gone(), History.NEVER),
                    ms(c.spoiled().map(Spoilage::found), History.NEVER),
                    ms(c.spoiled().flatMap(Spoilage::since), History.ALWAYS),
                    c.bytes().orElse(b.bytes().orElse(Double.NaN)),
                    c.evidence());
        }
    }

    private static long ms(Optional<Instant> moment, long otherwise) {
        return moment.map(Instant::toEpochMilli).orElse(otherwise);
    }

    @Override
    public void close() throws SQLException {
        known.close();
    }
}
