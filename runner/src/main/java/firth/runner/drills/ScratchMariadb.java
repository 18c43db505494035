package firth.runner.drills;

import firth.engines.mariadb.BinaryLogs;
import firth.runner.Program;
import firth.runner.Trouble;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** A MariaDB without a network. It writes a log of its own, so that it says itself how far it was brought. */
final class ScratchMariadb implements Scratch {

    private static final String LOG = "replayed";
    private static final String ACCOUNT = "firth_drill";
    private static final int LOOKS_MS = 200;
    private static final int STOPS_S = 3600;
    /** Of the files themselves; paths of the old server are none. */
    private static final Pattern MADE_WITH =
            Pattern.compile("innodb_(page_size=\\d+|undo_tablespaces=\\d+|data_file_path=[\\w:;]+)");

    private static final Pattern COMPLAINT = Pattern.compile("\\[ERROR\\]\\s*(?!Aborting)(.*)");

    private final Path directory;
    private final Path files;
    private final Optional<Path> programs;
    private final ServerLog log;
    private Optional<Process> server = Optional.empty();

    ScratchMariadb(Place place, Optional<Path> programs) {
        this.directory = place.directory();
        this.files = place.files();
        this.programs = programs;
        this.log = new ServerLog(directory.resolve("server.log"));
    }

    private String program(String name) {
        return programs.map(p -> p.resolve(name).toString()).orElse(name);
    }

    @Override
    public List<String> programs() {
        return List.of(
                program("mariadbd"),
                program("mariadb"),
                program("mariadb-binlog"),
                program("mariadb-backup"),
                program("mariadb-check"));
    }

    @Override
    public Map<String, String> environment() {
        return programs.map(p -> Map.of("PATH", p + ":" + System.getenv("PATH")))
                .orElse(Map.of());
    }

    private Path socket() {
        return directory.resolve("s");
    }

    @Override
    public void open(Script script) throws Trouble, InterruptedException {
        try {
            if (isEmpty()) {
                // What is read back is a dump, which takes a server of its own.
                Program.run(
                        List.of(
                                program("mariadb-install-db"),
                                "--no-defaults",
                                "--datadir=" + files,
                                "--skip-test-db",
                                "--auth-root-authentication-method=normal"),
                        line -> {});
            }
            Path account = directory.resolve("account.sql");
            Files.writeString(
                    account,
                    "SET sql_log_bin = 0;\nCREATE OR REPLACE USER " + ACCOUNT
                            + "@localhost IDENTIFIED BY '';\nGRANT ALL PRIVILEGES ON *.* TO " + ACCOUNT
                            + "@localhost WITH GRANT OPTION;\n");
            List<String> command = new ArrayList<>(List.of(
                    program("mariadbd"),
                    "--no-defaults",
                    "--datadir=" + files,
                    "--socket=" + socket(),
                    "--skip-networking",
                    "--skip-slave-start",
                    "--event-scheduler=OFF",
                    "--pid-file=" + directory.resolve("pid"),
                    "--log-error=" + log.file(),
                    "--init-file=" + account,
                    "--log-bin=" + directory.resolve(LOG),
                    "--server-id=1",
                    "--innodb-buffer-pool-size=64M",
                    "--innodb-flush-log-at-trx-commit=0"));
            command.addAll(asBefore());
            Process started = new ProcessBuilder(command)
                    .redirectInput(new File("/dev/null"))
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .redirectErrorStream(true)
                    .start();
            server = Optional.of(started);
            while (!answers()) {
                if (!started.isAlive()) {
                    throw new Trouble(
                            "the server did not open: " + log.last(COMPLAINT).orElse("its log does not say why"),
                            log.tail());
                }
                Thread.sleep(LOOKS_MS);
            }
        } catch (IOException e) {
            throw new Trouble("the server cannot be started: " + e.getMessage());
        }
        List<String> replay = new ArrayList<>(List.of("replay"));
        replay.addAll(reaching());
        script.again(replay);
    }

    private boolean isEmpty() throws IOException {
        if (Files.notExists(files)) {
            return true;
        }
        try (Stream<Path> all = Files.list(files)) {
            return all.findAny().isEmpty();
        }
    }

    /** What its files were made with, which its own program of backups wrote beside them. */
    private List<String> asBefore() throws IOException {
        Path noted = files.resolve("backup-my.cnf");
        if (Files.notExists(noted)) {
            return List.of();
        }
        return Files.readAllLines(noted).stream()
                .filter(l -> MADE_WITH.matcher(l).matches())
                .map(l -> "--" + l)
                .toList();
    }

    private List<String> reaching() {
        return List.of("--no-defaults", "--socket=" + socket(), "--user=" + ACCOUNT);
    }

    private boolean answers() throws InterruptedException {
        try {
            return first("", "select 1").isPresent();
        } catch (Trouble notYet) {
            return false;
        }
    }

    @Override
    public Optional<Instant> lastChange() throws Trouble, InterruptedException {
        first("", "flush binary logs");
        try {
            return BinaryLogs.lastCommit(directory, LOG);
        } catch (IOException e) {
            throw new Trouble("what the server replayed cannot be read: " + e.getMessage());
        }
    }

    @Override
    public String check() throws Trouble, InterruptedException {
        List<String> command = new ArrayList<>(List.of(program("mariadb-check")));
        command.addAll(reaching());
        command.addAll(List.of("--all-databases", "--check", "--silent"));
        String said = Program.run(command, line -> {});
        if (said.lines().anyMatch(l -> l.strip().matches("(?i)(error|corrupt).*"))) {
            throw new Trouble("mariadb-check: " + said.lines().findFirst().orElse(""), said);
        }
        return "mariadb-check found nothing wrong in any table";
    }

    @Override
    public Optional<String> first(String in, String sql) throws Trouble, InterruptedException {
        List<String> command = new ArrayList<>(List.of(program("mariadb")));
        command.addAll(reaching());
        command.addAll(List.of("--skip-column-names", "--batch", "--execute=" + sql));
        if (!in.isEmpty()) {
            command.add(in);
        }
        return Program.run(command, line -> {}).lines().findFirst().filter(l -> !l.isEmpty() && !l.equals("NULL"));
    }

    /** A shutdown of its own: everything is on the disk then, and the account is not in it. */
    @Override
    public void leave() throws Trouble, InterruptedException {
        first("", "SET sql_log_bin = 0; DROP USER " + ACCOUNT + "@localhost; SHUTDOWN");
        if (server.isPresent() && !server.get().waitFor(STOPS_S, TimeUnit.SECONDS)) {
            throw new Trouble("the server does not stop", log.tail());
        }
    }

    @Override
    public void close() {
        Remains.end(directory);
    }
}
