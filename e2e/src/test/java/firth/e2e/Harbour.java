package firth.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.File;
import java.io.IOException;
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
import java.util.stream.Stream;

/** One small store with its agent and a server beside it, each a process that may be killed at any moment. */
final class Harbour implements AutoCloseable {

    static final String STORE = "near";

    private static final ObjectMapper JSON = new ObjectMapper();

    private final Path directory;
    private final List<String> settings;
    private final int port;
    private final HttpClient client =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
    private Process server;
    private Process agent;

    /** @param settings system properties for the server, as in {@code -Da=b} */
    Harbour(String... settings) throws IOException {
        directory = Files.createTempDirectory("firth-harbour");
        this.settings = List.of(settings);
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
    }

    /** Where the store's files and its agent's papers lie. */
    Path store() {
        return directory.resolve("stores").resolve(STORE);
    }

    /** Firth's own file. */
    Path data() {
        return directory.resolve("firth.db");
    }

    /** Where a path of a copy lies. */
    Path file(String path) {
        return store().resolve("files").resolve(path.substring(1));
    }

    /** @param largestFile in blocks of 1024 bytes, beyond which the system writes no file; 0: as large as there is room */
    void startServer(int largestFile) throws IOException, InterruptedException {
        List<String> command = serving(port);
        if (largestFile > 0) {
            command = List.of("bash", "-c", "ulimit -f " + largestFile + "; exec " + String.join(" ", command));
        }
        server = Programs.start(command, directory);
        Instant deadline = Instant.now().plus(Duration.ofSeconds(90));
        while (Instant.now().isBefore(deadline)) {
            try {
                get("/api/session");
                return;
            } catch (IOException notYet) {
                Thread.sleep(50);
            }
        }
        throw new IllegalStateException("the server did not start:\n" + Files.readString(directory.resolve("log.txt")));
    }

    /** What serves the file at a port. */
    List<String> serving(int at) {
        List<String> arguments = new ArrayList<>(settings);
        arguments.addAll(List.of(
                "-XX:TieredStopAtLevel=1",
                "-Xmx300m",
                "-Dquarkus.http.port=" + at,
                "-Dfirth.demo=true",
                "-Dfirth.data=" + data(),
                "-jar",
                Programs.jar("server", "runner")));
        return Programs.java(arguments);
    }

    String address(String path) {
        return "http://127.0.0.1:" + port + path;
    }

    /** Takes the mail the server sends at a port, and lays it in a directory's {@code mail}. */
    void startMail(int at, Path tree) throws IOException {
        Programs.start(
                Programs.java(
                        "-XX:TieredStopAtLevel=1",
                        "-Xmx64m",
                        "-cp",
                        Programs.jar("demo", "all"),
                        "firth.demo.StandInMail",
                        String.valueOf(at),
                        tree.toString(),
                        String.valueOf(server.pid())),
                directory);
    }

    void startAgent() throws IOException {
        List<String> arguments = new ArrayList<>(List.of("-Xmx64m"));
        arguments.addAll(MoodyStores.java());
        arguments.addAll(List.of("http://127.0.0.1:" + port, store().toString()));
        agent = Programs.start(Programs.java(arguments), directory);
    }

    /** kill -9, and no waiting for anything. */
    void killServer() {
        server.destroyForcibly().onExit().join();
    }

    void killAgent() {
        agent.destroyForcibly().onExit().join();
    }

    boolean agentLives() {
        return agent != null && agent.isAlive();
    }

    JsonNode get(String path) throws IOException, InterruptedException {
        HttpResponse<String> answer = client.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() != 200) {
            throw new IOException(path + ": " + answer.statusCode() + " " + answer.body());
        }
        return JSON.readTree(answer.body());
    }

    String text(String path) throws IOException, InterruptedException {
        return client.send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .body();
    }

    HttpResponse<String> post(String path, String type, String body) throws IOException, InterruptedException {
        return client.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                        .header("content-type", type)
                        .POST(HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    void put(String path, String body) throws IOException, InterruptedException {
        HttpResponse<String> answer = client.send(
                HttpRequest.newBuilder(URI.create(address(path)))
                        .header("content-type", "application/json")
                        .PUT(HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() / 100 != 2) {
            throw new IOException(path + ": " + answer.statusCode() + " " + answer.body());
        }
    }

    JsonNode posted(String path, String body) throws IOException, InterruptedException {
        HttpResponse<String> answer = post(path, "application/json", body);
        if (answer.statusCode() / 100 != 2) {
            throw new IOException(path + ": " + answer.statusCode() + " " + answer.body());
        }
        return answer.body().isEmpty() ? JSON.createObjectNode() : JSON.readTree(answer.body());
    }

    @Override
    public void close() throws IOException {
        if (server != null) {
            killServer();
        }
        if (agent != null) {
            killAgent();
        }
        try (Stream<Path> all = Files.walk(directory)) {
            all.sorted(Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
        }
    }
}
