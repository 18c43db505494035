package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import javax.sql.DataSource;

/** What Firth made for people and keeps as it was: restores under way, rehearsals, reports. */
public final class Papers {

    private static final String COLUMNS = "id, sort, subject, by, made, document";

    private final DataSource readers;
    private final Transactions transactions;

    Papers(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * One of them.
     *
     * @param sort a word for what it is
     * @param subject what it is of; empty for the fleet
     * @param by the id of who asked for it
     */
    public record Paper(String id, String sort, String subject, String by, Instant made, String document) {}

    private static Paper paper(Cells row) throws SQLException {
        return new Paper(row.text(), row.text(), row.text(), row.text(), row.moment(), row.text());
    }

    public Optional<Paper> one(String sort, String id) {
        return query("WHERE sort = ? AND id = ?", sort, id).stream().findFirst();
    }

    /** Those of a sort, the newest first. */
    public List<Paper> all(String sort) {
        return query("WHERE sort = ? ORDER BY made DESC, id", sort);
    }

    /** The newest of a sort of something. */
    public Optional<Paper> newest(String sort, String subject) {
        return query("WHERE sort = ? AND subject = ? ORDER BY made DESC, id LIMIT 1", sort, subject).stream()
                .findFirst();
    }

    /** Keeps one, with what the record says of it. */
    public void keep(Paper paper, Deed.Told deed) {
        transactions.change("The paper could not be kept", connection -> {
            try (PreparedStatement insert =
                    connection.prepareStatement("INSERT INTO paper (" + COLUMNS + ") VALUES (?, ?, ?, ?, ?, ?)")) {
                insert.setString(1, paper.id());
                insert.setString(2, paper.sort());
                insert.setString(3, paper.subject());
                insert.setString(4, paper.by());
                insert.setLong(5, paper.made().toEpochMilli());
                insert.setString(6, paper.document());
                insert.executeUpdate();
            }
            Deeds.add(connection, deed, paper.made());
        });
    }

    /**
     * Changes one; nobody else changes it meanwhile.
     *
     * @param change gives the document as it is to be from what it is
     * @param deed what the record says of it; nothing where it is not worth telling
     * @return empty where there is none
     */
    public Optional<Paper> change(
            String sort, String id, UnaryOperator<String> change, Optional<Deed.Told> deed, Instant at) {
        return transactions.run("The paper could not be changed", connection -> {
            Optional<Paper> known = read(connection, "WHERE sort = ? AND id = ?", sort, id).stream()
                    .findFirst();
            if (known.isEmpty()) {
                return known;
            }
            Paper p = known.get();
            String document = change.apply(p.document());
            try (PreparedStatement update = connection.prepareStatement("UPDATE paper SET document = ? WHERE id = ?")) {
                update.setString(1, document);
                update.setString(2, id);
                update.executeUpdate();
            }
            if (deed.isPresent()) {
                Deeds.add(connection, deed.get(), at);
            }
            return Optional.of(new Paper(p.id(), p.sort(), p.subject(), p.by(), p.made(), document));
        });
    }

    private List<Paper> query(String where, String... values) {
        try (Connection connection = readers.getConnection()) {
            return read(connection, where, values);
        } catch (SQLException e) {
            throw new StoreFailure("The papers could not be read", e);
        }
    }

    private static List<Paper> read(Connection connection, String where, String... values) throws SQLException {
        try (PreparedStatement select = connection.prepareStatement("SELECT " + COLUMNS + " FROM paper " + where)) {
            for (int k = 0; k < values.length; k++) {
                select.setString(k + 1, values[k]);
            }
            List<Paper> out = new ArrayList<>();
            Cells row = new Cells(select.executeQuery());
            while (row.next()) {
                out.add(paper(row));
            }
            return out;
        }
    }
}
