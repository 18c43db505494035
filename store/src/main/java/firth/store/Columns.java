package firth.store;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.util.Optional;
import java.util.OptionalDouble;

/** Optional values into nullable columns. */
final class Columns {

    private Columns() {}

    static void set(PreparedStatement to, int column, Optional<String> text) throws SQLException {
        to.setString(column, text.orElse(null));
    }

    static void set(PreparedStatement to, int column, OptionalDouble number) throws SQLException {
        if (number.isPresent()) {
            to.setDouble(column, number.getAsDouble());
        } else {
            to.setNull(column, Types.REAL);
        }
    }

    static void setMoment(PreparedStatement to, int column, Optional<Instant> moment) throws SQLException {
        if (moment.isPresent()) {
            to.setLong(column, moment.get().toEpochMilli());
        } else {
            to.setNull(column, Types.INTEGER);
        }
    }
}
