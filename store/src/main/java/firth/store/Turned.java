package firth.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import javax.sql.DataSource;

/** What became of records that were said to be of another database, kind or lineage than was known of them. */
public final class Turned {

    private final DataSource readers;

    Turned(DataSource readers) {
        this.readers = readers;
    }

    /**
     * One such record.
     *
     * @param record its type and id, parted by a blank
     * @param who said so
     * @param field database, kind or lineage
     * @param known what was known of it
     * @param said what was said
     * @param of the database it was known to be of
     * @param taken whether it counts now; else what was known stands
     */
    public record Turn(
            String record, Instant at, String who, String field, String known, String said, String of, boolean taken) {}

    /** Those said since a moment, the newest first. */
    public List<Turn> since(Instant moment) {
        return Statement.read(
                readers,
                "SELECT record, at, who, field, known, said, of, taken FROM turned WHERE at >= CAST(? AS INTEGER)"
                        + " ORDER BY at DESC, record",
                row -> new Turn(
                        row.text(),
                        row.moment(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.text(),
                        row.flag()),
                "The records could not be read",
                String.valueOf(moment.toEpochMilli()));
    }

    /** Notes them within a transaction its owner ends. */
    static void note(Connection connection, List<Turn> turned) throws SQLException {
        for (Turn t : turned) {
            Statement.run(connection, "INSERT OR REPLACE INTO turned VALUES (?, ?, ?, ?, ?, ?, ?, ?)", s -> {
                s.setString(1, t.record());
                s.setLong(2, t.at().toEpochMilli());
                s.setString(3, t.who());
                s.setString(4, t.field());
                s.setString(5, t.known());
                s.setString(6, t.said());
                s.setString(7, t.of());
                s.setBoolean(8, t.taken());
            });
        }
    }
}
