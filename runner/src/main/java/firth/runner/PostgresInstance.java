package firth.runner;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.model.Kind;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A PostgreSQL server, through psql, pg_basebackup and pg_verifybackup. */
final class PostgresInstance implements Instance {

    /** A commit is dated a little before it stands in the log. */
    static final Duration LATE = Duration.ofSeconds(1);

    /** So long a segment may take to its archive. */
    private static final Duration PATIENCE = Duration.ofMinutes(5);

    private static final String TABLESPACE = "tablespace";
    private static final Duration LOOKS = Duration.ofMillis(200);

    private static final long KILO = 1024;
    private static final int LEVEL = 3;
    private static final double SLOWEST = 32;
    private static final double FASTEST = 1024 * 1024;
    private static final Pattern PROGRESS = Pattern.compile("(\\d+)/\\d+ kB");
    private static final List<String> NEEDED = List.of("replication", "pg_monitor", "execute pg_switch_wal");

    private final Psql psql;
    private final Optional<PostgresSlot> slot;
    private @org.jspecify.annotations.Nullable Filling before;

    /** How far its log had come at a moment. */
    private record Filling(Instant at, long position) {}

    /** @param connection a connection string, without a password: that stays in the engine's own files */
    PostgresInstance(String connection, Optional<Path> programs) {
        this(connection, programs, Optional.empty());
    }

    /** @param slot under which its log is received as it is written; empty where it is not */
    PostgresInstance(String connection, Optional<Path> programs, Optional<String> slot) {
        this.psql = new Psql(connection, programs);
        this.slot = slot.map(name -> new PostgresSlot(psql, name));
    }

    /** Under which its log is received as it is written; empty where it is not. */
    Optional<PostgresSlot> slot() {
        return slot;
    }

    @Override
    public Set<Kind> kinds() {
        return Set.of(Kind.FULL, Kind.INCR, Kind.LOG, Kind.CONFIG);
    }

    @Override
    public Optional<Server> server() throws InterruptedException {
        try {
            List<String> is =
                    psql.row("select system_identifier, current_setting('server_version'), current_setting('port'),"
                            + " current_setting('unix_socket_directories'), timeline_id"
                            + " from pg_control_system(), pg_control_checkpoint()");
            Set<Path> sockets = new HashSet<>();
            for (String directory : is.get(3).split(", *")) {
                if (directory.startsWith("/")) {
                    sockets.add(Path.of(directory, ".s.PGSQL." + is.get(2)));
                }
            }
            return Optional.of(new Server(
                    "PostgreSQL " + version(is.get(1)), Optional.of(is.get(0)), Optional.of(is.get(4)), sockets));
        } catch (Trouble silent) {
            return Optional.empty();
        }
    }

    @Override
    public void probe(ObjectNode into, boolean deletes) throws InterruptedException {
        try {
            into.put("client", version(Program.run(List.of(psql.program("pg_basebackup"), "--version"), s -> {})));
        } catch (Trouble e) {
            into.putObject("processes").put("pg_basebackup", false);
        }
        try {
            List<String> is = psql.row(
                    "select current_setting('server_version'), m.setting <> 'off', m.pending_restart,"
                            + " current_setting('wal_level') <> 'minimal', r.rolreplication, r.rolsuper,"
                            + " pg_has_role(current_user, 'pg_monitor', 'member'),"
                            + " has_function_privilege('pg_switch_wal()', 'execute')"
                            + " from pg_settings m, pg_roles r where m.name = 'archive_mode' and r.rolname = current_user");
            into.put("server", version(is.get(0)));
            boolean kept = (Psql.holds(is, 1) || slot.isPresent()) && Psql.holds(is, 3);
            into.put("logs", Psql.holds(is, 2) ? "waiting-for-restart" : kept ? "on" : "off");
            ObjectNode rights = into.putObject("rights");
            ArrayNode held = rights.putArray("held");
            if (Psql.holds(is, 5)) {
                held.add("superuser");
            }
            for (int i = 0; i < NEEDED.size(); i++) {
                if (Psql.holds(is, i == 0 ? 4 : 5 + i)) {
                    held.add(NEEDED.get(i));
                }
            }
            NEEDED.forEach(rights.putArray("needed")::add);
            ObjectNode processes = into.withObject("/processes");
            processes.put("server", true);
            if (Psql.holds(is, 1)) {
                processes.put(
                        "archiver",
                        !psql.row("select 1 from pg_stat_activity where backend_type = 'archiver'")
                                .get(0)
                                .isEmpty());
            }
            if (slot.isPresent()) {
                processes.put("log receiver", slot.get().isActive());
            }
            logDisk(into);
            logsFrom(into);
        } catch (Trouble e) {
            into.withObject("/processes").put("server", false);
        }
    }

    /** The first number with dots in what a program says of itself. */
    static String version(String said) {
        Matcher number = Pattern.compile("\\d+(\\.\\d+)*").matcher(said);
        return number.find() ? number.group() : said;
    }

    /** The first of its segments: those it has for later are called by later names. */
    private void logsFrom(ObjectNode into) throws Trouble, InterruptedException {
        List<String> is = psql.row("select has_function_privilege('pg_ls_waldir()', 'execute'),"
                + " pg_size_bytes(current_setting('wal_segment_size'))");
        if (Psql.holds(is, 0)) {
            String first = psql.row("select coalesce(min(substr(name, 9)), '') from pg_ls_waldir()"
                            + " where name ~ '^[0-9A-F]{24}$'")
                    .get(0);
            if (!first.isEmpty()) {
                long position = (Long.parseLong(first.substring(0, 8), 16) << 32)
                        + Long.parseLong(first.substring(8), 16) * Long.parseLong(is.get(1));
                into.putObject("logsFrom").put("main", position);
            }
        }
    }

    private void logDisk(ObjectNode into) throws Trouble, InterruptedException {
        List<String> is = psql.row("select current_setting('data_directory'), pg_current_wal_lsn() - '0/0'::pg_lsn");
        Filling now = new Filling(Instant.now(), Long.parseLong(is.get(1)));
        try {
            ObjectNode disk = into.putObject("logDisk")
                    .put("freeBytes", Files.getFileStore(Path.of(is.get(0))).getUsableSpace());
            if (before != null && now.position > before.position) {
                disk.put(
                        "fillBytesPerSecond",
                        1000.0
                                * (now.position - before.position)
                                / Math.max(
                                        1, Duration.between(before.at, now.at).toMillis()));
            }
        } catch (IOException notHere) {
            // The server is on another machine, or its directory is not for us to see.
            into.remove("logDisk");
        }
        before = now;
    }

    @Override
    public List<Part> parts() throws Trouble, InterruptedException {
        List<Part> out = new ArrayList<>();
        for (String line : psql.lines("select 'database', pg_database_size(oid), datname from pg_database"
                + " where datallowconn and not datistemplate"
                + " union all select '" + TABLESPACE + "', pg_tablespace_size(oid), spcname from pg_tablespace"
                + " where spcname not in ('pg_default', 'pg_global') order by 1, 3")) {
            String[] cells = line.split("\\|", 3);
            out.add(new Part(cells[2], cells[0], Double.parseDouble(cells[1])));
        }
        return out;
    }

    @Override
    public String take(Kind kind, Optional<Path> parent, Path into, Course course)
            throws Trouble, InterruptedException {
        if (parent.isEmpty()) {
            return take(into, course, List.of());
        }
        List<String> is = psql.row("select current_setting('server_version_num')::int >= 170000,"
                + " coalesce(current_setting('summarize_wal', true), 'off'), current_setting('server_version')");
        if (!Psql.holds(is, 0) || !is.get(1).equals("on")) {
            throw new Trouble("the server takes incrementals from PostgreSQL 17 on, with summarize_wal = on; it is "
                    + version(is.get(2)) + ", and summarize_wal is " + is.get(1));
        }
        Path manifest = into.resolveSibling(into.getFileName() + ".parent");
        try {
            Path its = Packed.find(parent.get(), "backup_manifest")
                    .orElseThrow(() ->
                            new Trouble(parent.get() + " has no backup_manifest, which an incremental hangs from"));
            try (InputStream in = Packed.open(its, course.laying().keys())) {
                Files.copy(in, manifest, StandardCopyOption.REPLACE_EXISTING);
            }
            return take(into, course, List.of("--incremental=" + manifest));
        } catch (IOException e) {
            throw new Trouble("the manifest of " + parent.get() + " cannot be read: " + Trouble.said(e));
        } finally {
            discard(manifest);
        }
    }

    private static void discard(Path file) throws Trouble {
        try {
            Files.deleteIfExists(file);
        } catch (IOException e) {
            throw new Trouble(file + " cannot be removed: " + Trouble.said(e));
        }
    }

    private String take(Path into, Course course, List<String> more) throws Trouble, InterruptedException {
        // As plain files those of a tablespace would go to where the server itself has them.
        boolean archives = course.laying().changes()
                || parts().stream().anyMatch(p -> p.kind().equals(TABLESPACE));
        List<String> command = new ArrayList<>(List.of(
                psql.program("pg_basebackup"),
                "-d",
                psql.connection(),
                "-w",
                "-D",
                into.toString(),
                archives ? "-Ft" : "-Fp",
                "-X",
                "stream",
                "-c",
                "fast",
                "-l",
                "firth",
                "--manifest-checksums=SHA256",
                "-P"));
        command.addAll(more);
        course.most().ifPresent(most -> command.add(maxRate(most)));
        if (course.laying().compressed()) {
            command.add("--compress=client-zstd:" + LEVEL);
        }
        String said = Program.run(command, line -> {
            Matcher m = PROGRESS.matcher(line);
            if (m.find()) {
                course.written(Long.parseLong(m.group(1)) * KILO);
            }
        });
        // The engine's check reads directories alone; of archives whoever reads them compares every checksum of the
        // manifest.
        return archives
                ? said
                : said + "\n" + Program.run(List.of(psql.program("pg_verifybackup"), into.toString()), s -> {});
    }

    /** What names another server may hold a password, and is left to the files. */
    @Override
    public String configuration(Path into) throws Trouble, IOException, InterruptedException {
        Configuration out = new Configuration(into);
        // Paths of a server that is reached from elsewhere are those of another host.
        for (String file : psql.lines(
                "select f from (select sourcefile from pg_settings union select setting from pg_settings"
                        + " where name in ('config_file', 'hba_file', 'ident_file')) x(f)"
                        + " where f <> '' and coalesce(host(inet_server_addr()), '::1') in ('127.0.0.1', '::1') order by 1")) {
            out.file(Path.of(file));
        }
        return out.settings(psql.lines("select name || ' = ' || setting || coalesce(' ' || unit, '') from pg_settings"
                + " where source not in ('default', 'override') and name <> 'primary_conninfo' order by 1"));
    }

    /** It takes kilobytes, no fewer than 32 and no more than a million. */
    static String maxRate(double bytesPerSecond) {
        return "--max-rate=" + (long) Math.min(FASTEST, Math.max(SLOWEST, bytesPerSecond / 1024)) + "k";
    }

    @Override
    public String fileName(String database, Kind kind, String stamp) {
        return (kind == Kind.FULL ? "base-" : kind.word() + "-") + stamp;
    }

    @Override
    public boolean compresses() {
        return true;
    }

    @Override
    public Standing standing() throws Trouble, InterruptedException {
        // What is under way is asked for before the snapshot: what was not then, and is not in the snapshot, was
        // committed later.
        List<String> is = psql.row(
                "select " + Psql.CLOCK + ", exists(select from pg_stat_activity where backend_xid is not null)"
                        + " or exists(select from pg_prepared_xacts),"
                        + " (select timeline_id from pg_control_checkpoint())",
                "select pg_current_snapshot()");
        return new Standing(
                is.get(2) + " " + is.get(3) + (Psql.holds(is, 1) ? " " + is.get(0) : ""),
                Instant.parse(is.get(0)).minus(LATE).truncatedTo(ChronoUnit.MILLIS),
                true);
    }

    @Override
    public Optional<String> endLog(Archive into) throws Trouble, InterruptedException, IOException {
        Path archive = into.directory();
        List<String> is = psql.row("select pg_walfile_name(pg_switch_wal()), failed_count from pg_stat_archiver");
        String segment = is.get(0);
        Instant until = Instant.now().plus(PATIENCE);
        while (!hasCome(archive, segment)) {
            if (slot.isPresent()) {
                if (Instant.now().isAfter(until)) {
                    throw new Trouble(segment + " was not received within " + PATIENCE.toMinutes() + " minutes: "
                            + (slot.get().isActive()
                                    ? "the program that receives it is behind"
                                    : "nothing receives it"));
                }
                Thread.sleep(LOOKS.toMillis());
                continue;
            }
            List<String> now =
                    psql.row("select failed_count, coalesce(last_failed_wal, ''), coalesce(last_archived_wal, '') >= '"
                            + segment + "', current_setting('archive_mode') from pg_stat_archiver");
            if (now.get(3).equals("off")) {
                throw new Trouble("the server archives nothing: archive_mode is off");
            }
            if (Long.parseLong(now.get(0)) > Long.parseLong(is.get(1))) {
                throw new Trouble("the archiver fails at " + now.get(1) + ": the server's log says why");
            }
            if (Psql.holds(now, 2) && !hasCome(archive, segment)) {
                throw new Trouble("the server says that it has archived " + segment + ", and it is not in " + archive
                        + ": see its archive_command");
            }
            if (Instant.now().isAfter(until)) {
                throw new Trouble(segment + " did not come to " + archive + " within " + PATIENCE.toMinutes()
                        + " minutes; the archiver says nothing of a failure");
            }
            Thread.sleep(LOOKS.toMillis());
        }
        return Optional.of(segment);
    }

    private static boolean hasCome(Path archive, String segment) throws IOException {
        for (Path each : PostgresSlot.archives(archive)) {
            if (Packed.find(each, segment).isPresent()) {
                return true;
            }
        }
        return false;
    }
}
