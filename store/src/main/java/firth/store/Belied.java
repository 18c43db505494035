package firth.store;

import java.sql.SQLException;
import java.time.Instant;

/**
 * A file that a newer listing of its store has although somebody told that it was deleted or missing.
 *
 * @param toldBy who told: the name of an agent's token or of a person
 * @param told {@code deleted} or {@code missing}
 * @param listed when the listing that has it was begun, after it was told
 */
public record Belied(
        String purge,
        String database,
        String backup,
        String store,
        String path,
        String toldBy,
        String told,
        Instant at,
        Instant listed) {

    /** The newest listing of each store alone counts; what somebody decided about a file since is left out. */
    static final String SELECT =
            "SELECT i.purge, i.database, i.backup, i.store, i.path, i.told_by, i.state, i.at, t.taken"
                    + " FROM stocktake t JOIN stock_find f ON f.stocktake = t.id AND f.what = 'stray'"
                    + " AND f.state IN ('open', 'to-remove')"
                    + " JOIN purge_item i ON i.store = t.store AND ltrim(i.path, '/') = ltrim(f.path, '/')"
                    + " AND i.state IN ('deleted', 'missing') AND i.at < t.taken"
                    + " WHERE t.state = 'taken' AND t.taken = (SELECT max(o.taken) FROM stocktake o"
                    + " WHERE o.store = t.store AND o.state = 'taken')";

    static Belied read(Cells row) throws SQLException {
        return new Belied(
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.moment(),
                row.moment());
    }
}
