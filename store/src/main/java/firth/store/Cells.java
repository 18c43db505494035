package firth.store;

import firth.core.model.Evidence;
import firth.core.model.Worded;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/** The cells of a row, read one after the other in the order the query names them. */
final class Cells {

    private final ResultSet rows;
    private int at;

    Cells(ResultSet rows) {
        this.rows = rows;
    }

    /** Moves to the next row, before its first cell. */
    boolean next() throws SQLException {
        at = 0;
        return rows.next();
    }

    void skip(int cells) {
        at += cells;
    }

    String text() throws SQLException {
        return rows.getString(++at);
    }

    Optional<String> optionalText() throws SQLException {
        return Optional.ofNullable(text());
    }

    boolean flag() throws SQLException {
        return rows.getBoolean(++at);
    }

    long number() throws SQLException {
        return rows.getLong(++at);
    }

    long numberOr(long otherwise) throws SQLException {
        long value = rows.getLong(++at);
        return value == 0 && rows.wasNull() ? otherwise : value;
    }

    Instant moment() throws SQLException {
        return Instant.ofEpochMilli(number());
    }

    Optional<Instant> optionalMoment() throws SQLException {
        long ms = rows.getLong(++at);
        return ms == 0 && rows.wasNull() ? Optional.empty() : Optional.of(Instant.ofEpochMilli(ms));
    }

    double amountOr(double otherwise) throws SQLException {
        double value = rows.getDouble(++at);
        return value == 0 && rows.wasNull() ? otherwise : value;
    }

    /** How a copy is known; nothing stands there where it was only told of. */
    Evidence evidence() throws SQLException {
        return optionalText().flatMap(w -> Worded.find(Evidence.class, w)).orElse(Evidence.TOLD);
    }

    OptionalDouble amount() throws SQLException {
        double value = rows.getDouble(++at);
        return value == 0 && rows.wasNull() ? OptionalDouble.empty() : OptionalDouble.of(value);
    }
}
