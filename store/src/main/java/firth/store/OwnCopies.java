package firth.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteDataSource;

/** Copies of Firth's own file: each consistent, checked before it counts, a few kept. */
public final class OwnCopies {

    private static final String BEGINS = "firth-";
    private static final String ENDS = ".db";
    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmss'Z'", Locale.ROOT).withZone(ZoneOffset.UTC);

    private final DataSource readers;
    private final Path directory;

    OwnCopies(DataSource readers, Path directory) {
        this.readers = readers;
        this.directory = directory;
    }

    /** One of them. */
    public record OwnCopy(Path file, Instant made, long bytes) {}

    /** The copies there are, the newest first; what else lies in the directory is left alone. */
    public List<OwnCopy> all() {
        if (!Files.isDirectory(directory)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(directory)) {
            return files.flatMap(f -> copy(f).stream())
                    .sorted(Comparator.comparing(OwnCopy::made).reversed())
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException("The copies in " + directory + " could not be listed", e);
        }
    }

    private static Optional<OwnCopy> copy(Path file) {
        String name = file.getFileName().toString();
        if (!name.startsWith(BEGINS) || !name.endsWith(ENDS)) {
            return Optional.empty();
        }
        try {
            Instant made = Instant.from(MOMENT.parse(name.substring(BEGINS.length(), name.length() - ENDS.length())));
            return Optional.of(new OwnCopy(file, made, Files.size(file)));
        } catch (DateTimeParseException | IOException e) {
            return Optional.empty();
        }
    }

    /**
     * Writes one while others read and write, checks it, and forgets the oldest beyond those to be kept. Of what goes wrong on the
     * way nothing is left behind.
     *
     * @param keep at least 1
     * @throws StoreFailure where it could not be written, or is not whole
     */
    public OwnCopy write(Instant now, int keep) {
        Path file = directory.resolve(BEGINS + MOMENT.format(now) + ENDS);
        Path part = directory.resolve(BEGINS + MOMENT.format(now) + ".part");
        try {
            Files.createDirectories(directory);
            Files.deleteIfExists(part);
            try (Connection connection = readers.getConnection();
                    PreparedStatement copy = connection.prepareStatement("VACUUM INTO ?")) {
                copy.setString(1, part.toAbsolutePath().toString());
                copy.execute();
            }
            check(part);
            move(part, file);
            for (OwnCopy old : all().stream().skip(Math.max(1, keep)).toList()) {
                Files.deleteIfExists(old.file());
            }
            return new OwnCopy(file, now, Files.size(file));
        } catch (SQLException | IOException e) {
            throw new StoreFailure("A copy of Firth's own facts could not be written to " + directory, e);
        } finally {
            try {
                Files.deleteIfExists(part);
            } catch (IOException e) {
                // The next copy removes it; the failure that left it is the one to be told.
                part.toFile().deleteOnExit();
            }
        }
    }

    /**
     * Puts a copy in the place of a file, which is kept beside it under another name. Nobody serves the file meanwhile.
     *
     * @return where the file that was there lies now; empty where there was none
     * @throws StoreFailure where a Firth that runs holds the file, or the copy is not whole; then nothing was changed
     */
    public static Optional<Path> restore(Path copy, Path file, Instant now) {
        check(copy);
        FileHold hold = FileHold.of(file);
        try {
            return replace(copy, file, now);
        } finally {
            hold.close();
        }
    }

    private static Optional<Path> replace(Path copy, Path file, Instant now) {
        Path part = file.resolveSibling(file.getFileName() + ".part");
        try {
            Files.createDirectories(file.toAbsolutePath().getParent());
            Files.copy(copy, part, StandardCopyOption.REPLACE_EXISTING);
            check(part);
            Optional<Path> aside = Optional.empty();
            if (Files.exists(file)) {
                Path other = file.resolveSibling(file.getFileName() + ".before-" + MOMENT.format(now));
                // Also what SQLite had not yet put into the file itself belongs to it.
                for (String end : List.of("", "-wal", "-shm")) {
                    Path piece = file.resolveSibling(file.getFileName() + end);
                    if (Files.exists(piece)) {
                        Files.move(piece, other.resolveSibling(other.getFileName() + end));
                    }
                }
                aside = Optional.of(other);
            }
            move(part, file);
            return aside;
        } catch (IOException e) {
            throw new StoreFailure("The copy could not be put in the place of " + file, e);
        }
    }

    private static void move(Path from, Path to) throws IOException {
        try {
            Files.move(from, to, StandardCopyOption.ATOMIC_MOVE);
        } catch (AtomicMoveNotSupportedException e) {
            Files.move(from, to);
        }
    }

    /**
     * Reads a copy through.
     *
     * @throws StoreFailure where it is none of Firth's, or not whole
     */
    public static void check(Path file) {
        if (!Files.isRegularFile(file)) {
            throw new StoreFailure("There is no file " + file);
        }
        SQLiteConfig config = new SQLiteConfig();
        config.setReadOnly(true);
        SQLiteDataSource source = new SQLiteDataSource(config);
        source.setUrl("jdbc:sqlite:" + file.toAbsolutePath());
        try (Connection connection = source.getConnection()) {
            String whole = one(connection, "PRAGMA integrity_check");
            if (!whole.equals("ok")) {
                throw new StoreFailure(file + " is not whole: " + whole);
            }
            one(connection, "SELECT count(*) FROM backup");
            one(connection, "SELECT count(*) FROM deed");
        } catch (SQLException e) {
            throw new StoreFailure(file + " is not a copy of Firth's facts, or not whole", e);
        }
    }

    private static String one(Connection connection, String sql) throws SQLException {
        try (PreparedStatement select = connection.prepareStatement(sql);
                ResultSet row = select.executeQuery()) {
            return row.next() ? row.getString(1) : "";
        }
    }
}
