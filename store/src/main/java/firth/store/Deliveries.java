package firth.store;

import firth.core.record.Deed;
import firth.core.record.Digests;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javax.sql.DataSource;

/**
 * What programs deliver. They do so again and again, so that the record has one entry a source and hour (docs/record.md); until the
 * hour is over it is counted here.
 */
public final class Deliveries {

    private static final String COLUMNS =
            "who, source, hour, deliveries, lines, added, updated, rejected, first, last, digest";

    private final DataSource readers;
    private final Transactions transactions;

    Deliveries(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /**
     * One delivery.
     *
     * @param digest SHA-256 of the bytes that came, in hexadecimal
     */
    public record Came(String who, String source, long lines, long added, long updated, long rejected, String digest) {}

    /**
     * The deliveries of one source in an hour.
     *
     * @param first when the first came, and {@code last} the last
     * @param digest of the digest before, where there is one, followed by that of the next delivery: SHA-256 in hexadecimal
     */
    public record Hour(
            String who,
            String source,
            Instant hour,
            long deliveries,
            long lines,
            long added,
            long updated,
            long rejected,
            Instant first,
            Instant last,
            String digest) {

        private Hour and(Came came, Instant at) {
            return new Hour(
                    who,
                    source,
                    hour,
                    deliveries + 1,
                    lines + came.lines,
                    added + came.added,
                    updated + came.updated,
                    rejected + came.rejected,
                    first,
                    at,
                    deliveries == 0 ? came.digest : Digests.of(digest + came.digest));
        }

        private Deed.Told told() {
            return new Deed.Told(
                    who,
                    "delivered",
                    source,
                    String.format(
                            Locale.ROOT,
                            "{\"first\":\"%s\",\"last\":\"%s\",\"deliveries\":%d,\"lines\":%d,\"added\":%d,\"updated\":%d,"
                                    + "\"rejected\":%d,\"digest\":\"%s\"}",
                            first,
                            last,
                            deliveries,
                            lines,
                            added,
                            updated,
                            rejected,
                            digest));
        }
    }

    /** Counts one within a transaction its owner ends; what came in an hour before goes into the record. */
    static void add(Connection connection, Came came, Instant at) throws SQLException {
        Instant hour = at.truncatedTo(ChronoUnit.HOURS);
        Optional<Hour> before = find(connection, came.who, came.source);
        if (before.filter(h -> !h.hour.equals(hour)).isPresent()) {
            Deeds.add(connection, before.get().told(), at);
        }
        put(
                connection,
                before.filter(h -> h.hour.equals(hour))
                        .orElse(new Hour(came.who, came.source, hour, 0, 0, 0, 0, 0, at, at, ""))
                        .and(came, at));
    }

    /** Puts into the record what was delivered in hours that are over. */
    public void enter(Instant now) {
        Instant hour = now.truncatedTo(ChronoUnit.HOURS);
        if (open().stream().noneMatch(h -> h.hour.isBefore(hour))) {
            return;
        }
        transactions.change("What was delivered could not be entered", connection -> {
            for (Hour h : all(connection)) {
                if (h.hour.isBefore(hour)) {
                    Deeds.add(connection, h.told(), now);
                    try (PreparedStatement delete =
                            connection.prepareStatement("DELETE FROM delivery WHERE who = ? AND source = ?")) {
                        delete.setString(1, h.who);
                        delete.setString(2, h.source);
                        delete.executeUpdate();
                    }
                }
            }
        });
    }

    /** What was delivered and is not in the record yet. */
    public List<Hour> open() {
        try (Connection connection = readers.getConnection()) {
            return all(connection);
        } catch (SQLException e) {
            throw new StoreFailure("What was delivered could not be read", e);
        }
    }

    private static List<Hour> all(Connection connection) throws SQLException {
        List<Hour> out = new ArrayList<>();
        try (PreparedStatement select =
                        connection.prepareStatement("SELECT " + COLUMNS + " FROM delivery ORDER BY source, who");
                ResultSet rows = select.executeQuery()) {
            for (Cells row = new Cells(rows); row.next(); ) {
                out.add(read(row));
            }
        }
        return out;
    }

    private static Optional<Hour> find(Connection connection, String who, String source) throws SQLException {
        try (PreparedStatement select =
                connection.prepareStatement("SELECT " + COLUMNS + " FROM delivery WHERE who = ? AND source = ?")) {
            select.setString(1, who);
            select.setString(2, source);
            try (ResultSet rows = select.executeQuery()) {
                Cells row = new Cells(rows);
                return row.next() ? Optional.of(read(row)) : Optional.empty();
            }
        }
    }

    private static Hour read(Cells row) throws SQLException {
        return new Hour(
                row.text(),
                row.text(),
                row.moment(),
                row.number(),
                row.number(),
                row.number(),
                row.number(),
                row.number(),
                row.moment(),
                row.moment(),
                row.text());
    }

    private static void put(Connection connection, Hour h) throws SQLException {
        try (PreparedStatement put = connection.prepareStatement(
                "INSERT OR REPLACE INTO delivery (" + COLUMNS + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
            put.setString(1, h.who);
            put.setString(2, h.source);
            put.setLong(3, h.hour.toEpochMilli());
            put.setLong(4, h.deliveries);
            put.setLong(5, h.lines);
            put.setLong(6, h.added);
            put.setLong(7, h.updated);
            put.setLong(8, h.rejected);
            put.setLong(9, h.first.toEpochMilli());
            put.setLong(10, h.last.toEpochMilli());
            put.setString(11, h.digest);
            put.executeUpdate();
        }
    }
}
