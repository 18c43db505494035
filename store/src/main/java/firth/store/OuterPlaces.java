package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HashSet;
import java.util.Set;

/**
 * Notes places of stores within which another copy says it lies: whoever deletes the directory deletes that one, too. Whether either is
 * still there is asked when it matters.
 */
final class OuterPlaces implements AutoCloseable {

    /** A place without slashes at its ends; a copy's is indexed with those after it. */
    private static final String PATH = "ltrim(json_extract(c.rest, '$.path'), '/')";

    private final PreparedStatement noteOwn;
    private final PreparedStatement directory;
    private final PreparedStatement noteAbove;
    private final Set<String> seen = new HashSet<>();

    OuterPlaces(Connection connection) throws SQLException {
        noteOwn = connection.prepareStatement("INSERT OR IGNORE INTO outer_place SELECT c.store, rtrim(" + PATH
                + ", '/') FROM copy c WHERE c.backup = ?1 AND c.store = ?2 AND rtrim(" + PATH + ", '/') <> ''"
                + " AND EXISTS (SELECT 1 FROM copy i WHERE i.store = c.store AND i.rest <> ''"
                + " AND ltrim(json_extract(i.rest, '$.path'), '/') > rtrim(" + PATH + ", '/') || '/'"
                + " AND ltrim(json_extract(i.rest, '$.path'), '/') < rtrim(" + PATH + ", '/') || '0'"
                + " AND i.backup <> c.backup)");
        directory = connection.prepareStatement("SELECT rtrim(p, replace(p, '/', '')) FROM (SELECT rtrim(" + PATH
                + ", '/') AS p FROM copy c WHERE c.backup = ?1 AND c.store = ?2)");
        noteAbove = connection.prepareStatement("WITH RECURSIVE up (p) AS (SELECT rtrim(?2, '/')"
                + " UNION ALL SELECT rtrim(rtrim(p, replace(p, '/', '')), '/') FROM up WHERE p <> '')"
                + " INSERT OR IGNORE INTO outer_place SELECT ?1, up.p FROM up WHERE up.p <> '' AND EXISTS"
                + " (SELECT 1 FROM copy c WHERE c.store = ?1 AND c.rest <> '' AND " + PATH
                + " IN (up.p, up.p || '/'))");
    }

    /** Notes what a copy that was written lies within, and whether another lies within it. */
    void note(long backup, String store) throws SQLException {
        noteOwn.setLong(1, backup);
        noteOwn.setString(2, store);
        noteOwn.executeUpdate();
        directory.setLong(1, backup);
        directory.setString(2, store);
        String above = "";
        try (ResultSet row = directory.executeQuery()) {
            if (row.next() && row.getString(1) != null) {
                above = row.getString(1);
            }
        }
        // What comes to lie around it later sees it by itself.
        if (!above.isEmpty() && seen.add(store + '\n' + above)) {
            noteAbove.setString(1, store);
            noteAbove.setString(2, above);
            noteAbove.executeUpdate();
        }
    }

    @Override
    public void close() throws SQLException {
        noteOwn.close();
        directory.close();
        noteAbove.close();
    }
}
