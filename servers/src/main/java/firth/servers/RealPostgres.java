package firth.servers;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.stream.Stream;

/** A PostgreSQL server in a workplace, on a loopback port, with segments of one megabyte. */
public final class RealPostgres implements AutoCloseable {

    private static final String USER = "firth";

    private final Workplace work;
    private final Path data;
    private final int port;

    private RealPostgres(Workplace work, Path data) {
        this.work = work;
        this.data = data;
        this.port = Workplace.freePort();
    }

    /** The programs of the newest major that is installed. */
    public static String program(String name) {
        try (Stream<Path> majors = Files.list(Path.of("/usr/lib/postgresql"))) {
            return majors.map(m -> m.resolve("bin").resolve(name))
                    .filter(Files::isExecutable)
                    .max(Path::compareTo)
                    .orElseThrow()
                    .toString();
        } catch (IOException e) {
            throw new UncheckedIOException("PostgreSQL is not installed; ./firth test installs it", e);
        }
    }

    /** How a program finds it as one of its users. */
    public String connection(String user) {
        return "host=127.0.0.1 port=" + port + " dbname=postgres user=" + user;
    }

    /** A new one that archives its log into a directory. */
    public static RealPostgres fresh(Workplace work, String name, Path archive) {
        Path data = work.path(name);
        work.run(program("initdb"), "-D", data.toString(), "--wal-segsize=1", "-A", "trust", "-U", USER, "--no-sync");
        RealPostgres server = new RealPostgres(work, data);
        server.set("fsync = off");
        server.set("listen_addresses = '127.0.0.1'");
        server.set("unix_socket_directories = ''");
        server.set("track_commit_timestamp = on");
        server.set("max_prepared_transactions = 5");
        server.set("checkpoint_timeout = 30s");
        server.archivesTo(archive);
        server.start();
        return server;
    }

    /** One over files that were restored; it is started by the caller. */
    public static RealPostgres over(Workplace work, Path data) {
        return new RealPostgres(work, data);
    }

    public void archivesTo(Path archive) {
        set("archive_mode = on");
        set("archive_command = 'test ! -f \"" + archive + "/%f\" && cp \"%p\" \"" + archive + "/%f\"'");
    }

    /** Adds a line to its settings; one given later counts. */
    public void set(String line) {
        try {
            Files.writeString(data.resolve("postgresql.auto.conf"), line + "\n", StandardOpenOption.APPEND);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Starts it and waits until it takes changes. */
    public void start() {
        try {
            work.run(
                    program("pg_ctl"),
                    "-D",
                    data.toString(),
                    "-l",
                    data + ".log",
                    "-w",
                    "-t",
                    "60",
                    "-o",
                    "-p " + port,
                    "start");
        } catch (Workplace.Failed e) {
            throw new IllegalStateException(log(), e);
        }
        long until = System.nanoTime() + 60_000_000_000L;
        while (true) {
            try {
                if (query("select pg_is_in_recovery()").equals("f")) {
                    return;
                }
            } catch (Workplace.Failed e) {
                if (!running()) {
                    throw new IllegalStateException(log(), e);
                }
            }
            if (System.nanoTime() > until) {
                throw new IllegalStateException("it did not open: " + log());
            }
        }
    }

    /** Has it read its settings again. */
    public void reload() {
        query("select pg_reload_conf()");
    }

    private boolean running() {
        try {
            work.run(program("pg_ctl"), "-D", data.toString(), "status");
            return true;
        } catch (Workplace.Failed e) {
            return false;
        }
    }

    public String log() {
        try {
            return Files.readString(Path.of(data + ".log"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What a statement gives, a row a line, columns with a bar between. */
    public String query(String sql) {
        return work.run(
                        program("psql"),
                        "-qAtX",
                        "-v",
                        "ON_ERROR_STOP=1",
                        "-h",
                        "127.0.0.1",
                        "-p",
                        Integer.toString(port),
                        "-U",
                        USER,
                        "-d",
                        "postgres",
                        "-c",
                        sql)
                .strip();
    }

    /** Statements one by one, each a transaction of its own. */
    public void script(String name, String sql) {
        Path file = work.path(name + ".sql");
        try {
            Files.writeString(file, sql);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        work.handOver(file);
        work.run(
                program("psql"),
                "-qAtX",
                "-v",
                "ON_ERROR_STOP=1",
                "-h",
                "127.0.0.1",
                "-p",
                Integer.toString(port),
                "-U",
                USER,
                "-d",
                "postgres",
                "-f",
                file.toString());
    }

    /** Takes a base backup into a directory. */
    public void backUp(Path into, String... options) {
        String[] command = Stream.concat(
                        Stream.of(
                                program("pg_basebackup"),
                                "-h",
                                "127.0.0.1",
                                "-p",
                                Integer.toString(port),
                                "-U",
                                USER,
                                "-c",
                                "fast",
                                "--no-sync",
                                "-D",
                                into.toString()),
                        Stream.of(options))
                .toArray(String[]::new);
        work.run(command);
    }

    /** Ends the segment being written, and waits until all before it are archived. */
    public void switchLog() {
        String last = query("select pg_walfile_name(pg_switch_wal())");
        long until = System.nanoTime() + 60_000_000_000L;
        while (query("select coalesce(last_archived_wal, '') >= '" + last + "' from pg_stat_archiver")
                .equals("f")) {
            if (System.nanoTime() > until) {
                throw new IllegalStateException(last + " was not archived: " + log());
            }
        }
    }

    public void stop() {
        work.run(program("pg_ctl"), "-D", data.toString(), "-m", "fast", "-w", "stop");
    }

    /** kill -9 of all of its processes. */
    public void kill() {
        long pid;
        try {
            pid = Long.parseLong(
                    Files.readAllLines(data.resolve("postmaster.pid")).get(0).strip());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        ProcessHandle.of(pid).ifPresent(server -> {
            Stream.concat(Stream.of(server), server.descendants()).toList().forEach(p -> {
                p.destroyForcibly();
                p.onExit().join();
            });
        });
    }

    @Override
    public void close() {
        if (running()) {
            work.run(program("pg_ctl"), "-D", data.toString(), "-m", "immediate", "-w", "stop");
        }
    }
}
