package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;

/** Statements one at a time. */
final class Statement {

    private Statement() {}

    /** Fills in the values of a statement. */
    interface Binding {
        void to(PreparedStatement statement) throws SQLException;
    }

    /** Runs one within a transaction its owner ends. */
    static void run(Connection connection, String sql, Binding binding) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            binding.to(statement);
            statement.executeUpdate();
        }
    }

    /** Makes something of a row. */
    interface Row<T> {
        T of(Cells cells) throws SQLException;
    }

    /** Reads all rows there are for some texts. */
    static <T> List<T> read(DataSource readers, String sql, Row<T> row, String failure, String... values) {
        try (Connection connection = readers.getConnection();
                PreparedStatement select = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                select.setString(i + 1, values[i]);
            }
            List<T> out = new ArrayList<>();
            try (ResultSet rows = select.executeQuery()) {
                for (Cells cells = new Cells(rows); cells.next(); ) {
                    out.add(row.of(cells));
                }
            }
            return out;
        } catch (SQLException e) {
            throw new StoreFailure(failure, e);
        }
    }

    /** @param failure what could not be done, for whoever reads of it */
    static void run(DataSource writers, String sql, Binding binding, String failure) {
        try (Connection connection = writers.getConnection();
                PreparedStatement statement = connection.prepareStatement(sql)) {
            binding.to(statement);
            statement.executeUpdate();
        } catch (SQLException e) {
            throw new StoreFailure(failure, e);
        }
    }
}
