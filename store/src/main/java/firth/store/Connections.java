package firth.store;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.nio.file.Path;
import java.time.Duration;
import javax.sql.DataSource;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteDataSource;

/** Connections to the file of facts, and how many of them are kept. Opening one costs more than most questions. */
final class Connections {

    /** More than there are threads that ask, for one that reads may ask for another. */
    private static final int MOST = 512;

    /** What nobody used for so long is closed. */
    private static final Duration IDLE_FOR = Duration.ofMinutes(10);

    /** A writer waits as long for another before it says that it could not write. */
    private static final Duration BUSY = Duration.ofSeconds(5);

    /**
     * So much of the file each connection that reads has as if it were memory. One that writes has none of it: for each page it looks at it
     * would search the transaction log first, whether it holds the page already or not, and in the log of a large import that is long.
     */
    private static final long MAPPED = 256L << 20;

    /** What a writer holds of the file before it must write it out: a large import touches places all over it. */
    private static final int WRITERS_CACHE_KB = 64 << 10;

    /** What the transaction log keeps of the disk once it was written back: it grows as large as the largest import. */
    private static final long LOG_KEPT = 64L << 20;

    private Connections() {}

    static SQLiteDataSource to(Path file, SQLiteConfig.TransactionMode mode) {
        SQLiteConfig config = new SQLiteConfig();
        config.setJournalMode(SQLiteConfig.JournalMode.WAL);
        config.setSynchronous(SQLiteConfig.SynchronousMode.FULL);
        config.setTransactionMode(mode);
        config.setBusyTimeout((int) BUSY.toMillis());
        config.enforceForeignKeys(true);
        config.setGetGeneratedKeys(false);
        config.setPragma(SQLiteConfig.Pragma.JOURNAL_SIZE_LIMIT, String.valueOf(LOG_KEPT));
        if (mode == SQLiteConfig.TransactionMode.IMMEDIATE) {
            config.setCacheSize(-WRITERS_CACHE_KB);
        } else {
            config.setPragma(SQLiteConfig.Pragma.MMAP_SIZE, String.valueOf(MAPPED));
        }
        SQLiteDataSource source = new SQLiteDataSource(config);
        source.setUrl("jdbc:sqlite:" + file.toAbsolutePath());
        return source;
    }

    /** @param name what threads and messages call it */
    static HikariDataSource kept(DataSource source, String name) {
        HikariConfig config = new HikariConfig();
        config.setPoolName(name);
        config.setDataSource(source);
        config.setMaximumPoolSize(MOST);
        config.setMinimumIdle(0);
        config.setIdleTimeout(IDLE_FOR.toMillis());
        // A file does not hang up: a connection is as good when it is old.
        config.setMaxLifetime(0);
        config.setInitializationFailTimeout(-1);
        return new HikariDataSource(config);
    }
}
