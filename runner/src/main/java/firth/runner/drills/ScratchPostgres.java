package firth.runner.drills;

import firth.engines.Recipe;
import firth.engines.postgres.PostgresRecipe;
import firth.runner.Program;
import firth.runner.StoreDirectory;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** A PostgreSQL that listens in the drill's directory alone. */
final class ScratchPostgres implements Scratch {

    /** Replaying the logs of many days takes its time; what sets the end is the hours of whoever watches. */
    private static final int PATIENCE_S = 7 * 24 * 3600;

    private static final int STOPS_S = 3600;
    private static final int LOOKS_MS = 200;
    private static final Pattern COMPLAINT = Pattern.compile("\\b(?:FATAL|PANIC):\\s*(?!the database system is)(.*)");

    private static final Pattern APPLIED = Pattern.compile("restored log file \"[0-9A-F]{24}\" from archive");

    /** A line of a history file: the timeline it left, and where. */
    private static final Pattern FORK = Pattern.compile("\\d+\\s+([0-9A-F]+)/([0-9A-F]+)");

    private final Path directory;
    private final Path files;
    private final boolean kept;
    private final String superuser;
    private final Optional<Path> programs;
    private final ServerLog log;

    ScratchPostgres(Place place, String superuser, Optional<Path> programs) {
        this.directory = place.directory();
        this.files = place.files();
        this.kept = place.kept();
        this.superuser = superuser;
        this.programs = programs;
        this.log = new ServerLog(directory.resolve("server.log"));
    }

    private String program(String name) {
        return Program.ofPostgresql(programs, name);
    }

    @Override
    public List<String> programs() {
        return List.of(program("pg_ctl"), program("postgres"), program("psql"));
    }

    @Override
    public Map<String, String> environment() {
        return Optional.ofNullable(Path.of(program("pg_ctl")).getParent())
                .map(p -> Map.of("PATH", p + ":" + System.getenv("PATH")))
                .orElse(Map.of());
    }

    @Override
    public void open(Script script) throws Trouble, Untried, InterruptedException {
        try {
            keepOffOthersFiles();
            Path rules = directory.resolve("hba.conf");
            Files.writeString(rules, "local all all trust\n");
            Path names = Files.writeString(directory.resolve("ident.conf"), "");
            // Where the settings of the old server lie elsewhere, those of the backup are all there are.
            if (Files.notExists(files.resolve("postgresql.conf"))) {
                Files.createFile(files.resolve("postgresql.conf"));
            }
            String settings = settings(rules, names).entrySet().stream()
                    .map(e -> "-c " + e.getKey() + "=" + Recipe.quoted(e.getValue()))
                    .collect(Collectors.joining(" "));
            Program.run(
                    List.of(
                            program("pg_ctl"),
                            "-D",
                            files.toString(),
                            "-l",
                            log.file().toString(),
                            "-w",
                            "-t",
                            Integer.toString(PATIENCE_S),
                            "-o",
                            settings,
                            "start"),
                    line -> {});
        } catch (IOException e) {
            throw new Trouble("the drill's directory cannot be written to: " + e.getMessage());
        } catch (Trouble notStarted) {
            throw closed();
        }
        awaitOpen();
    }

    /** Links of tablespaces that the script did not lay itself lead to where the old server has them, perhaps on this very host. */
    private void keepOffOthersFiles() throws IOException, Untried {
        Path map = files.resolve("tablespace_map");
        Path own = files.toRealPath().resolve(PostgresRecipe.TABLESPACES);
        boolean laid = Files.isDirectory(own)
                && Files.exists(map)
                && Files.readAllLines(map).stream()
                        .allMatch(l -> Path.of(l.substring(l.indexOf(' ') + 1)).startsWith(own));
        try (Stream<Path> spaces = Files.list(files.resolve("pg_tblspc"))) {
            if (!laid && (Files.exists(map) || spaces.findAny().isPresent())) {
                throw new Untried(
                        "its backup has tablespaces as plain files, whose places a drill cannot choose: restore it by hand,"
                                + " or take fulls as archives");
            }
        }
    }

    private Map<String, String> settings(Path rules, Path names) {
        return Map.ofEntries(
                Map.entry("data_directory", files.toString()),
                Map.entry("hba_file", rules.toString()),
                Map.entry("ident_file", names.toString()),
                Map.entry("listen_addresses", ""),
                Map.entry("unix_socket_directories", directory.toString()),
                Map.entry("port", "5432"),
                Map.entry("external_pid_file", ""),
                Map.entry("ssl", "off"),
                Map.entry("hot_standby", "off"),
                Map.entry("archive_mode", "off"),
                Map.entry("shared_preload_libraries", ""),
                Map.entry("logging_collector", "off"),
                Map.entry("log_destination", "stderr"),
                Map.entry("lc_messages", "C"),
                Map.entry("synchronous_standby_names", ""),
                Map.entry("max_logical_replication_workers", "0"),
                Map.entry("huge_pages", "off"),
                Map.entry("shared_buffers", "64MB"),
                // What is lost with the host is lost with the drill.
                Map.entry("fsync", kept ? "on" : "off"));
    }

    /** It is ready for a standby before it has replayed all, so that the program that started it does not tell. */
    private void awaitOpen() throws Trouble, Untried, InterruptedException {
        while (true) {
            try {
                if (first("", "select pg_is_in_recovery()").equals(Optional.of("f"))) {
                    return;
                }
            } catch (Trouble notYet) {
                if (notYet.why().endsWith("does not exist")) {
                    throw new Untried("it cannot be asked as the drills.superuser of the file: " + notYet.why());
                }
                if (!runs()) {
                    throw closed();
                }
            }
            Thread.sleep(LOOKS_MS);
        }
    }

    private boolean runs() throws InterruptedException {
        try {
            Program.run(List.of(program("pg_ctl"), "-D", files.toString(), "status"), line -> {});
            return true;
        } catch (Trouble ended) {
            return false;
        }
    }

    private Trouble closed() {
        return new Trouble(
                "the server did not open: " + log.last(COMPLAINT).orElse("its log does not say why"), log.tail());
    }

    @Override
    public Optional<Instant> lastChange() throws Trouble, InterruptedException {
        return first("", "select (extract(epoch from pg_last_xact_replay_timestamp()) * 1000000)::bigint")
                .map(micros -> Instant.EPOCH.plus(Long.parseLong(micros), ChronoUnit.MICROS));
    }

    @Override
    public String check() throws Trouble, InterruptedException {
        // An extension would stay in what is kept.
        if (kept
                || first("", "select 1 from pg_available_extensions where name = 'amcheck'")
                        .isEmpty()) {
            Program.run(with("pg_dumpall", "--file=/dev/null", "--no-sync"), line -> {});
            return "pg_dumpall read every table";
        }
        Program.run(with("pg_amcheck", "--all", "--install-missing"), line -> {});
        return "pg_amcheck found nothing wrong in any table or index";
    }

    @Override
    public Optional<String> first(String in, String sql) throws Trouble, InterruptedException {
        List<String> command = with("psql", "-XqAt", "-v", "ON_ERROR_STOP=1", "-d", in.isEmpty() ? "postgres" : in);
        command.addAll(List.of("-c", sql));
        return Program.run(command, line -> {}).lines().findFirst().filter(l -> !l.isEmpty());
    }

    private List<String> with(String program, String... arguments) {
        List<String> out = new ArrayList<>(List.of(
                program(program), "--host=" + directory, "--port=5432", "--username=" + superuser, "--no-password"));
        out.addAll(List.of(arguments));
        return out;
    }

    @Override
    public OptionalLong applied() {
        return OptionalLong.of(log.count(APPLIED));
    }

    @Override
    public OptionalLong forkedAt() throws Trouble {
        try (Stream<Path> all = Files.list(files.resolve("pg_wal"))) {
            Optional<Path> newest =
                    all.filter(p -> p.toString().endsWith(".history")).max(Comparator.comparing(Path::getFileName));
            if (newest.isEmpty()) {
                return OptionalLong.empty();
            }
            return Files.readString(newest.get())
                    .lines()
                    .map(FORK::matcher)
                    .filter(Matcher::lookingAt)
                    .mapToLong(m -> Long.parseLong(m.group(1), 16) << 32 | Long.parseLong(m.group(2), 16))
                    .max();
        } catch (IOException e) {
            throw new Trouble("where it went on a new timeline cannot be read: " + e.getMessage());
        }
    }

    @Override
    public void leave() throws Trouble, InterruptedException {
        stop("fast");
        try {
            StoreDirectory.remove(files.resolve(PostgresRecipe.LOGS));
        } catch (IOException e) {
            throw new Trouble("the copies of its logs cannot be removed: " + e.getMessage());
        }
    }

    private void stop(String how) throws Trouble, InterruptedException {
        Program.run(
                List.of(
                        program("pg_ctl"),
                        "-D",
                        files.toString(),
                        "-m",
                        how,
                        "-w",
                        "-t",
                        Integer.toString(STOPS_S),
                        "stop"),
                line -> {});
    }

    /** At once, but with all of its processes: what ends alone leaves others that go on writing for a moment. */
    @Override
    public void close() {
        try {
            stop("immediate");
        } catch (Trouble doesNotRun) {
            Remains.end(directory);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            Remains.end(directory);
        }
    }
}
