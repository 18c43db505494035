package firth.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import javax.sql.DataSource;

/** One statement that changes something, by itself. */
final class Statement {

    private Statement() {}

    /** Fills in the values of a statement. */
    interface Binding {
        void to(PreparedStatement statement) throws SQLException;
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
