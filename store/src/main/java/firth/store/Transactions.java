package firth.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.locks.ReentrantLock;
import javax.sql.DataSource;

/** Changes of several rows, all or nothing, one writer at a time. */
final class Transactions {

    private final DataSource writers;
    private final ReentrantLock writer = new ReentrantLock();

    Transactions(DataSource writers) {
        this.writers = writers;
    }

    /** What is done within one transaction. */
    interface Work<R, E extends Exception> {
        R with(Connection connection) throws SQLException, E;
    }

    /**
     * Does something wholly or, where it throws, not at all.
     *
     * @param failure what could not be done, for whoever reads of it
     */
    <R, E extends Exception> R run(String failure, Work<R, E> work) throws E {
        writer.lock();
        try (Connection connection = writers.getConnection()) {
            connection.setAutoCommit(false);
            Throwable flaw = null;
            try {
                R result = work.with(connection);
                connection.commit();
                return result;
            } catch (Throwable e) {
                flaw = e;
                throw e;
            } finally {
                if (flaw != null) {
                    rollBack(connection, flaw);
                }
            }
        } catch (SQLException e) {
            throw new StoreFailure(failure + "; what was there before is unharmed", e);
        } finally {
            writer.unlock();
        }
    }

    /** What is done within one transaction that tells nothing. */
    interface Change<E extends Exception> {
        void with(Connection connection) throws SQLException, E;
    }

    /** Changes something wholly or, where that throws, not at all. */
    <E extends Exception> void change(String failure, Change<E> change) throws E {
        run(failure, connection -> {
            change.with(connection);
            return true;
        });
    }

    /** Where the disk is full SQLite has rolled back by itself, and says so; that must not hide what went wrong. */
    private static void rollBack(Connection connection, Throwable flaw) {
        try {
            connection.rollback();
        } catch (SQLException already) {
            flaw.addSuppressed(already);
        }
    }
}
