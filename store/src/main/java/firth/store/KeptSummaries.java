package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Collection;
import java.util.function.Consumer;
import javax.sql.DataSource;

/** What was worked out of each database, kept over a restart. Nothing is lost with it but time. */
public final class KeptSummaries {

    private final DataSource readers;
    private final Transactions transactions;

    KeptSummaries(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * What was worked out of one database.
     *
     * @param changes how often its facts had changed
     * @param rules tells the records it rests on from others
     * @param from when it was so
     * @param until up to when it stands
     * @param content as the program that made it reads it
     */
    @SuppressWarnings("ArrayRecordComponent") // handed on, never compared
    public record Row(String database, long changes, String rules, Instant from, Instant until, byte[] content) {}

    /** Hands over what a program made, by database. */
    public void each(String program, Consumer<Row> taker) {
        try (Connection connection = readers.getConnection();
                PreparedStatement select = connection.prepareStatement(
                        "SELECT database, changes, rules, begins, until, content FROM summary WHERE program = ?")) {
            select.setString(1, program);
            try (ResultSet rows = select.executeQuery()) {
                while (rows.next()) {
                    taker.accept(new Row(
                            rows.getString(1),
                            rows.getLong(2),
                            rows.getString(3),
                            Instant.ofEpochMilli(rows.getLong(4)),
                            Instant.ofEpochMilli(rows.getLong(5)),
                            rows.getBytes(6)));
                }
            }
        } catch (SQLException e) {
            throw new StoreFailure("What was worked out before could not be read", e);
        }
    }

    /** Keeps some in the place of what was kept of their databases. */
    public void keep(String program, Collection<Row> rows) {
        transactions.change("What was worked out could not be kept", connection -> {
            try (PreparedStatement put =
                    connection.prepareStatement("INSERT OR REPLACE INTO summary VALUES (?, ?, ?, ?, ?, ?, ?)")) {
                for (Row r : rows) {
                    put.setString(1, r.database);
                    put.setString(2, program);
                    put.setLong(3, r.changes);
                    put.setString(4, r.rules);
                    put.setLong(5, r.from.toEpochMilli());
                    put.setLong(6, r.until.toEpochMilli());
                    put.setBytes(7, r.content);
                    put.addBatch();
                }
                put.executeBatch();
            }
        });
    }
}
