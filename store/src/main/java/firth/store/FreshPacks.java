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
    private final Map<String, Pack> packs = new HashMap<>();

    /** Those of which something was known, or was changed after it had been added. */
    private final Set<String> others = new HashSet<>();

    FreshPacks(Connection connection) throws SQLException {
        known = connection.prepareStatement("SELECT 1 FROM backup WHERE database = ? AND num < ? LIMIT 1");
    }

    /** A backup was added under a number higher than all before. */
    void added(long num, Backup backup) throws SQLException {
        String database = backup.database();
        if (others.contains(database)) {
            return;
        }
        Pack pack = packs.get(database);
        if (pack == null) {
            known.setString(1, database);
            known.setLong(2, num);
            try (ResultSet row = known.executeQuery()) {
                if (row.next()) {
                    others.add(database);
                    return;
                }
            }
            pack = new Pack();
            packs.put(database, pack);
        }
        add(pack, num, backup);
    }

    /** A backup was changed in place, so that what was packed of its database is no longer so. */
    void changed(String database) {
        others.add(database);
        packs.remove(database);
    }

    /** Everything there is of a database nobody knew before. */
    Optional<Pack> pack(String database) {
        return Optional.ofNullable(packs.get(database));
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
                    c.bytes().orElse(b.bytes().orElse(Double.NaN)));
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
