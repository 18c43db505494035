package firth.demo.live;

import firth.demo.Token;
import firth.servers.Workplace;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;

/** Firth's own programs beside the pier, started as anybody would start them: runner, agents, drill host. */
final class Hands {

    private static final String NEAR = "near";
    private static final String FAR = "far";

    private final Workplace work;
    private final URI firth;
    private final Path jar;
    private final Map<String, Process> running = new TreeMap<>();

    /** @param jar the program for the command line, which is copied to where those without rights can read it */
    Hands(Workplace work, URI firth, Path jar) throws IOException {
        this.work = work;
        this.firth = firth;
        this.jar = work.path("firth.jar");
        Files.copy(jar, this.jar, StandardCopyOption.REPLACE_EXISTING);
        for (String directory : List.of(NEAR, FAR, "state", "dock", "drills")) {
            work.directory(directory);
        }
    }

    /** A store's directory. */
    Path store(String id) {
        return work.path(id);
    }

    /** What the runner lays for servers to archive their logs with. */
    Path script() {
        return work.path("state").resolve("archive-log");
    }

    private Path token(String name, String place, String... roles) throws IOException, InterruptedException {
        Path file = work.path(name + ".token");
        Token.of(firth, file, name + " of the live fleet", place, roles).secret();
        work.handOver(file);
        return file;
    }

    private Path written(String name, List<String> lines) throws IOException {
        Path file = Files.write(work.path(name), lines);
        work.handOver(file);
        return file;
    }

    private List<String> common(String host, Path token, String state) {
        return List.of(
                "host = '" + host + "'",
                "firth = '" + firth + "'",
                "token-file = '" + token + "'",
                "state = '" + work.path(state) + "'",
                "every = 'PT2S'",
                "[stores]",
                "near = '" + store(NEAR) + "'",
                "far = '" + store(FAR) + "'");
    }

    /** Writes what the programs are to know. */
    void instruct(Pier pier) throws IOException, InterruptedException {
        List<String> runner = new ArrayList<>(common("pier", token("runner", "pier", "runner"), "state"));
        runner.addAll(List.of(
                "[databases." + Pier.HARBOUR + "]",
                "engine = 'postgresql'",
                "connection = '" + pier.harbourConnection() + "'",
                "[databases." + Pier.BERTHS + "]",
                "engine = 'mariadb'",
                "option-file = '" + pier.berthsOptions() + "'",
                "[databases." + Pier.SHEDS + "]",
                "engine = 'sqlite'",
                "log = true",
                "file = '" + pier.shedsFile() + "'"));
        written("runner.toml", runner);
        List<String> dock = new ArrayList<>(common("dock", token("drills", "dock", "viewer", "driller"), "dock"));
        dock.addAll(List.of(
                "[drills]",
                "directory = '" + work.path("drills") + "'",
                "superuser = 'firth'",
                "[drills.queries]",
                Pier.HARBOUR + " = [{ask = 'select count(*) from sailings'}]",
                Pier.BERTHS + " = [{in = 'quay', ask = 'select count(*) from moorings'}]",
                Pier.SHEDS + " = [{ask = 'select count(*) from shed'}]"));
        written("dock.toml", dock);
        token(NEAR, NEAR, "agent");
        token(FAR, FAR, "agent");
    }

    private List<String> firth(String... arguments) {
        List<String> out = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xms16m",
                "-Xmx96m",
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-jar",
                jar.toString()));
        out.addAll(List.of(arguments));
        return out;
    }

    private synchronized void start(String name, List<String> command) {
        running.put(name, work.begin(command.toArray(String[]::new)));
    }

    void startRunner() {
        start("runner", firth("runner", "--config", work.path("runner.toml").toString()));
    }

    void startAgents() {
        for (String store : List.of(NEAR, FAR)) {
            start(
                    store,
                    firth(
                            "agent",
                            "--store",
                            store,
                            "--root",
                            store(store).toString(),
                            "--to",
                            firth.toString(),
                            "--token-file",
                            work.path(store + ".token").toString(),
                            "--state",
                            work.path("agent-" + store).toString(),
                            "--every",
                            "PT2S"));
        }
    }

    /** Ends the runner at once, with what it had started. */
    synchronized void killRunner() throws InterruptedException {
        Process runner = running.remove("runner");
        if (runner != null) {
            runner.descendants().toList().forEach(ProcessHandle::destroyForcibly);
            runner.destroyForcibly();
            runner.waitFor();
        }
    }

    /** Does the drills that are due, where none is under way. */
    synchronized void drill() {
        Process last = running.get("drills");
        if (last == null || !last.isAlive()) {
            start(
                    "drills",
                    firth("drill", "--config", work.path("dock.toml").toString(), "--all", "--within", "PT10M"));
        }
    }

    /** Whether all that was started is still there, and what those that are not said last. */
    synchronized List<String> ended() {
        return running.entrySet().stream()
                .filter(e -> !e.getKey().equals("drills") && !e.getValue().isAlive())
                .map(e -> e.getKey() + " ended: " + work.said(e.getValue()).strip())
                .toList();
    }

    /** Ends all of them. */
    synchronized void end() {
        running.values().stream()
                .flatMap(p -> Stream.concat(p.descendants(), Stream.of(p.toHandle())))
                .toList()
                .forEach(ProcessHandle::destroyForcibly);
    }
}
