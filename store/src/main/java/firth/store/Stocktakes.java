package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Set;
import javax.sql.DataSource;

/** Comparisons of stores with the catalog, what they found, and what people decided about it. */
public final class Stocktakes {

    private static final String TAKE =
            "id, store, asked_by, asked_at, taken, state, told, agreed, files, unplaced, sums";
    private static final String FIND =
            "num, what, database, backup, path, told, size, expected, written, since, landed, gone, found, asked, state, by, decided";

    private final DataSource readers;
    private final Transactions transactions;

    Stocktakes(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * A stocktake.
     *
     * @param taken when the listing was begun; empty while it is waited for
     * @param state asked, taken or refused
     * @param told why it was refused, else who listed
     * @param sums whether every file is read through for its checksum
     */
    public record Take(
            String id,
            String store,
            String askedBy,
            Instant askedAt,
            Optional<Instant> taken,
            String state,
            String told,
            int agreed,
            int files,
            int unplaced,
            boolean sums) {}

    /**
     * Something in which store and catalog differed.
     *
     * @param what a word of {@code Difference.Manner}
     * @param since when the copy was last seen to be right
     * @param landed the copy as the catalog had it, with {@code gone}
     * @param found when it had been found spoiled before
     * @param asked whether a list somebody approved had it
     * @param state open, dropped, adopted or to-remove
     */
    public record Find(
            int num,
            String what,
            Optional<String> database,
            Optional<String> backup,
            String path,
            String told,
            OptionalLong size,
            OptionalDouble expected,
            Optional<Instant> written,
            Optional<Instant> since,
            Optional<Instant> landed,
            Optional<Instant> gone,
            Optional<Instant> found,
            boolean asked,
            String state,
            Optional<String> by,
            Optional<Instant> decided) {

        public Find decided(String newState, String person, Instant at) {
            return new Find(
                    num,
                    what,
                    database,
                    backup,
                    path,
                    told,
                    size,
                    expected,
                    written,
                    since,
                    landed,
                    gone,
                    found,
                    asked,
                    newState,
                    Optional.of(person),
                    Optional.of(at));
        }
    }

    /** Everything a stocktake came to, to be kept with the facts that follow. */
    public record Kept(Take take, List<Find> finds) {}

    /** A decision to be kept with the facts that follow. */
    public record Decision(String stocktake, Find find) {}

    private static Take take(Cells row) throws SQLException {
        return new Take(
                row.text(),
                row.text(),
                row.text(),
                row.moment(),
                row.optionalMoment(),
                row.text(),
                row.text(),
                (int) row.number(),
                (int) row.number(),
                (int) row.number(),
                row.flag());
    }

    private static Find find(Cells row) throws SQLException {
        int num = (int) row.number();
        String what = row.text();
        Optional<String> database = row.optionalText();
        Optional<String> backup = row.optionalText();
        String path = row.text();
        String told = row.text();
        long size = row.numberOr(-1);
        return new Find(
                num,
                what,
                database,
                backup,
                path,
                told,
                size < 0 ? OptionalLong.empty() : OptionalLong.of(size),
                row.amount(),
                row.optionalMoment(),
                row.optionalMoment(),
                row.optionalMoment(),
                row.optionalMoment(),
                row.optionalMoment(),
                row.flag(),
                row.text(),
                row.optionalText(),
                row.optionalMoment());
    }

    /** The newest first: of those asked for in one second the one that is still waited for, then the one that was begun last. */
    public List<Take> ofStore(String store) {
        return takes(" WHERE store = ? ORDER BY asked_at DESC, taken IS NULL DESC, taken DESC, id", store);
    }

    public Optional<Take> one(String id) {
        return takes(" WHERE id = ?", id).stream().findFirst();
    }

    /** The one a store's agent is waited for with. */
    public Optional<Take> awaited(String store) {
        return takes(" WHERE store = ? AND state = 'asked' ORDER BY asked_at LIMIT 1", store).stream()
                .findFirst();
    }

    /** The last one taken of each store. */
    public List<Take> newest() {
        return takes(" WHERE state = 'taken' AND taken = (SELECT max(o.taken) FROM stocktake o"
                + " WHERE o.store = stocktake.store AND o.state = 'taken') ORDER BY store");
    }

    private List<Take> takes(String which, String... values) {
        return Statement.read(
                readers,
                "SELECT " + TAKE + " FROM stocktake" + which,
                Stocktakes::take,
                "The stocktakes could not be read",
                values);
    }

    public List<Find> finds(String stocktake) {
        return Statement.read(
                readers,
                "SELECT " + FIND + " FROM stock_find WHERE stocktake = ? ORDER BY num",
                Stocktakes::find,
                "What the stocktake found could not be read",
                stocktake);
    }

    /** The ids of backups whose copy in a store any stocktake found missing or other than it was written. */
    public Set<String> everLost(String store) {
        return new HashSet<>(Statement.read(
                readers,
                "SELECT f.backup FROM stock_find f JOIN stocktake t ON t.id = f.stocktake"
                        + " WHERE t.store = ? AND f.what IN ('missing', 'mismatch')",
                Cells::text,
                "What stocktakes found could not be read",
                store));
    }

    /** What nobody has decided about yet of what concerns a copy the catalog takes to be there: all but strays. */
    public List<Find> openOfCopies(String stocktake) {
        return Statement.read(
                readers,
                "SELECT " + FIND
                        + " FROM stock_find WHERE stocktake = ? AND state = 'open' AND what <> 'stray' ORDER BY num",
                Stocktakes::find,
                "What the stocktake found could not be read",
                stocktake);
    }

    /** What the newest listings have although somebody told it was gone, by list and path. */
    public List<Belied> belied() {
        return Statement.read(
                readers,
                Belied.SELECT + " ORDER BY i.purge, i.num",
                Belied::read,
                "What was told could not be compared with the listings");
    }

    /** The same of one list. */
    public List<Belied> belied(String purge) {
        return Statement.read(
                readers,
                Belied.SELECT + " AND i.purge = ? ORDER BY i.num",
                Belied::read,
                "What was told could not be compared with the listings",
                purge);
    }

    /** Keeps that one is asked for, or was refused. */
    public void put(Take take, Deed.Told told, Instant now) {
        transactions.run("The stocktake could not be kept", connection -> {
            put(connection, take);
            return Deeds.add(connection, told, now);
        });
    }

    /** Keeps a decision that changes no fact. */
    public void decide(Decision decision, Deed.Told told, Instant now) {
        transactions.run("The decision could not be kept", connection -> {
            decide(connection, decision);
            return Deeds.add(connection, told, now);
        });
    }

    static void keep(Connection connection, Kept kept) throws SQLException {
        put(connection, kept.take());
        try (PreparedStatement insert = connection.prepareStatement("INSERT INTO stock_find (stocktake, " + FIND
                + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
            for (Find f : kept.finds()) {
                insert.setString(1, kept.take().id());
                insert.setInt(2, f.num());
                insert.setString(3, f.what());
                Columns.set(insert, 4, f.database());
                Columns.set(insert, 5, f.backup());
                insert.setString(6, f.path());
                insert.setString(7, f.told());
                if (f.size().isPresent()) {
                    insert.setLong(8, f.size().getAsLong());
                } else {
                    insert.setNull(8, Types.INTEGER);
                }
                Columns.set(insert, 9, f.expected());
                Columns.setMoment(insert, 10, f.written());
                Columns.setMoment(insert, 11, f.since());
                Columns.setMoment(insert, 12, f.landed());
                Columns.setMoment(insert, 13, f.gone());
                Columns.setMoment(insert, 14, f.found());
                insert.setBoolean(15, f.asked());
                insert.setString(16, f.state());
                Columns.set(insert, 17, f.by());
                Columns.setMoment(insert, 18, f.decided());
                insert.addBatch();
            }
            insert.executeBatch();
        }
    }

    static void decide(Connection connection, Decision decision) throws SQLException {
        Statement.run(
                connection,
                "UPDATE stock_find SET state = ?, by = ?, decided = ? WHERE stocktake = ? AND num = ?",
                s -> {
                    s.setString(1, decision.find().state());
                    Columns.set(s, 2, decision.find().by());
                    Columns.setMoment(s, 3, decision.find().decided());
                    s.setString(4, decision.stocktake());
                    s.setInt(5, decision.find().num());
                });
    }

    private static void put(Connection connection, Take take) throws SQLException {
        Statement.run(
                connection,
                "INSERT OR REPLACE INTO stocktake (" + TAKE + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                s -> {
                    s.setString(1, take.id());
                    s.setString(2, take.store());
                    s.setString(3, take.askedBy());
                    s.setLong(4, take.askedAt().toEpochMilli());
                    Columns.setMoment(s, 5, take.taken());
                    s.setString(6, take.state());
                    s.setString(7, take.told());
                    s.setInt(8, take.agreed());
                    s.setInt(9, take.files());
                    s.setInt(10, take.unplaced());
                    s.setBoolean(11, take.sums());
                });
    }
}
