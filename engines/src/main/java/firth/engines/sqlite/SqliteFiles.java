package firth.engines.sqlite;

import com.github.luben.zstd.ZstdIOException;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.engines.Engine;
import firth.engines.Keys;
import firth.engines.Looking;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.ObservedBackup.Member;
import firth.engines.ObservedDatabase;
import firth.engines.Packed;
import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.zip.ZipException;
import org.apache.commons.io.output.CountingOutputStream;

/**
 * Copies of SQLite databases. The files do not say of which database they are: those whose names differ in digits alone are copies of one.
 */
public final class SqliteFiles implements Engine {

    private static final String LOG = "-wal";
    private static final String SHARED = "-shm";
    private static final Pattern DATED = Pattern.compile("[-_.]?\\d[-_.:T\\dZ]*");
    private static final Pattern ENDING = Pattern.compile("\\.(db|sqlite3?|bak|copy)$");

    private final List<Copy> copies = new ArrayList<>();
    private final List<Path> logs = new ArrayList<>();
    private final List<Path> kept = new ArrayList<>();

    private record Copy(Path file, DatabaseFile head, long size, Instant written) {}

    @Override
    public String name() {
        return "sqlite";
    }

    @Override
    public boolean takesDirectory(Path directory) {
        return Place.isIn(directory) && kept.add(directory);
    }

    @Override
    public boolean takesFile(Path file, BasicFileAttributes attributes, Keys keys) throws IOException {
        String name = file.getFileName().toString();
        if (name.endsWith(LOG) || name.endsWith(SHARED)) {
            return Files.isRegularFile(file.resolveSibling(name.substring(0, name.length() - LOG.length())))
                    && logs.add(file);
        }
        try (InputStream in = Packed.open(file, keys)) {
            Optional<DatabaseFile> head = DatabaseFile.read(in);
            return head.isPresent()
                    && copies.add(new Copy(
                            file,
                            head.get(),
                            attributes.size(),
                            attributes.lastModifiedTime().toInstant()));
        }
    }

    @Override
    public Observation observe(Looking looking) {
        Map<String, List<ObservedBackup>> found = new TreeMap<>();
        for (Copy c : copies) {
            looking.reading(c.file(), 0);
            try {
                found.computeIfAbsent(database(c.file()), n -> new ArrayList<>())
                        .add(backup(c, looking));
            } catch (IOException e) {
                looking.unread(c.file(), e);
            }
        }
        for (Path directory : kept) {
            looking.reading(directory, 0);
            try {
                KeptCopy copy = KeptCopy.read(directory, looking);
                found.computeIfAbsent(database(copy.of()), n -> new ArrayList<>())
                        .add(copy.backup(looking));
            } catch (IOException e) {
                looking.unread(directory, e);
            }
        }
        List<ObservedDatabase> databases = new ArrayList<>();
        found.forEach((name, backups) -> databases.add(new ObservedDatabase(
                name(),
                name,
                Optional.empty(),
                backups.stream()
                        .map(ObservedBackup::consistentAt)
                        .min(Instant::compareTo)
                        .orElse(Instant.EPOCH),
                List.of(Lineage.FIRST),
                backups,
                List.of())));
        return looking.found(databases);
    }

    /** The copy a write-ahead log lies beside, by the path of the log; empty where it is none. */
    public static Optional<String> ofLog(String path) {
        return path.endsWith(LOG) ? Optional.of(path.substring(0, path.length() - LOG.length())) : Optional.empty();
    }

    /** What its name says without the digits that tell one copy from another. */
    private static String database(Path file) {
        return database(Packed.nameWithin(file.getFileName().toString()));
    }

    private static String database(String plain) {
        String bare = DATED.matcher(ENDING.matcher(plain).replaceFirst("")).replaceAll("");
        return bare.isEmpty() ? plain : bare;
    }

    private static ObservedBackup backup(Copy c, Looking looking) throws IOException {
        String name = c.file().getFileName().toString();
        List<Member> members = new ArrayList<>();
        long pages = c.head().pages();
        long bytes = c.size();
        Instant written = c.written();
        Path log = c.file().resolveSibling(name + LOG);
        ObservedBackup.Form form = looking.form(c.file());
        boolean packed = form.compressed() || form.key().isPresent();
        boolean whole = !packed;
        if (!packed && Files.isRegularFile(log)) {
            try (InputStream in = new BufferedInputStream(Files.newInputStream(log))) {
                WriteAheadLog read = WriteAheadLog.read(in);
                if (read.commits() > 0) {
                    pages = 0;
                    whole = false;
                }
            }
            members.add(new Member(name, c.size()));
            members.add(new Member(name + LOG, Files.size(log)));
            bytes += Files.size(log);
            Instant logged = Files.getLastModifiedTime(log).toInstant();
            written = logged.isAfter(written) ? logged : written;
        }
        String wrong = "";
        long should = pages * c.head().pageSize();
        long size = packed ? looking.checks() ? unpackedSize(c.file(), looking.keys()) : should : c.size();
        if (size < should) {
            wrong = "it has " + size + " bytes, and its first page says " + should + ": it was cut off";
        } else if (looking.checks() && whole) {
            wrong = RestoredFile.wrong(c.file());
        }
        return new ObservedBackup(
                "copy-" + looking.path(c.file()).replaceAll("[^A-Za-z0-9._:-]", "-"),
                looking.store(c.file()),
                looking.path(c.file()),
                Kind.FULL,
                Optional.empty(),
                Lineage.FIRST.id(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                true,
                written,
                written,
                written,
                true,
                written,
                bytes,
                form,
                looking.checks() && whole && wrong.isEmpty() ? Evidence.VERIFIED : Evidence.READ,
                wrong.isEmpty() ? Optional.empty() : Optional.of(wrong),
                members);
    }

    /** How many bytes are packed in it; one fewer than can be read where the file ends before it should. */
    private static long unpackedSize(Path file, Keys keys) throws IOException {
        CountingOutputStream counted = new CountingOutputStream(OutputStream.nullOutputStream());
        try (InputStream in = Packed.open(file, keys)) {
            in.transferTo(counted);
            return counted.getByteCount();
        } catch (EOFException | ZipException | ZstdIOException cutOff) {
            return counted.getByteCount() - 1;
        }
    }
}
