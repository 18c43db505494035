package firth.store;

import firth.core.record.Deed;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;

/** Who is told of what, and the messages for them: each is kept before it is sent, so that none is lost and none sent twice. */
public final class Outbox {

    private static final String MESSAGE = "id, list, way, title, document, made, state, tries, next, told";

    private final DataSource readers;
    private final Transactions transactions;

    Outbox(DataSource readers, Transactions transactions) {
        this.readers = readers;
        this.transactions = transactions;
    }

    /** A list of those who are told, as its document says. */
    public record SendingList(String id, Instant since, String document) {}

    /**
     * A message.
     *
     * @param id the list and what it is about
     * @param way mail or webhook
     * @param state waiting, sending, sent, failed, or unknown: Firth died while it sent it
     * @param next when it is tried, for the first time or again
     * @param told why it could not be sent; empty where it was not tried or went well
     */
    public record Message(
            String id,
            String list,
            String way,
            String title,
            String document,
            Instant made,
            String state,
            int tries,
            Instant next,
            String told) {}

    public List<SendingList> lists() {
        return read(
                "SELECT id, since, document FROM sending_list ORDER BY id",
                s -> {},
                row -> new SendingList(row.text(), row.moment(), row.text()));
    }

    /** Keeps a list in the place of the one before; since when it is there stays. */
    public void put(SendingList list, Deed.Told deed, Instant now) {
        change(
                "INSERT INTO sending_list (id, since, document) VALUES (?, ?, ?)"
                        + " ON CONFLICT (id) DO UPDATE SET document = excluded.document",
                s -> {
                    s.setString(1, list.id());
                    s.setLong(2, list.since().toEpochMilli());
                    s.setString(3, list.document());
                },
                deed,
                now);
    }

    public void remove(String list, Deed.Told deed, Instant now) {
        change("DELETE FROM sending_list WHERE id = ?", s -> s.setString(1, list), deed, now);
    }

    private void change(String sql, Statement.Binding binding, Deed.Told deed, Instant now) {
        transactions.change("The list could not be kept", connection -> {
            try (PreparedStatement statement = connection.prepareStatement(sql)) {
                binding.to(statement);
                statement.executeUpdate();
            }
            Deeds.add(connection, deed, now);
        });
    }

    /** Keeps messages that are to be sent; of those known already nothing changes. */
    public void add(List<Message> messages) {
        if (messages.isEmpty()) {
            return;
        }
        transactions.change("Messages could not be kept", connection -> {
            try (PreparedStatement insert = connection.prepareStatement(
                    "INSERT OR IGNORE INTO message (" + MESSAGE + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
                for (Message m : messages) {
                    insert.setString(1, m.id());
                    insert.setString(2, m.list());
                    insert.setString(3, m.way());
                    insert.setString(4, m.title());
                    insert.setString(5, m.document());
                    insert.setLong(6, m.made().toEpochMilli());
                    insert.setString(7, m.state());
                    insert.setInt(8, m.tries());
                    insert.setLong(9, m.next().toEpochMilli());
                    insert.setString(10, m.told());
                    insert.executeUpdate();
                }
            }
        });
    }

    /** Those to be tried by now, the oldest first, and marked as being sent: whoever dies now has not sent them twice. */
    public List<Message> take(Instant now, int most) {
        return transactions.run("Messages could not be taken", connection -> {
            List<Message> due = new ArrayList<>();
            try (PreparedStatement select = connection.prepareStatement("SELECT " + MESSAGE
                    + " FROM message WHERE state = 'waiting' AND next <= ? ORDER BY made, id LIMIT ?")) {
                select.setLong(1, now.toEpochMilli());
                select.setInt(2, most);
                Cells row = new Cells(select.executeQuery());
                while (row.next()) {
                    due.add(message(row));
                }
            }
            for (Message m : due) {
                turn(connection, m.id(), "sending", m.tries() + 1, now, "");
            }
            return due;
        });
    }

    /** What became of a message that was taken. */
    public void tell(Message taken, String state, Instant next, String told) {
        transactions.change("What became of a message could not be kept", connection -> {
            turn(connection, taken.id(), state, taken.tries() + 1, next, told);
        });
    }

    private static void turn(Connection connection, String id, String state, int tries, Instant next, String told)
            throws SQLException {
        try (PreparedStatement update = connection.prepareStatement(
                "UPDATE message SET state = ?, tries = ?, next = ?, told = ? WHERE id = ?")) {
            update.setString(1, state);
            update.setInt(2, tries);
            update.setLong(3, next.toEpochMilli());
            update.setString(4, told);
            update.setString(5, id);
            update.executeUpdate();
        }
    }

    /** After a start: of what was being sent then nobody knows whether it was. */
    public void forgetSending() {
        transactions.change("Messages could not be read", connection -> {
            try (PreparedStatement update = connection.prepareStatement("UPDATE message SET state = 'unknown',"
                    + " told = 'Firth ended while it was being sent; it is not sent again' WHERE state = 'sending'")) {
                update.executeUpdate();
            }
        });
    }

    /** The newest, whatever became of them. */
    public List<Message> newest(int most) {
        return read(
                "SELECT " + MESSAGE + " FROM message ORDER BY made DESC, id LIMIT ?",
                s -> s.setInt(1, most),
                Outbox::message);
    }

    /** Those made since a moment that failed, wait after a failure, or of which nobody knows. */
    public List<Message> troubled(Instant since) {
        return read(
                "SELECT " + MESSAGE + " FROM message WHERE made >= ? AND (state IN ('failed', 'unknown')"
                        + " OR state = 'waiting' AND tries > 0) ORDER BY made",
                s -> s.setLong(1, since.toEpochMilli()),
                Outbox::message);
    }

    private static Message message(Cells row) throws SQLException {
        return new Message(
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.text(),
                row.moment(),
                row.text(),
                (int) row.number(),
                row.moment(),
                row.text());
    }

    private interface Reading<T> {
        T of(Cells row) throws SQLException;
    }

    private <T> List<T> read(String sql, Statement.Binding binding, Reading<T> reading) {
        try (Connection connection = readers.getConnection();
                PreparedStatement select = connection.prepareStatement(sql)) {
            binding.to(select);
            List<T> out = new ArrayList<>();
            Cells row = new Cells(select.executeQuery());
            while (row.next()) {
                out.add(reading.of(row));
            }
            return out;
        } catch (SQLException e) {
            throw new StoreFailure("What is sent could not be read", e);
        }
    }
}
