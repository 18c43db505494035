package firth.e2e;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** The real server, started as a process over demo data of its own. */
final class Firth implements AutoCloseable {

    private final List<String> command;
    private final Path directory;
    private final int port;
    private Process process;
    private Optional<Process> runner = Optional.empty();

    private Firth(List<String> command, int port, Path directory) throws IOException {
        this.command = command;
        this.directory = directory;
        this.port = port;
        this.process = Programs.start(command, directory);
    }

    /** Starts a server; with the demo fleet, or with nothing. */
    static Firth start(boolean demo) throws IOException, InterruptedException {
        return start(demo, 0, false);
    }

    /** Starts a server with the demo fleet, a file for each copy in its near stores, and their agents. */
    static Firth startWithAgents() throws IOException, InterruptedException {
        return start(true, 0, true);
    }

    /** Starts a server with the demo fleet, kept going by the stand-in runner so many times faster than usual. */
    static Firth startLive(int speed) throws IOException, InterruptedException {
        return start(true, speed, false);
    }

    /** Starts a server with the small real fleet, as {@code ./firth live} does. */
    static Firth startLiveFleet() throws IOException, InterruptedException {
        Path directory = Files.createTempDirectory("firth-e2e");
        Path faults = directory.resolve("live");
        Firth firth = serve(directory, "-Dfirth.live=" + faults);
        firth.runner = Optional.of(Programs.start(
                Programs.java(
                        "-cp",
                        Programs.jar("demo", "all"),
                        "firth.demo.live.Live",
                        firth.address(""),
                        Programs.jar("cli", "all"),
                        faults.toString(),
                        String.valueOf(firth.process.pid())),
                directory));
        return firth;
    }

    /** Starts a server as it is installed: nobody may sign in yet, and nothing is known. */
    static Firth startInstalled() throws IOException, InterruptedException {
        Path directory = Files.createTempDirectory("firth-e2e");
        Firth firth = open(directory);
        firth.awaitAnswer("/api/session", "awaitsFirst");
        return firth;
    }

    /** The one-time code the server printed for its first administrator. */
    String code() throws IOException {
        Matcher said = Pattern.compile("one-time code (\\S+)").matcher(Files.readString(directory.resolve("log.txt")));
        if (!said.find()) {
            throw new IllegalStateException("no code was printed");
        }
        return said.group(1);
    }

    private static Firth serve(Path directory, String... settings) throws IOException, InterruptedException {
        List<String> demo = new ArrayList<>(List.of(settings));
        demo.add("-Dfirth.demo=true");
        Firth firth = open(directory, demo.toArray(String[]::new));
        firth.awaitAnswer("");
        return firth;
    }

    private static Firth open(Path directory, String... settings) throws IOException {
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        List<String> command = new ArrayList<>(List.of(settings));
        command.addAll(List.of(
                "-Dquarkus.http.port=" + port,
                "-Dfirth.data=" + directory.resolve("firth.db"),
                "-jar",
                Programs.jar("server", "runner")));
        return new Firth(Programs.java(command), port, directory);
    }

    /** kill -9, and another over the same file at the same address. */
    void killAndStartAgain() throws IOException, InterruptedException {
        process.destroyForcibly().waitFor();
        process = Programs.start(command, directory);
        awaitAnswer("");
    }

    private static Firth start(boolean demo, int speed, boolean agents) throws IOException, InterruptedException {
        Path directory = Files.createTempDirectory("firth-e2e");
        if (demo) {
            String facts = directory.resolve("firth.db").toString();
            run(Programs.java("-jar", Programs.jar("demo", "all"), facts), directory);
        }
        Firth firth = serve(directory);
        if (demo) {
            List<String> standIns = new ArrayList<>(List.of("-Dfirth.agents=" + (agents ? "on" : "off")));
            standIns.addAll(MoodyStores.java());
            standIns.addAll(List.of(
                    firth.address("/"),
                    directory.resolve("harbour").toString(),
                    String.valueOf(firth.process.pid()),
                    String.valueOf(speed)));
            firth.runner = Optional.of(Programs.start(Programs.java(standIns), directory));
            firth.awaitAnswer("runner on southquay-2");
        }
        return firth;
    }

    private static void run(List<String> command, Path directory) throws IOException, InterruptedException {
        if (Programs.start(command, directory).waitFor() != 0) {
            throw new IllegalStateException(Files.readString(directory.resolve("log.txt")));
        }
    }

    /** Waits until it answers, with a source of that name among those it knows. */
    private void awaitAnswer(String source) throws InterruptedException {
        awaitAnswer("/api/sources", source);
    }

    private void awaitAnswer(String path, String holding) throws InterruptedException {
        Instant deadline = Instant.now().plus(Duration.ofMinutes(3));
        HttpClient client = HttpClient.newHttpClient();
        HttpRequest request = HttpRequest.newBuilder(URI.create(address(path))).build();
        while (Instant.now().isBefore(deadline) && process.isAlive()) {
            try {
                HttpResponse<String> answer = client.send(request, HttpResponse.BodyHandlers.ofString());
                if (answer.statusCode() == 200 && answer.body().contains(holding)) {
                    return;
                }
            } catch (IOException notYet) {
                // It is not listening yet.
            }
            Thread.sleep(100);
        }
        throw new IllegalStateException("the server did not start");
    }

    /** Where its facts and the machines of its fleet lie. */
    Path directory() {
        return directory;
    }

    /** What happens once a second. */
    interface EachSecond {
        void second(int n) throws Exception;
    }

    /** How much of the processor the server takes over a while. */
    Duration cpuOver(Duration over, EachSecond doing) throws Exception {
        Duration before = process.info().totalCpuDuration().orElseThrow();
        Instant end = Instant.now().plus(over);
        for (int n = 0; Instant.now().isBefore(end); n++) {
            doing.second(n);
            Thread.sleep(1_000);
        }
        return process.info().totalCpuDuration().orElseThrow().minus(before);
    }

    String address(String path) {
        return "http://127.0.0.1:" + port + path;
    }

    @Override
    public void close() {
        process.destroy();
        process.onExit().join();
        runner.ifPresent(r -> r.onExit().join());
        try (Stream<Path> all = Files.walk(directory)) {
            all.sorted(Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
