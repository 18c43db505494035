package firth.engines.sqlite;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.StringWriter;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import java.util.stream.Stream;
import org.apache.commons.io.IOUtils;

/**
 * The write-ahead log of a database that others write to, copied piece by piece. Between two pieces a transaction that only reads keeps
 * anybody from moving the log into the file, so none of it is written over before it was copied; for a piece it is moved there, while nobody
 * writes. What happened while nothing kept it is only known to be whole where the engine still writes to the same log.
 */
public final class KeptLog implements AutoCloseable {

    private static final String STATE = "state";

    private final String name;
    private final Path file;
    private final Path spool;
    private final Clock clock;
    private final Connection reading;
    private final Connection writing;
    private final LogTail tail;
    private final List<Place.Seen> seen = new ArrayList<>();

    /** The boundary that was reached. */
    private long number;

    private Instant boundary;

    /** The log as the engine calls it that is whole from {@code copied} on. */
    private String log;

    private long copied;

    /** Whether all of the log is in the file, so that the next transaction begins a new one. */
    private volatile boolean moved;

    /** Whether nobody else can have moved the log since. */
    private volatile boolean held;

    private KeptLog(String name, Path file, Path spool, Clock clock, Connection reading, Connection writing)
            throws IOException {
        this.name = name;
        this.file = file;
        this.spool = spool;
        this.clock = clock;
        this.reading = reading;
        this.writing = writing;
        this.tail = new LogTail(file.resolveSibling(file.getFileName() + "-wal"));
        Properties kept = new Properties();
        Path state = Files.createDirectories(spool).resolve(STATE);
        if (Files.exists(state)) {
            try (InputStream in = Files.newInputStream(state)) {
                kept.load(in);
            }
        }
        // Where what was kept is lost, numbers go on above those there were.
        this.number = Long.parseLong(
                kept.getProperty("number", Long.toString(clock.instant().getEpochSecond())));
        this.boundary = Instant.parse(kept.getProperty("boundary", now().toString()));
        this.log = kept.getProperty("log", "");
        this.copied = Long.parseLong(kept.getProperty("copied", "0"));
    }

    /**
     * Keeps the log of a file from now on.
     *
     * @param name of the database
     * @param spool where pieces lie until they are taken, and what is known of the log
     * @throws IOException where its application does not let that be; says why
     */
    public static KeptLog of(String name, Path file, Path spool, Clock clock) throws IOException {
        if (!Files.isRegularFile(file)) {
            throw new IOException(file + " is not there");
        }
        try {
            Connection reading = OnlineCopy.open(file);
            Connection writing = OnlineCopy.open(file);
            try {
                String mode = first(reading, "PRAGMA journal_mode");
                if (!mode.equals("wal")) {
                    throw new IOException(
                            file + " is written without a write-ahead log: its journal_mode is " + mode + ", not wal");
                }
                KeptLog out = new KeptLog(name, file, spool, clock, reading, writing);
                out.cut();
                return out;
            } catch (IOException | SQLException e) {
                reading.close();
                writing.close();
                throw e;
            }
        } catch (SQLException e) {
            throw new IOException("SQLite does not open " + file + ": " + e.getMessage(), e);
        }
    }

    private Instant now() {
        return clock.instant().truncatedTo(ChronoUnit.MILLIS);
    }

    private static String first(Connection c, String sql) throws SQLException {
        try (Statement s = c.createStatement();
                ResultSet row = s.executeQuery(sql)) {
            return row.next() ? row.getString(1) : "";
        }
    }

    private static void run(Connection c, String sql) throws SQLException {
        try (Statement s = c.createStatement()) {
            s.execute(sql);
        }
    }

    /** From here on nobody moves the log. */
    private void hold() throws SQLException {
        run(reading, "BEGIN");
        first(reading, "SELECT count(*) FROM sqlite_schema");
    }

    /** Finds out whether the log is whole from where it was copied last, by a program that may have ended since. */
    private void begin() throws IOException {
        tail.read();
        if (!tail.name().equals(log) || tail.name().isEmpty() || tail.frames() < copied) {
            // Something may be lost: no piece joins the last boundary to this one, nor one that was laid and not noted
            // any more.
            number += 2;
            boundary = now();
            log = tail.name();
            copied = tail.frames();
        }
    }

    /** Notes when transactions are in the log; to be called often. */
    public void watch() throws IOException {
        synchronized (seen) {
            if (!tail.read()) {
                return;
            }
            if (!tail.name().equals(log)) {
                if (!(held && moved && (log.isEmpty() || LogTail.follows(tail.name(), log)))) {
                    throw new IOException("the log of " + file + " was begun anew though it was kept");
                }
                log = tail.name();
                copied = 0;
                moved = false;
                seen.clear();
                keep();
            }
            if (tail.frames() > 0) {
                seen.add(new Place.Seen(now(), tail.frames()));
            }
        }
    }

    /** The same as long as nothing was committed. */
    public String mark() throws IOException {
        synchronized (seen) {
            watch();
            return number + " " + (isNew() ? tail.name() + " " + tail.frames() : "");
        }
    }

    private boolean isNew() {
        return tail.name().equals(log) && tail.frames() > copied;
    }

    /** Copies what was committed since the last boundary and lays it into the spool, where there is any. Nobody writes meanwhile. */
    public synchronized void cut() throws IOException {
        try {
            run(writing, "BEGIN IMMEDIATE");
            try {
                synchronized (seen) {
                    if (held) {
                        watch();
                    } else {
                        begin();
                    }
                    Instant until = now();
                    if (isNew()) {
                        seen.add(new Place.Seen(until, tail.frames()));
                        lay(until);
                        number++;
                        copied = tail.frames();
                    }
                    boundary = until;
                    seen.clear();
                    keep();
                }
                if (held) {
                    held = false;
                    run(reading, "ROLLBACK");
                }
                moved = isMoved();
                hold();
                held = true;
            } finally {
                run(writing, "ROLLBACK");
            }
        } catch (SQLException e) {
            throw new IOException("SQLite does not hold still " + file + ": " + e.getMessage(), e);
        }
    }

    private boolean isMoved() throws SQLException {
        try (Statement s = reading.createStatement();
                ResultSet row = s.executeQuery("PRAGMA wal_checkpoint(PASSIVE)")) {
            return row.next() && row.getInt(1) == 0 && row.getLong(2) == row.getLong(3);
        }
    }

    private void lay(Path to, byte[] content) throws IOException {
        try (FileChannel out = FileChannel.open(to, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
            Channels.newOutputStream(out).write(content);
            out.force(true);
        }
    }

    private void lay(Instant until) throws IOException {
        Path piece = spool.resolve(String.format(Locale.ROOT, "%012d", number + 1));
        Path part = spool.resolve("part");
        clear(part);
        Files.createDirectory(part);
        Path wal = file.resolveSibling(file.getFileName() + "-wal");
        try (InputStream in = Files.newInputStream(wal);
                FileChannel file = FileChannel.open(
                        part.resolve(Place.LOG), StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
                OutputStream out = Channels.newOutputStream(file)) {
            IOUtils.copyLarge(in, out, 0, tail.bytes());
            file.force(true);
        }
        lay(
                part.resolve(Place.FILE),
                new Place(name, number + 1, Optional.of(boundary), until, tail.page(), seen)
                        .text()
                        .getBytes(StandardCharsets.UTF_8));
        // One that was laid and not noted any more holds less than this.
        clear(piece);
        Files.move(part, piece, StandardCopyOption.ATOMIC_MOVE);
    }

    private static void clear(Path directory) throws IOException {
        if (Files.exists(directory)) {
            try (Stream<Path> all = Files.list(directory)) {
                for (Path each : all.toList()) {
                    Files.delete(each);
                }
            }
            Files.delete(directory);
        }
    }

    /** Pieces that were not taken yet, in their order. */
    public List<Path> pieces() throws IOException {
        try (Stream<Path> all = Files.list(spool)) {
            return all.filter(p -> p.getFileName().toString().matches("\\d+"))
                    .sorted()
                    .toList();
        }
    }

    /** Copies a file as it is, without opening it in this program: to close it here would take the engine's own locks from it. */
    public interface Copying {
        void copy(Path from, Path to) throws IOException;
    }

    /** The file cannot be copied now; its log is kept all the same. */
    public static final class StillRead extends IOException {
        private static final long serialVersionUID = 1;

        StillRead(String why) {
            super(why);
        }
    }

    /**
     * Copies the database as it is at a boundary, while others write.
     *
     * @param into a directory; nothing is there yet
     * @throws StillRead while somebody reads an old state of it
     */
    public synchronized void copy(Path into, Copying copying) throws IOException {
        cut();
        if (!moved) {
            throw new StillRead(
                    "somebody reads an old state of " + file + ", and all of its log cannot be moved there");
        }
        Files.createDirectories(into);
        Path copy = into.resolve(name + ".db");
        copying.copy(file, copy);
        lay(
                into.resolve(Place.FILE),
                new Place(name, number, Optional.empty(), boundary, Math.max(tail.page(), 1), List.of())
                        .text()
                        .getBytes(StandardCharsets.UTF_8));
        String wrong = RestoredFile.wrong(copy);
        if (!wrong.isEmpty()) {
            throw new IOException("the copy is not whole: " + wrong);
        }
    }

    /** On the disk before anybody may move the log. */
    private void keep() throws IOException {
        Properties out = new Properties();
        out.setProperty("number", Long.toString(number));
        out.setProperty("boundary", boundary.toString());
        out.setProperty("log", log);
        out.setProperty("copied", Long.toString(copied));
        Path beside = spool.resolve(STATE + ".new");
        Files.deleteIfExists(beside);
        StringWriter text = new StringWriter();
        out.store(text, null);
        lay(beside, text.toString().getBytes(StandardCharsets.UTF_8));
        Files.move(beside, spool.resolve(STATE), StandardCopyOption.ATOMIC_MOVE);
    }

    /** Lets others move the log. */
    @Override
    public void close() throws IOException {
        try {
            reading.close();
            writing.close();
        } catch (SQLException e) {
            throw new IOException("SQLite does not close " + file + ": " + e.getMessage(), e);
        }
    }
}
