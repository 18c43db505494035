package firth.engines.mariadb;

import firth.engines.Engine;
import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.Observation;
import firth.engines.ObservedDatabase;
import firth.engines.Packed;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Binary logs, physical backups and dumps of MariaDB and MySQL in a directory. */
public final class MariadbFiles implements Engine {

    /** A binary log that was found, with what it tells. */
    record Log(Path file, Coordinate name, long size, Instant written, String key, LogFacts facts) {}

    private record Found(Path file, Coordinate name, BasicFileAttributes attributes) {}

    private record Dump(LogicalDump dump, long size, Instant written) {}

    private final List<Path> backups = new ArrayList<>();
    private final List<Found> logs = new ArrayList<>();
    private final List<Path> companions = new ArrayList<>();
    private final List<Dump> dumps = new ArrayList<>();

    @Override
    public String name() {
        return "mariadb";
    }

    /** Whether a file of a name is one the engine keeps beside its binary logs. */
    public static boolean isCompanion(String name) {
        return name.endsWith(".index") || name.endsWith(".state");
    }

    /**
     * Whether a file of a physical backup tells of the backup itself, by its path in it. It holds nothing of any table, and has to be readable
     * as it is for the programs of the engine.
     */
    public static boolean tellsOfItself(Path within) {
        String name = within.toString();
        return name.startsWith("mariadb_backup_") || name.startsWith("xtrabackup_") || name.equals("backup-my.cnf");
    }

    @Override
    public boolean takesDirectory(Path directory) {
        return PhysicalBackup.isOne(directory) && backups.add(directory);
    }

    @Override
    public boolean takesFile(Path file, BasicFileAttributes attributes, Keys keys) throws IOException {
        String name = Packed.nameWithin(file.getFileName().toString());
        if (isCompanion(name)) {
            return companions.add(file);
        }
        Optional<Coordinate> log = Coordinate.ofFile(name);
        if (log.isPresent()) {
            return logs.add(new Found(file, log.get(), attributes));
        }
        if (name.endsWith(".sql")) {
            Optional<LogicalDump> dump = LogicalDump.read(file, keys);
            return dump.isPresent()
                    && dumps.add(new Dump(
                            dump.get(),
                            attributes.size(),
                            attributes.lastModifiedTime().toInstant()));
        }
        return false;
    }

    @Override
    public Observation observe(Looking looking) throws IOException {
        Map<String, MariadbServer> servers = new TreeMap<>();
        logs.sort(Comparator.comparing((Found f) -> f.name().base())
                .thenComparing(f -> f.name().file())
                .thenComparing(f -> f.file()));
        for (Found f : logs) {
            read(f, looking)
                    .ifPresent(l -> servers.computeIfAbsent(
                                    l.name().base() + "/" + l.facts().server(), MariadbServer::new)
                            .add(l));
        }
        for (Path directory : backups) {
            try {
                looking.reading(directory, 0);
                PhysicalBackup backup = PhysicalBackup.read(directory);
                owner(servers, backup.coordinate(), directory, looking).ifPresent(s -> s.add(backup));
            } catch (IOException e) {
                looking.unread(directory, e);
            }
        }
        for (Dump d : dumps) {
            Path file = d.dump().file();
            if (d.dump().coordinate().isEmpty()) {
                looking.unread(file, "does not say where the binary logs stood: dump with --master-data=2");
            } else {
                owner(servers, d.dump().coordinate(), file, looking)
                        .ifPresent(s -> s.add(d.dump(), d.size(), d.written()));
            }
        }
        List<ObservedDatabase> databases = new ArrayList<>();
        for (MariadbServer s : servers.values()) {
            databases.add(
                    s.observed(looking, companions.stream().map(looking::path).toList()));
        }
        return looking.found(databases);
    }

    private static Optional<Log> read(Found f, Looking looking) {
        String key = Known.key(f.file(), f.attributes());
        Optional<LogFacts> kept = looking.known().get(key).map(LogFacts::parse);
        Optional<LogFacts> facts = kept.isPresent() ? kept : readThrough(f, key, looking);
        facts.ifPresent(l -> {
            if (l.encrypted()) {
                looking.unread(
                        f.file(),
                        "is encrypted: only the server can read what it holds, and when it begins is all it tells");
            } else if (!l.broken().isEmpty()) {
                looking.unread(f.file(), "holds log up to " + f.name().at(l.end()) + " only: " + l.broken());
            }
        });
        return facts.map(l -> new Log(
                f.file(),
                f.name(),
                f.attributes().size(),
                f.attributes().lastModifiedTime().toInstant(),
                key,
                l));
    }

    private static Optional<LogFacts> readThrough(Found f, String key, Looking looking) {
        try (InputStream in = buffered(f.file(), looking.keys())) {
            looking.reading(f.file(), f.attributes().size());
            LogFacts facts = BinaryLog.read(in);
            if (facts.end() > Coordinate.LARGEST_PLACE) {
                throw new IOException("is larger than places in it can be written: 4 GB");
            }
            looking.known().put(key, facts.text());
            return Optional.of(facts);
        } catch (IOException e) {
            looking.unread(f.file(), e);
            return Optional.empty();
        }
    }

    static InputStream buffered(Path file, Keys keys) throws IOException {
        return new BufferedInputStream(Packed.open(file, keys), 1 << 18);
    }

    /** The server whose logs a backup names; the one there is where it names none. */
    private static Optional<MariadbServer> owner(
            Map<String, MariadbServer> servers, Optional<Coordinate> coordinate, Path of, Looking looking) {
        List<MariadbServer> all = servers.values().stream()
                .filter(s ->
                        coordinate.isEmpty() || s.base().equals(coordinate.get().base()))
                .toList();
        if (all.size() == 1) {
            return Optional.of(all.get(0));
        }
        if (all.isEmpty() && coordinate.isPresent()) {
            return Optional.of(servers.computeIfAbsent(coordinate.get().base() + "/?", MariadbServer::new));
        }
        looking.unread(
                of,
                all.isEmpty()
                        ? "does not say where the binary logs stood, so it cannot be told whose it is"
                        : "may be of any of " + all.size() + " servers whose logs have the same name");
        return Optional.empty();
    }
}
