package firth.store;

import firth.core.model.Kind;
import firth.core.model.NamedSlot;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.model.Trigger;
import firth.core.model.Worded;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Optional;

/** Runs as rows. */
final class RunTable implements AutoCloseable {

    static final String COLUMNS =
            "id, database, kind, started, ended, outcome, message, rest, triggered_by, slot_schedule, slot_opens";

    private final PreparedStatement insert;
    private final PreparedStatement select;
    private final PreparedStatement update;

    RunTable(Connection connection) throws SQLException {
        insert = connection.prepareStatement(
                "INSERT OR IGNORE INTO run (" + COLUMNS + ") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
        select = connection.prepareStatement("SELECT " + COLUMNS + " FROM run WHERE id = ?");
        update = connection.prepareStatement(
                "UPDATE run SET (" + COLUMNS + ") = (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) WHERE id = ?");
    }

    /** Adds a run whose id is new; false where it is not. */
    boolean add(Run run) throws SQLException {
        bind(insert, run);
        return insert.executeUpdate() == 1;
    }

    Optional<Run> find(String id) throws SQLException {
        select.setString(1, id);
        try (ResultSet rows = select.executeQuery()) {
            Cells row = new Cells(rows);
            return row.next() ? Optional.of(read(row)) : Optional.empty();
        }
    }

    void replace(Run run) throws SQLException {
        bind(update, run);
        update.setString(12, run.id());
        update.executeUpdate();
    }

    private static void bind(PreparedStatement to, Run run) throws SQLException {
        to.setString(1, run.id());
        to.setString(2, run.database());
        to.setString(3, run.kind().word());
        to.setLong(4, run.started().toEpochMilli());
        Columns.setMoment(to, 5, run.ended());
        to.setString(6, run.outcome().word());
        Columns.set(to, 7, run.message());
        to.setString(8, run.rest());
        Columns.set(to, 9, run.trigger().map(Trigger::word));
        Columns.set(to, 10, run.slot().map(NamedSlot::schedule));
        Columns.setMoment(to, 11, run.slot().map(NamedSlot::opens));
    }

    /** Reads a row of {@link #COLUMNS}. */
    static Run read(Cells row) throws SQLException {
        String id = row.text();
        String database = row.text();
        Kind kind = Worded.of(Kind.class, row.text());
        Instant started = row.moment();
        Optional<Instant> ended = row.optionalMoment();
        Outcome outcome = Worded.of(Outcome.class, row.text());
        Optional<String> message = row.optionalText();
        String rest = row.text();
        Optional<Trigger> trigger = row.optionalText().map(t -> Worded.of(Trigger.class, t));
        Optional<String> schedule = row.optionalText();
        Optional<Instant> opens = row.optionalMoment();
        Optional<NamedSlot> slot = schedule.flatMap(s -> opens.map(o -> new NamedSlot(s, o)));
        return new Run(id, database, kind, trigger, slot, started, ended, outcome, message, rest);
    }

    @Override
    public void close() throws SQLException {
        insert.close();
        select.close();
        update.close();
    }
}
