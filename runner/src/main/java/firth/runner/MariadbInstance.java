package firth.runner;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.Packed;
import firth.engines.mariadb.Coordinate;
import firth.engines.mariadb.MariadbFiles;
import java.io.IOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Stream;

/** A MariaDB server, through mariadb, mariadb-backup and mariadb-binlog. */
final class MariadbInstance implements Instance {

    /** A commit is dated a little before it stands in the log. */
    private static final Duration LATE = Duration.ofSeconds(1);

    private static final List<String> NEEDED =
            List.of("BINLOG MONITOR", "LOCK TABLES", "PROCESS", "RELOAD", "REPLICATION SLAVE");

    /** What a dump needs besides: it reads every table. */
    private static final List<String> DUMPING = List.of("EVENT", "SELECT", "SHOW VIEW", "TRIGGER");

    /** What deleting binary logs needs besides. */
    private static final String DELETING = "BINLOG ADMIN";

    /** What it copies at once, and is held back by. */
    private static final double CHUNK = 10 * 1024 * 1024;

    private static final List<Path> FILES =
            List.of(Path.of("/etc/my.cnf"), Path.of("/etc/my.cnf.d"), Path.of("/etc/mysql"));

    private final Path options;
    private final Optional<Path> programs;
    private final boolean dumps;

    /** @param options an option file of the engine, which says where the server is, as whom to come, and the password */
    MariadbInstance(Path options, Optional<Path> programs) {
        this(options, programs, false);
    }

    /** @param dumps whether fulls are dumps of all schemas instead of copies of the files */
    MariadbInstance(Path options, Optional<Path> programs, boolean dumps) {
        this.options = options;
        this.programs = programs;
        this.dumps = dumps;
    }

    @Override
    public Set<Kind> kinds() {
        return dumps ? Set.of(Kind.FULL, Kind.LOG, Kind.CONFIG) : Set.of(Kind.FULL, Kind.INCR, Kind.LOG, Kind.CONFIG);
    }

    private List<String> needed(boolean deletes) {
        return Stream.of(NEEDED, dumps ? DUMPING : List.<String>of(), deletes ? List.of(DELETING) : List.<String>of())
                .flatMap(List::stream)
                .sorted()
                .toList();
    }

    private List<String> command(String program, String... arguments) {
        List<String> out = new ArrayList<>();
        out.add(programs.map(p -> p.resolve(program).toString()).orElse(program));
        out.add("--defaults-file=" + options);
        out.addAll(List.of(arguments));
        return out;
    }

    /** The rows some questions give, one after the other. */
    private List<List<String>> rows(String... questions) throws Trouble, InterruptedException {
        List<String> lines = new ArrayList<>();
        Program.run(command("mariadb", "-N", "-B", "-e", String.join("; ", questions)), lines::add);
        return lines.stream().map(l -> List.of(l.split("\t", -1))).toList();
    }

    @Override
    public Optional<Server> server() throws InterruptedException {
        try {
            // Later servers have an id of their own.
            List<List<String>> is = rows("select version(), @@socket", "show global variables like 'server_uid'");
            return Optional.of(new Server(
                    "MariaDB " + PostgresInstance.version(is.get(0).get(0)),
                    is.stream().skip(1).map(r -> r.get(1)).findFirst(),
                    Optional.empty(),
                    Set.of(Path.of(is.get(0).get(1)))));
        } catch (Trouble silent) {
            return Optional.empty();
        }
    }

    @Override
    public void probe(ObjectNode into, boolean deletes) throws InterruptedException {
        try {
            // Such as "mariadb-backup based on MariaDB server 10.11.6-MariaDB".
            into.put("client", PostgresInstance.version(Program.run(command(client(), "--version"), s -> {})));
        } catch (Trouble e) {
            into.withObject("/processes").put(client(), false);
        }
        try {
            List<String> is = rows("select version(), @@log_bin").get(0);
            into.put("server", PostgresInstance.version(is.get(0)));
            into.put("logs", is.get(1).equals("1") ? "on" : "off");
            into.withObject("/processes").put("server", true);
            ObjectNode rights = into.putObject("rights");
            ArrayNode held = rights.putArray("held");
            rows("select privilege_type from information_schema.user_privileges"
                            + " where replace(grantee, \"'\", '') = current_user() and privilege_type <> 'USAGE' order by 1")
                    .forEach(r -> held.add(r.get(0)));
            needed(deletes).forEach(rights.putArray("needed")::add);
            if (is.get(1).equals("1")) {
                Coordinate.ofFile(rows("show binary logs").get(0).get(0))
                        .ifPresent(first -> into.putObject("logsFrom").put("main", first.position()));
            }
        } catch (Trouble e) {
            into.withObject("/processes").put("server", false);
        }
    }

    private String client() {
        return dumps ? "mariadb-dump" : "mariadb-backup";
    }

    @Override
    public List<Part> parts() throws Trouble, InterruptedException {
        // Tables are not for this account to see; their files are.
        return rows(
                        "select s.schema_name, coalesce((select sum(t.file_size) from information_schema.innodb_sys_tablespaces t"
                                + " where t.name like concat(replace(replace(s.schema_name, '_', '\\\\_'), '%', '\\\\%'), '/%')), 0)"
                                + " from information_schema.schemata s"
                                + " where s.schema_name not in ('information_schema', 'performance_schema', 'sys', 'mysql')"
                                + " order by 1")
                .stream()
                .map(r -> new Part(r.get(0), "schema", Double.parseDouble(r.get(1))))
                .toList();
    }

    @Override
    public String take(Kind kind, Optional<Path> parent, Path into, Course course)
            throws Trouble, InterruptedException {
        if (dumps) {
            return dump(into, course);
        }
        String data = rows("select @@datadir").get(0).get(0);
        List<String> command = command("mariadb-backup", "--backup", "--datadir=" + data, "--target-dir=" + into);
        parent.ifPresent(p -> command.add("--incremental-basedir=" + p));
        course.most().ifPresent(most -> command.add("--throttle=" + Math.max(1, (long) (most / CHUNK))));
        return Program.run(command, s -> {});
    }

    /** Of every schema as of one moment, with where that is in the logs. */
    private String dump(Path into, Course course) throws Trouble, InterruptedException {
        List<String> schemas = parts().stream().map(Part::name).toList();
        if (schemas.isEmpty()) {
            throw new Trouble("the server has no schema that could be dumped");
        }
        List<String> command = command(
                "mariadb-dump",
                "--single-transaction",
                "--master-data=2",
                "--routines",
                "--events",
                "--triggers",
                "--result-file=" + into,
                "--databases");
        command.addAll(schemas);
        String said = Program.run(command, s -> {});
        try {
            course.written(Files.size(into));
        } catch (IOException e) {
            throw new Trouble("the dump cannot be read: " + Trouble.said(e), said);
        }
        String limit = course.most().isPresent() ? "; mariadb-dump cannot be held back to a limit" : "";
        return (said.isBlank() ? "" : said + "\n") + "dumped " + String.join(", ", schemas) + limit;
    }

    /** It does not say which files it read: where it runs on this host, those its packages have it read are copied. */
    @Override
    public String configuration(Path into) throws Trouble, IOException, InterruptedException {
        Configuration out = new Configuration(into);
        String host = rows("select @@hostname").get(0).get(0);
        if (host.equals(InetAddress.getLocalHost().getHostName())) {
            for (Path place : FILES) {
                if (Files.isReadable(place)) {
                    try (Stream<Path> all = Files.walk(place)) {
                        for (Path file :
                                (Iterable<Path>) all.filter(f -> f.toString().endsWith(".cnf"))
                                        .filter(Files::isRegularFile)
                                        .sorted()::iterator) {
                            out.file(file);
                        }
                    }
                }
            }
        }
        return out.settings(rows("show global variables").stream()
                .map(r -> r.get(0) + " = " + r.get(1))
                .toList());
    }

    @Override
    public String fileName(String database, Kind kind, String stamp) {
        return dumps ? "dump-" + stamp + ".sql" : (kind == Kind.FULL ? "base-" : kind.word() + "-") + stamp;
    }

    @Override
    public boolean liesAsItIs(Path within) {
        return MariadbFiles.tellsOfItself(within);
    }

    /** A backup says where it stands in the logs, and no more: whose it is, they say. */
    @Override
    public boolean isReadByItsLogs() {
        return true;
    }

    @Override
    public Standing standing() throws Trouble, InterruptedException {
        // What is under way is asked for first: what was not then, and is not in the position, was committed later.
        List<List<String>> is = rows(
                "select date_format(utc_timestamp(3), '%Y-%m-%dT%H:%i:%s.%f'),"
                        + " exists(select 1 from information_schema.innodb_trx where trx_rows_modified > 0)",
                "select @@gtid_binlog_pos, @@server_id");
        String at = is.get(0).get(0);
        boolean underWay = is.get(0).get(1).equals("1");
        return new Standing(
                String.join(" ", is.get(1)) + (underWay ? " " + at : ""),
                Instant.parse(at + "Z").minus(LATE).truncatedTo(ChronoUnit.MILLIS),
                false);
    }

    /** A binary log as the server lists it. */
    private record ServerLog(String name, long bytes) {}

    private List<ServerLog> logs(String... first) throws Trouble, InterruptedException {
        List<String> questions = new ArrayList<>(List.of(first));
        questions.add("show binary logs");
        return rows(questions.toArray(String[]::new)).stream()
                .map(log -> new ServerLog(log.get(0), Long.parseLong(log.get(1))))
                .toList();
    }

    @Override
    public List<String> endedLogs() throws Trouble, InterruptedException {
        List<ServerLog> there = logs();
        return there.subList(0, Math.max(0, there.size() - 1)).stream()
                .map(ServerLog::name)
                .toList();
    }

    /** It deletes those before one; those a replica still reads it keeps. */
    @Override
    public void deleteLogs(String last) throws Trouble, InterruptedException {
        List<String> there = logs().stream().map(ServerLog::name).toList();
        int at = there.indexOf(last);
        if (at < 0 || at == there.size() - 1) {
            throw new Trouble(last + " is none of the logs the server has ended");
        }
        rows("purge binary logs to '" + there.get(at + 1) + "'");
    }

    @Override
    public Optional<String> endLog(Archive into) throws Trouble, InterruptedException {
        Path archive = into.directory();
        List<ServerLog> there = logs("flush binary logs");
        // The last is being written.
        List<ServerLog> closed = there.subList(0, Math.max(0, there.size() - 1));
        try {
            Optional<String> lost = lost(closed, archive);
            List<ServerLog> missing = new ArrayList<>();
            for (int i = 0; i < closed.size(); i++) {
                ServerLog log = closed.get(i);
                Optional<Path> had = Packed.find(archive, log.name);
                // What is packed is read through for its size: where numbers began again, the newest shows it as well.
                boolean compares = i == closed.size() - 1
                        || had.filter(archive.resolve(log.name)::equals).isPresent();
                if (had.isEmpty()) {
                    missing.add(log);
                } else if (compares && into.laying().size(had.get()) != log.bytes) {
                    throw new Trouble(
                            had.get() + " is not the " + log.name + " the server has now: its numbers began again;"
                                    + " move what is in " + archive + " to a directory beside it, and observe both");
                }
            }
            if (!missing.isEmpty()) {
                fetch(missing, into);
            }
            if (lost.isPresent()) {
                throw new LogsLost(lost.get());
            }
        } catch (IOException e) {
            throw new Trouble("logs could not be laid into " + archive + ": " + e.getMessage());
        }
        return closed.isEmpty() ? Optional.empty() : Optional.of(closed.get(closed.size() - 1).name);
    }

    /** What the server removed before it was fetched, once: what is there still is fetched, and then nothing is missing any more. */
    private static Optional<String> lost(List<ServerLog> there, Path archive) throws IOException {
        if (there.isEmpty() || !Files.exists(archive)) {
            return Optional.empty();
        }
        String oldest = there.get(0).name;
        String stem = oldest.substring(0, oldest.lastIndexOf('.') + 1);
        OptionalLong newest;
        try (Stream<Path> files = Files.list(archive)) {
            newest = files.map(f -> Packed.nameWithin(f.getFileName().toString()))
                    .filter(f ->
                            f.startsWith(stem) && f.substring(stem.length()).matches("\\d{1,18}"))
                    .mapToLong(MariadbInstance::number)
                    .max();
        }
        return newest.isPresent() && number(oldest) > newest.getAsLong() + 1
                ? Optional.of(
                        "the server removed its logs after " + newest.getAsLong() + " and before " + oldest
                                + " before they were fetched: what was committed in them is in no log, and only a new full ends the gap")
                : Optional.empty();
    }

    private static long number(String log) {
        return Long.parseLong(log.substring(log.lastIndexOf('.') + 1));
    }

    private void fetch(List<ServerLog> logs, Archive into) throws Trouble, InterruptedException, IOException {
        Files.createDirectories(into.fetching());
        List<String> command = command(
                "mariadb-binlog", "--read-from-remote-server", "--raw", "--result-file=" + into.fetching() + "/");
        logs.forEach(l -> command.add(l.name));
        Program.run(command, s -> {});
        for (ServerLog log : logs) {
            Path fetched = into.fetching().resolve(log.name);
            if (!Files.exists(fetched) || Files.size(fetched) != log.bytes) {
                throw new Trouble("of " + log.name + " not all was fetched; it is fetched again the next time");
            }
            into.lay(fetched);
        }
    }
}
