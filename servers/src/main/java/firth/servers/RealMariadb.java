package firth.servers;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A MariaDB server in a workplace, reached by a socket there, with binary logs. */
public final class RealMariadb implements AutoCloseable {

    private final Workplace work;
    private final Path data;
    private final Path socket;
    private final List<String> options;
    private @Nullable Process process;

    private RealMariadb(Workplace work, Path data, List<String> options) {
        this.work = work;
        this.data = data;
        this.socket = work.path(data.getFileName() + ".sock");
        this.options = options;
    }

    public static RealMariadb fresh(Workplace work, String name, String... options) {
        Path data = work.directory(name);
        List<String> install = new ArrayList<>(List.of(
                "mariadb-install-db",
                "--no-defaults",
                "--datadir=" + data,
                "--auth-root-authentication-method=normal",
                "--skip-test-db"));
        for (String option : options) {
            if (option.startsWith("--innodb-page-size")) {
                install.add(option);
            }
        }
        work.run(install.toArray(String[]::new));
        RealMariadb server = new RealMariadb(work, data, List.of(options));
        server.start();
        return server;
    }

    /** One over files that were restored; it is started by the caller. */
    public static RealMariadb over(Workplace work, Path data, String... options) {
        List<String> all = new ArrayList<>(List.of(options));
        all.add("--skip-log-bin");
        return new RealMariadb(work, data, all);
    }

    public Path data() {
        return data;
    }

    public String socketPath() {
        return socket.toString();
    }

    public void start() {
        List<String> command = new ArrayList<>(List.of(
                "mariadbd",
                "--no-defaults",
                "--datadir=" + data,
                "--socket=" + socket,
                "--skip-networking",
                "--pid-file=" + data + ".pid",
                "--log-error=" + data + ".err",
                "--innodb-buffer-pool-size=16M",
                "--innodb-log-file-size=8M",
                "--innodb-flush-log-at-trx-commit=0",
                "--default-time-zone=SYSTEM"));
        command.addAll(options);
        Process begun = work.begin(command.toArray(String[]::new));
        process = begun;
        long until = System.nanoTime() + 60_000_000_000L;
        while (true) {
            try {
                query("select 1");
                return;
            } catch (Workplace.Failed e) {
                if (!begun.isAlive() || System.nanoTime() > until) {
                    throw new IllegalStateException(log(), e);
                }
            }
        }
    }

    public String log() {
        try {
            return Files.readString(Path.of(data + ".err"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public String query(String sql) {
        return work.run("mariadb", "--no-defaults", "--socket=" + socket, "-u", "root", "-N", "-B", "-e", sql)
                .strip();
    }

    /** Statements one by one. */
    public void script(String name, String sql) {
        Path file = work.path(name + ".sql");
        try {
            Files.writeString(file, sql);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        work.run("mariadb", "--no-defaults", "--socket=" + socket, "-u", "root", "-e", "source " + file);
    }

    /** Takes a physical backup into a directory; of what changed since another where one is given. */
    public void backUp(Path into, Path... since) {
        List<String> command = new ArrayList<>(List.of(
                "mariadb-backup",
                "--no-defaults",
                "--backup",
                "--socket=" + socket,
                "--user=root",
                "--datadir=" + data,
                "--target-dir=" + into));
        for (Path p : since) {
            command.add("--incremental-basedir=" + p);
        }
        work.run(command.toArray(String[]::new));
    }

    public void stop() {
        work.run("mariadb-admin", "--no-defaults", "--socket=" + socket, "-u", "root", "shutdown");
        awaitEnd();
    }

    private void awaitEnd() {
        try {
            if (process != null) {
                process.waitFor();
            }
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Ends it as a power cut does; nothing where it does not run. */
    public void kill() {
        Path pid = Path.of(data + ".pid");
        try {
            if (Files.exists(pid)) {
                ProcessHandle.of(Long.parseLong(Files.readString(pid).strip()))
                        .ifPresent(ProcessHandle::destroyForcibly);
                awaitEnd();
                Files.deleteIfExists(pid);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void close() {
        if (process != null && process.isAlive()) {
            stop();
        }
    }
}
