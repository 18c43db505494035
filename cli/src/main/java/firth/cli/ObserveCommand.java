package firth.cli;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.engines.Engine;
import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedDatabase;
import firth.engines.Observer;
import firth.engines.mariadb.MariadbFiles;
import firth.engines.postgres.PostgresFiles;
import firth.engines.sqlite.SqliteFiles;
import firth.exchange.FleetFileWriter;
import firth.exchange.Json;
import firth.runner.observed.LastRound;
import firth.runner.observed.ObservedFleet;
import java.io.BufferedOutputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.zip.CRC32;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code firth observe}: reads what engines left in directories, and tells of it in a fleet file or to a running Firth. */
@Command(
        name = "observe",
        mixinStandardHelpOptions = true,
        description =
                "Reads the archives and backups of PostgreSQL, MariaDB, MySQL and SQLite in directories and tells what they hold:"
                        + " as a fleet file, or to a running Firth. Only what is new since the last time is read, and sent.",
        footer = {
            "",
            "Exit status: 0 everything was read; 1 something was not, and standard error says why; 2 nothing could be done."
        })
final class ObserveCommand implements Callable<Integer> {

    private static final long BETWEEN_WORDS_OF_PROGRESS = 1_000_000_000L;

    private enum EngineName {
        postgresql,
        mariadb,
        sqlite
    }

    @Spec
    private CommandSpec spec;

    @Parameters(
            paramLabel = "[STORE=]DIR",
            arity = "1..*",
            description =
                    "A directory that engines write to, with the id of the store it is;"
                            + " without one it is the store archive. Of several for one store, paths are told from the directory above them.")
    private List<String> directories;

    @Option(names = "--engine", paramLabel = "E", description = "Only files of this engine: ${COMPLETION-CANDIDATES}.")
    private @Nullable EngineName engine;

    @Option(
            names = "--database",
            paramLabel = "ID",
            description = "What the database is called; default: its engine and what the engine itself calls it."
                    + " Where there are several, that is added.")
    private @Nullable String database;

    @Option(
            names = "--check",
            description =
                    "Read all bytes of backups, too: compare the checksums of their manifests, let SQLite check its files.")
    private boolean check;

    @Option(
            names = "--key",
            paramLabel = "NAME=FILE",
            description =
                    "A key that what is encrypted may be opened with, as age-keygen writes it; as often as needed.")
    private Map<String, Path> keys = Map.of();

    @Option(
            names = "--output",
            paramLabel = "FILE",
            description = "Where the fleet file goes; default: standard output.")
    private @Nullable Path output;

    @Option(names = "--to", paramLabel = "URL", description = "Send what is new to the Firth that runs there instead.")
    private @Nullable URI to;

    @Option(
            names = "--token",
            paramLabel = "TOKEN",
            defaultValue = "${env:FIRTH_TOKEN}",
            description = "What this program shows of itself; default: the value of FIRTH_TOKEN.")
    private @Nullable String token;

    @Option(
            names = "--keep",
            paramLabel = "DIR",
            defaultValue = ".firth/observed",
            description = "Where what was read is kept until the next time; default: .firth/observed.")
    private Path keep;

    @Override
    public Integer call() throws IOException, InterruptedException {
        PrintWriter err = spec.commandLine().getErr();
        List<Root> places = places();
        Instant now = Instant.now();
        Path kept = keep.resolve(mark(places));
        Path known = kept.resolveSibling(kept.getFileName() + ".known");
        Known from = Known.of(known);
        Observation seen = new Observer(engines(), Keys.of(keys)).observe(places, from, check, progress(err));
        from.keep(known);
        seen.unread().forEach(u -> err.println(u.path() + " " + u.reason()));
        err.printf(Locale.ROOT, "%,d files read, %,d bytes%n", seen.filesRead(), seen.bytesRead());
        ObservedFleet fleet = new ObservedFleet(seen.databases(), names(seen.databases(), err), now, "firth observe");
        LastRound last = new LastRound(kept.resolveSibling(kept.getFileName() + ".backups"));
        Set<String> empty =
                last.emptied(fleet.stores(), places.stream().map(Root::store).toList(), err::println);
        List<ObjectNode> backups = last.all(
                fleet.backups(),
                store -> places.stream().anyMatch(p -> p.store().equals(store)) && !empty.contains(store),
                now);
        if (to == null) {
            write(fleet, backups);
        } else {
            try {
                send(new ServerLink(to, token), fleet, backups, last);
            } catch (ServerLink.Refused e) {
                err.println("firth observe: " + e.getMessage());
                return 2;
            }
        }
        last.keep(backups);
        err.flush();
        return seen.unread().isEmpty() && empty.isEmpty() ? 0 : 1;
    }

    private List<Root> places() throws IOException {
        List<Root> out = new ArrayList<>();
        for (String d : directories) {
            int at = d.indexOf('=');
            boolean named = at > 0 && d.substring(0, at).matches("[A-Za-z0-9._:-]+");
            Path directory = Path.of(named ? d.substring(at + 1) : d);
            if (!Files.isDirectory(directory)) {
                throw new ParameterException(spec.commandLine(), directory + " is no directory.");
            }
            out.add(new Root(named ? d.substring(0, at) : "archive", directory.toRealPath()));
        }
        return out.stream()
                .map(r -> new Root(r.store(), r.directory(), above(r, out)))
                .toList();
    }

    /** A store that several directories belong to is the nearest one above them all. */
    private static Path above(Root root, List<Root> all) {
        Path above = root.directory();
        for (Root other : all) {
            while (other.store().equals(root.store()) && !other.directory().startsWith(above)) {
                above = Objects.requireNonNull(above.getParent());
            }
        }
        return above;
    }

    private List<Engine> engines() {
        List<Engine> all = List.of(new PostgresFiles(), new MariadbFiles(), new SqliteFiles());
        return engine == null
                ? all
                : all.stream().filter(e -> e.name().equals(engine.name())).toList();
    }

    /** By what a set of directories and the name given to what is in them is known from round to round. */
    private String mark(List<Root> places) {
        CRC32 crc = new CRC32();
        for (Root p : places) {
            crc.update((p.store() + "=" + p.directory() + "\n").getBytes(StandardCharsets.UTF_8));
        }
        crc.update((database + " " + engine).getBytes(StandardCharsets.UTF_8));
        return String.format(Locale.ROOT, "%08x", crc.getValue());
    }

    private Consumer<Path> progress(PrintWriter err) {
        long[] state = {System.nanoTime(), 0};
        return path -> {
            state[1]++;
            if (System.nanoTime() - state[0] > BETWEEN_WORDS_OF_PROGRESS) {
                state[0] = System.nanoTime();
                err.printf(Locale.ROOT, "%,d files read, now %s%n", state[1], path);
            }
        };
    }

    private Function<ObservedDatabase, String> names(List<ObservedDatabase> found, PrintWriter err) {
        Set<String> identities = new HashSet<>();
        found.forEach(d -> identities.add(d.engine() + "-" + d.identity()));
        if (database != null && identities.size() > 1) {
            err.println(identities.size() + " databases were found, so each is called " + database
                    + " with what its engine calls it.");
        }
        return d -> {
            String own = (d.engine() + "-" + d.identity()).replaceAll("[^A-Za-z0-9._:-]", "-");
            return database == null ? own : identities.size() > 1 ? database + "-" + own : database;
        };
    }

    private void write(ObservedFleet fleet, List<ObjectNode> backups) throws IOException {
        OutputStream to = output == null ? System.out : new FileOutputStream(output.toFile());
        try (BufferedOutputStream buffered = new BufferedOutputStream(to)) {
            write(buffered, stated(fleet), backups);
        }
    }

    /** A file stands by itself, so it says of the stores what is known: that they are there, near, and directories. */
    private static List<ObjectNode> stated(ObservedFleet fleet) {
        List<ObjectNode> out = new ArrayList<>();
        for (String store : fleet.stores()) {
            out.add(Json.MAPPER
                    .createObjectNode()
                    .put("type", "store")
                    .put("id", store)
                    .put("name", store)
                    .put("medium", "directory")
                    .put("role", "near"));
        }
        out.addAll(fleet.databases().values());
        return out;
    }

    private static void write(OutputStream to, Iterable<ObjectNode> stated, Iterable<ObjectNode> backups)
            throws IOException {
        try (FleetFileWriter out = new FleetFileWriter(to)) {
            for (ObjectNode d : stated) {
                out.write(d.toString());
            }
            for (ObjectNode b : backups) {
                out.write(b.toString());
            }
        }
    }

    /** What was stated of a database by people stays; lineages they do not have are added. */
    private void send(ServerLink firth, ObservedFleet fleet, List<ObjectNode> backups, LastRound last)
            throws IOException, InterruptedException, ServerLink.Refused {
        List<ObjectNode> databases = new ArrayList<>();
        for (Map.Entry<String, ObjectNode> d : fleet.databases().entrySet()) {
            Optional<ObjectNode> stated = firth.database(d.getKey());
            if (stated.isEmpty()) {
                databases.add(d.getValue());
            } else if (stated.get().path("lineages").size()
                    < d.getValue().path("lineages").size()) {
                databases.add(stated.get().set("lineages", d.getValue().path("lineages")));
            }
        }
        Path file = Files.createTempFile("firth-observed", ".ndjson");
        try {
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file))) {
                write(
                        out,
                        databases,
                        backups.stream().filter(b -> !last.told(b)).toList());
            }
            ImportCommand.report(firth.send(file, "observe"), spec.commandLine().getOut());
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
