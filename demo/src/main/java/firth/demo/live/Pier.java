package firth.demo.live;

import firth.servers.RealMariadb;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** The database host: a PostgreSQL, a MariaDB and a SQLite file, to each of which a row is committed now and then. */
final class Pier {

    static final String HARBOUR = "harbour";
    static final String BERTHS = "berths";
    static final String SHEDS = "sheds";

    /**
     * What was committed to a database, by its own word.
     *
     * @param committed when the last row was; empty: none yet
     * @param said why the last try did not go well; empty where it did
     */
    record Truth(long rows, Optional<Instant> committed, String said) {}

    private final Workplace work;
    private final RealPostgres harbour;
    private final RealMariadb berths;
    private final Path sheds;
    private final Map<String, Truth> truth = new TreeMap<>();

    /** Sets them up with the accounts the runner needs; the PostgreSQL archives to a directory. */
    Pier(Workplace work, Path archive) {
        this.work = work;
        this.harbour = RealPostgres.fresh(work, HARBOUR, archive);
        harbour.query("create role firth_backup login replication");
        harbour.query("grant pg_monitor to firth_backup");
        harbour.query("grant execute on function pg_switch_wal() to firth_backup");
        harbour.query("create table sailings(n serial primary key, cargo text)");
        this.berths = RealMariadb.fresh(work, BERTHS, "--log-bin=binlog", "--server-id=7");
        berths.query("create database quay");
        berths.query("create table quay.moorings(n int auto_increment primary key)");
        berths.query("create user firth_backup@localhost identified by 'between us'");
        berths.query(
                "grant reload, process, lock tables, binlog monitor, replication slave on *.* to firth_backup@localhost");
        this.sheds = work.directory("files").resolve("sheds.db");
        inSheds("PRAGMA journal_mode = wal");
        inSheds("CREATE TABLE shed (n INTEGER PRIMARY KEY, holds TEXT)");
        work.handOver(sheds);
    }

    /** How the runner finds the PostgreSQL. */
    String harbourConnection() {
        return harbour.connection("firth_backup");
    }

    /** How the runner finds the MariaDB: a file of the engine's own, which also holds the password. */
    Path berthsOptions() throws IOException {
        Path out = work.path("berths.cnf");
        Files.writeString(
                out, "[client]\nsocket=" + berths.socketPath() + "\nuser=firth_backup\npassword=between us\n");
        work.handOver(out);
        return out;
    }

    Path shedsFile() {
        return sheds;
    }

    /** Has the PostgreSQL archive by a command from now on. */
    void archiveBy(String command) {
        harbour.set("archive_command = '" + command + "'");
        harbour.reload();
    }

    /** Commits a row everywhere; a server that is down is noted. */
    void commit() {
        note(HARBOUR, () -> harbour.query("insert into sailings(cargo) select md5(random()::text)"));
        note(BERTHS, () -> berths.query("insert into quay.moorings values ()"));
        note(SHEDS, () -> inSheds("INSERT INTO shed (holds) VALUES ('oars')"));
    }

    private synchronized void note(String database, Runnable row) {
        Truth before = truth.getOrDefault(database, new Truth(0, Optional.empty(), ""));
        try {
            row.run();
            Instant now = Instant.now().truncatedTo(ChronoUnit.MILLIS);
            truth.put(database, new Truth(before.rows + 1, Optional.of(now), ""));
        } catch (Workplace.Failed | IllegalStateException e) {
            String said = String.valueOf(e.getMessage()).strip();
            truth.put(database, new Truth(before.rows, before.committed, said));
        }
    }

    private void inSheds(String statement) {
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + sheds);
                Statement s = c.createStatement()) {
            s.execute(statement);
        } catch (SQLException e) {
            throw new IllegalStateException(e.getMessage(), e);
        }
    }

    /** What was committed so far, by database. */
    synchronized Map<String, Truth> truth() {
        return new TreeMap<>(truth);
    }

    /** Ends the server of berths as a power cut does. */
    void killBerths() {
        berths.kill();
    }

    void startBerths() {
        berths.start();
    }

    /** Ends both servers at once. */
    void end() {
        berths.kill();
        try {
            harbour.close();
        } catch (Workplace.Failed e) {
            throw new UncheckedIOException(new IOException(HARBOUR + " did not stop: " + e.getMessage(), e));
        }
    }
}
