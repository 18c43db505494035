package firth.engines.mariadb;

import firth.core.model.Backup.LogTimes;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Positions;
import firth.engines.Looking;
import firth.engines.ObservedBackup;
import firth.engines.ObservedBackup.Written;
import firth.engines.ObservedDatabase;
import firth.engines.mariadb.MariadbFiles.Log;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Everything found of one server, which is told by the name of its binary logs and its number. */
final class MariadbServer {

    /** The engine writes whole seconds: what was done in one is surely done when the next begins. */
    private static final long A_SECOND = 1;

    private final String identity;
    private final List<Log> logs = new ArrayList<>();
    private final List<PhysicalBackup> backups = new ArrayList<>();
    private final List<DumpFile> dumps = new ArrayList<>();

    private record DumpFile(LogicalDump dump, long size, Instant written) {}

    MariadbServer(String identity) {
        this.identity = identity;
    }

    String base() {
        return identity.substring(0, identity.lastIndexOf('/'));
    }

    void add(Log log) {
        logs.add(log);
    }

    void add(PhysicalBackup backup) {
        backups.add(backup);
    }

    void add(LogicalDump dump, long size, Instant written) {
        dumps.add(new DumpFile(dump, size, written));
    }

    ObservedDatabase observed(Looking looking, List<String> companions) {
        List<Numbering> numberings = Numbering.of(logs, identity, looking.known());
        List<ObservedBackup> all = new ArrayList<>();
        numberings.forEach(n -> all.addAll(found(n, looking)));
        Map<Path, String> names = new HashMap<>();
        backups.sort(Comparator.comparing(PhysicalBackup::ended).thenComparing(PhysicalBackup::root));
        for (PhysicalBackup b : backups) {
            names.put(b.root(), "physical-" + id(looking.path(b.root())));
        }
        for (PhysicalBackup b : backups) {
            all.add(data(b, names, Numbering.of(numberings, b.coordinate(), b.ended()), looking));
        }
        for (DumpFile d : dumps) {
            all.add(data(d, Numbering.of(numberings, d.dump().coordinate(), d.written()), looking));
        }
        all.sort(Comparator.comparing(ObservedBackup::name));
        return new ObservedDatabase(
                version().filter(v -> !v.contains("MariaDB")).isPresent() ? "mysql" : "mariadb",
                identity,
                version(),
                all.stream()
                        .map(b -> b.times().map(LogTimes::from).orElse(b.consistentAt()))
                        .min(Instant::compareTo)
                        .orElse(Instant.EPOCH),
                numberings.stream().map(Numbering::told).toList(),
                all,
                companions);
    }

    private Optional<String> version() {
        return logs.stream()
                .map(Log::facts)
                .max(Comparator.comparing(LogFacts::created))
                .map(LogFacts::version);
    }

    private static String id(String path) {
        String clean = path.replaceAll("[^A-Za-z0-9._:-]", "-");
        return clean.isEmpty() ? "root" : clean;
    }

    private static List<ObservedBackup> found(Numbering numbering, Looking looking) {
        Map<Long, Log> logs = numbering.logs();
        List<ObservedBackup> out = new ArrayList<>();
        @Nullable Instant reached = null;
        long expected = -1;
        for (Log log : logs.values()) {
            if (log.name().file() != expected) {
                reached = null;
            }
            LogFacts f = log.facts();
            Log following = logs.get(log.name().file() + 1);
            boolean goesOn = f.sealed() && following != null;
            Instant to = goesOn ? until(Objects.requireNonNull(following)) : f.reached();
            to = to.isBefore(f.reached()) ? f.reached() : to;
            Instant from = reached == null ? f.created() : reached;
            from = from.isAfter(to) ? to : from;
            for (Log file : numbering.files(log.name().file())) {
                out.add(log(file, numbering, from, to, looking));
            }
            reached = to;
            expected = f.sealed() ? log.name().file() + 1 : -1;
        }
        return out;
    }

    /** When the first thing can have happened that a log does not hold: with the first transaction of the one after it. */
    private static Instant until(Log following) {
        return following.facts().first().orElse(following.facts().reached());
    }

    private static ObservedBackup log(Log log, Numbering in, Instant from, Instant to, Looking looking) {
        LogFacts f = log.facts();
        Coordinate begin = log.name().at(BinaryLog.MAGIC.length);
        return new ObservedBackup(
                in.name(log),
                looking.store(log.file()),
                looking.path(log.file()),
                Kind.LOG,
                Optional.empty(),
                in.lineage(),
                Optional.of(new Positions(
                        log.name().position(),
                        f.sealed()
                                ? log.name().nextFile()
                                : log.name().at(f.end()).position())),
                Optional.of(new Written(begin.toString(), log.name().at(f.end()).toString(), f.numbers())),
                Optional.of(new LogTimes(from, to)),
                f.lastCommit().filter(c -> !c.isAfter(to)),
                f.sealed(),
                from,
                to,
                to,
                false,
                log.written(),
                log.size(),
                looking.form(log.file()),
                f.checked() ? Evidence.CHECKED : f.encrypted() ? Evidence.LISTED : Evidence.READ,
                Optional.empty(),
                List.of());
    }

    private ObservedBackup data(PhysicalBackup b, Map<Path, String> names, Numbering in, Looking looking) {
        Instant at =
                b.coordinate().flatMap(c -> momentAt(c, in.logs(), looking)).orElse(b.ended());
        return new ObservedBackup(
                names.getOrDefault(b.root(), ""),
                looking.store(b.root()),
                looking.path(b.root()).isEmpty() ? "." : looking.path(b.root()),
                b.incremental() ? Kind.INCR : Kind.FULL,
                b.incremental() ? Optional.of(parent(b, names)) : Optional.empty(),
                in.lineage(),
                b.coordinate().map(c -> new Positions(c.position(), c.position())),
                b.coordinate().map(c -> new Written(c.toString(), c.toString(), b.numbers())),
                Optional.empty(),
                Optional.empty(),
                true,
                at.isBefore(b.ended()) ? at : b.ended(),
                at.isAfter(b.ended()) ? at : b.ended(),
                at,
                true,
                b.ended(),
                b.members().stream().mapToLong(ObservedBackup.Member::bytes).sum(),
                b.packed().map(f -> looking.form(b.root().resolve(f))).orElse(ObservedBackup.Form.PLAIN),
                Evidence.READ,
                Optional.empty(),
                b.members());
    }

    private static ObservedBackup data(DumpFile d, Numbering in, Looking looking) {
        Coordinate c = d.dump().coordinate().orElseThrow();
        Instant at = momentAt(c, in.logs(), looking).orElse(d.written());
        return new ObservedBackup(
                "dump-" + id(looking.path(d.dump().file())),
                looking.store(d.dump().file()),
                looking.path(d.dump().file()),
                Kind.FULL,
                Optional.empty(),
                in.lineage(),
                Optional.of(new Positions(c.position(), c.position())),
                Optional.of(new Written(c.toString(), c.toString())),
                Optional.empty(),
                Optional.empty(),
                true,
                at.isBefore(d.written()) ? at : d.written(),
                at.isAfter(d.written()) ? at : d.written(),
                at,
                true,
                d.written(),
                d.size(),
                looking.form(d.dump().file()),
                Evidence.READ,
                d.dump().finished() ? Optional.empty() : Optional.of("it was cut off: its last line is missing"),
                List.of());
    }

    /** What an incremental rests on: the directory it names; where that was moved, the one of that name that ends where it begins. */
    private String parent(PhysicalBackup b, Map<Path, String> names) {
        Optional<Path> named = b.rests().map(Path::of);
        return backups.stream()
                .filter(o -> !o.root().equals(b.root()) && o.to() == b.from())
                .max(Comparator.comparingInt((PhysicalBackup o) -> named.filter(o.root()::equals)
                                        .isPresent()
                                ? 2
                                : named.map(Path::getFileName)
                                                .filter(n -> n.equals(o.root().getFileName()))
                                                .isPresent()
                                        ? 1
                                        : 0)
                        .thenComparing(PhysicalBackup::ended))
                .map(o -> names.getOrDefault(o.root(), ""))
                .orElse("physical-unknown-" + b.from());
    }

    /**
     * The moment whose state a coordinate is: of the last transaction before it, and as the engine writes whole seconds, the beginning of
     * the next where nothing else was done in that one.
     */
    private static Optional<Instant> momentAt(Coordinate c, Map<Long, Log> logs, Looking looking) {
        Log log = logs.get(c.file());
        if (log == null || log.facts().encrypted() || log.facts().end() < c.offset()) {
            return Optional.empty();
        }
        Log following = logs.get(c.file() + 1);
        String key = "at|" + c + "|" + log.key() + (following == null ? "" : "|" + following.key());
        Optional<String> kept = looking.known().get(key);
        if (kept.isPresent()) {
            return Optional.of(Instant.parse(kept.get()));
        }
        Instant[] around = new Instant[2];
        try (InputStream in = MariadbFiles.buffered(log.file(), looking.keys())) {
            looking.reading(log.file(), log.size());
            BinaryLog.read(in, (end, made) -> {
                if (end <= c.offset()) {
                    around[0] = around[0] == null || made.isAfter(around[0]) ? made : around[0];
                } else if (around[1] == null) {
                    around[1] = made;
                }
            });
        } catch (IOException e) {
            looking.unread(log.file(), e);
            return Optional.empty();
        }
        Instant before = around[0] == null ? log.facts().created() : around[0];
        Instant next = around[1] != null || following == null
                ? around[1]
                : following.facts().first().orElse(null);
        Instant sure = before.plusSeconds(A_SECOND);
        Instant at = next == null || !next.isBefore(sure) ? sure : before;
        looking.known().put(key, at.toString());
        return Optional.of(at);
    }
}
