package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import javax.sql.DataSource;

/** The record: what people and programs did. It is only ever added to, in the transaction of what was done. */
public final class Deeds {

    private static final String COLUMNS = "number, at, who, act, about, detail, previous, hash";

    private final DataSource readers;

    Deeds(DataSource readers) {
        this.readers = readers;
    }

    /** Adds an entry within a transaction its owner ends. */
    static Deed add(Connection connection, Deed.Told told, Instant at) throws SQLException {
        long number = 0;
        String previous = Deed.BEFORE_FIRST;
        try (PreparedStatement last =
                        connection.prepareStatement("SELECT number, hash FROM deed ORDER BY number DESC LIMIT 1");
                ResultSet row = last.executeQuery()) {
            if (row.next()) {
                number = row.getLong(1);
                previous = row.getString(2);
            }
        }
        Deed deed = Deed.after(number, previous, told, at);
        try (PreparedStatement insert =
                connection.prepareStatement("INSERT INTO deed (" + COLUMNS + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?)")) {
            insert.setLong(1, deed.number());
            insert.setLong(2, deed.at().toEpochMilli());
            insert.setString(3, deed.who());
            insert.setString(4, deed.act());
            insert.setString(5, deed.about());
            insert.setString(6, deed.detail());
            insert.setString(7, deed.previous());
            insert.setString(8, deed.hash());
            insert.executeUpdate();
        }
        return deed;
    }

    /** Hands over every entry, from the first. */
    public void all(Consumer<Deed> to) {
        read("SELECT " + COLUMNS + " FROM deed ORDER BY number", s -> {}, to);
    }

    /**
     * Entries before one, the newest first.
     *
     * @param before the number they come before
     * @param words what an entry's act, about, who or detail has in it; empty: anything
     */
    public List<Deed> before(long before, String words, int limit) {
        List<Deed> out = new ArrayList<>();
        read(
                "SELECT " + COLUMNS + " FROM deed WHERE number < ?1"
                        + " AND (?2 = '' OR instr(lower(act || ' ' || about || ' ' || who || ' ' || detail), lower(?2)) > 0)"
                        + " ORDER BY number DESC LIMIT ?3",
                s -> {
                    s.setLong(1, before);
                    s.setString(2, words);
                    s.setInt(3, limit);
                },
                out::add);
        return out;
    }

    /** The entries of one act about something, in their order. */
    public List<Deed> about(String about, String act) {
        List<Deed> out = new ArrayList<>();
        read(
                "SELECT " + COLUMNS + " FROM deed WHERE about = ? AND act = ? ORDER BY number",
                s -> {
                    s.setString(1, about);
                    s.setString(2, act);
                },
                out::add);
        return out;
    }

    private void read(String sql, Statement.Binding binding, Consumer<Deed> to) {
        try (Connection connection = readers.getConnection();
                PreparedStatement select = connection.prepareStatement(sql)) {
            binding.to(select);
            try (ResultSet rows = select.executeQuery()) {
                for (Cells row = new Cells(rows); row.next(); ) {
                    to.accept(new Deed(
                            row.number(),
                            row.moment(),
                            row.text(),
                            row.text(),
                            row.text(),
                            row.text(),
                            row.text(),
                            row.text()));
                }
            }
        } catch (SQLException e) {
            throw new StoreFailure("The record could not be read", e);
        }
    }
}
