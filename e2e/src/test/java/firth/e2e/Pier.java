package firth.e2e;

import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** A host with a PostgreSQL on it, a store, and the runner that works there. */
final class Pier implements AutoCloseable {

    final Workplace work;
    final Path near;
    final RealPostgres server;
    private Optional<Process> runner = Optional.empty();

    Pier(String zone) {
        work = new Workplace(zone);
        near = work.directory("near");
        work.directory("near/harbour");
        server = RealPostgres.fresh(work, "data", work.directory("near/harbour/log"));
        server.query("create role firth_backup login replication");
        server.query("grant pg_monitor to firth_backup");
        server.query("grant execute on function pg_switch_wal() to firth_backup");
    }

    /** A command of Firth's as somebody would give it on this host. */
    static String[] command(String command, Path config, String... more) {
        List<String> out = new ArrayList<>(Programs.java(
                "-Xmx96m",
                "-XX:TieredStopAtLevel=1",
                "-jar",
                Programs.jar("cli", "all"),
                command,
                "--config",
                config.toString()));
        out.addAll(List.of(more));
        return out.toArray(String[]::new);
    }

    void start(Path config) {
        runner = Optional.of(work.begin(command("runner", config)));
    }

    /** At once, and nothing else: what it had started ends by itself, or not. */
    void kill() throws InterruptedException {
        if (runner.isPresent()) {
            runner.get().children().toList().forEach(ProcessHandle::destroyForcibly);
            runner.get().destroyForcibly().waitFor();
        }
    }

    /** What the runner said. */
    String said() {
        return runner.map(work::said).orElse("");
    }

    /** What each thread of the runner does; nothing where it is not there. */
    String threads() throws IOException {
        StringBuilder out = new StringBuilder();
        for (ProcessHandle p : runner.stream()
                .flatMap(r -> Stream.concat(Stream.of(r.toHandle()), r.descendants()))
                .filter(p -> p.info().command().orElse("").endsWith("/java"))
                .toList()) {
            Process stacks = new ProcessBuilder("jstack", Long.toString(p.pid()))
                    .redirectErrorStream(true)
                    .start();
            out.append(new String(stacks.getInputStream().readAllBytes(), StandardCharsets.UTF_8));
        }
        return out.toString();
    }

    /** Has the server archive with the script the runner lays, once that is there. */
    void archive(Path state) throws InterruptedException {
        Path script = state.resolve("archive-log");
        for (int tries = 0; !Files.isExecutable(script); tries++) {
            if (tries == 600) {
                throw new AssertionError("the runner laid no script: " + said());
            }
            Thread.sleep(100);
        }
        server.set("archive_command = '" + script + " \"%p\" \"" + near.resolve("harbour/log") + "/%f\"'");
        server.reload();
    }

    /** Writes a file the programs of this host may read. */
    Path file(String name, String content) throws IOException {
        Path file = work.path(name);
        Files.writeString(file, content);
        work.handOver(file);
        return file;
    }

    @Override
    public void close() {
        try {
            kill();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        server.close();
        work.close();
    }
}
