package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.sun.net.httpserver.HttpServer;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Beside a stand-in for Firth. */
class RunnerTest {

    private static final String TASK =
            "{\"run\":\"%s\",\"backup\":\"b\",\"database\":\"%s\",\"kind\":\"full\",\"trigger\":\"schedule\",\"schedule\":\"s\","
                    + "\"since\":\"2026-11-30T10:00:00Z\",\"stores\":[\"near\"],\"copies\":[]}";

    @TempDir
    private Path directory;

    private final List<String> asked = new CopyOnWriteArrayList<>();
    private final List<JsonNode> told = new CopyOnWriteArrayList<>();
    private final List<String> said = new ArrayList<>();
    private volatile String work = "{\"policies\":[],\"tasks\":[]}";
    private HttpServer server;
    private Runner runner;

    @BeforeEach
    void begin() throws Exception {
        Path database = directory.resolve("sheds.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + database);
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE shed (n INTEGER PRIMARY KEY)");
        }
        listen(0);
        Files.createDirectory(directory.resolve("near"));
        runner = started(Clock.systemUTC());
    }

    /** A program started anew over what the one before kept. */
    private Runner started(Clock clock) throws IOException {
        URI at = URI.create("http://127.0.0.1:" + server.getAddress().getPort());
        Path database = directory.resolve("sheds.db");
        Settings settings = new Settings(
                "pier",
                at,
                Optional.empty(),
                directory.resolve("state"),
                Duration.ofMillis(1),
                Duration.ofHours(2),
                Map.of("near", directory.resolve("near")),
                Map.of(),
                Map.of(
                        "sheds",
                        new Settings.Reached(
                                "sqlite",
                                database.toString(),
                                Optional.empty(),
                                Optional.empty(),
                                false,
                                false,
                                Optional.empty())),
                Optional.empty());
        return new Runner(settings, new FirthLink(at, () -> ""), clock, said::add);
    }

    private void listen(int port) throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
        server.createContext("/", exchange -> {
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            String path = exchange.getRequestURI().getPath();
            byte[] answer = (path.endsWith("/work") ? work : "{}").getBytes(StandardCharsets.UTF_8);
            if (path.equals("/api/import")) {
                for (String line : body.split("\n")) {
                    told.add(Json.MAPPER.readTree(line));
                }
            } else {
                asked.add(exchange.getRequestMethod() + " " + path + " " + body);
            }
            exchange.sendResponseHeaders(200, answer.length);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        server.start();
    }

    @AfterEach
    void end() throws InterruptedException {
        runner.stop();
        server.stop(0);
    }

    private void rounds() throws InterruptedException {
        runner.work();
        Instant until = Instant.now().plusSeconds(30);
        while (runner.isBusy() && Instant.now().isBefore(until)) {
            Thread.sleep(20);
        }
        work = "{\"policies\":[],\"tasks\":[]}";
        Thread.sleep(5);
        runner.work();
    }

    private List<String> outcomes(String run) {
        return told.stream()
                .filter(t -> t.path("id").asText().equals(run))
                .map(t -> t.path("outcome").asText())
                .toList();
    }

    @Test
    void itWorksByWhatIsInForceAndStartsWhatIsDueOnce() throws Exception {
        work =
                "{\"policies\":[{\"policy\":\"p\",\"version\":4,\"acknowledged\":null},{\"policy\":\"q\",\"version\":2,\"acknowledged\":2}],"
                        + "\"tasks\":[" + TASK.formatted("r", "sheds") + "," + TASK.formatted("r", "sheds") + "]}";
        rounds();
        assertTrue(asked.contains("PUT /api/runners/pier/policies/p {\"version\":4}"), asked.toString());
        assertTrue(asked.stream().noneMatch(a -> a.contains("policies/q")), asked.toString());
        assertEquals(List.of("running", "ok"), outcomes("r"));
        assertEquals(
                1, told.stream().filter(t -> t.path("run").asText().equals("r")).count());
        assertEquals(List.of(), said);
    }

    @Test
    void whatTheFileDoesNotNameIsSaidOnce() throws Exception {
        for (int n = 0; n < 3; n++) {
            work = "{\"tasks\":[" + TASK.formatted("r" + n, "berths") + "]}";
            Thread.sleep(5);
            runner.work();
        }
        assertEquals(1, said.size(), said.toString());
        assertTrue(said.get(0).contains("add it under [databases]"), said.get(0));
    }

    @Test
    void aFirthThatIsAwayIsToldLater() throws Exception {
        int port = server.getAddress().getPort();
        server.stop(0);
        Path box = directory.resolve("state/to-tell.ndjson");
        Instant until = Instant.now().plusSeconds(30);
        while (!Files.exists(box) && Instant.now().isBefore(until)) {
            runner.work();
            Thread.sleep(20);
        }
        runner.work();
        runner.work();
        assertEquals(1, said.size(), "that it is away is said once: " + said);
        assertEquals(List.of(), told);
        listen(port);
        runner.work();
        assertEquals(
                List.of("pier:sheds"),
                told.stream().map(t -> t.path("id").asText()).toList());
    }

    /** What Firth says of a fleet with a full that is due every minute, and nothing to start yet. */
    private static String everyMinute() {
        Instant since = Instant.now().minus(Duration.ofHours(1));
        return "{\"policies\":[{\"policy\":\"p\",\"version\":1,\"acknowledged\":1,\"document\":{\"type\":\"policy\",\"id\":\"p\",\"version\":1,"
                + "\"name\":\"P\",\"effectiveFrom\":\"" + since
                + "\",\"schedules\":[{\"id\":\"fulls\",\"kind\":\"full\",\"cron\":\"* * * * *\",\"within\":\"PT10M\"}]}}],"
                + "\"fleet\":[{\"type\":\"store\",\"id\":\"near\",\"role\":\"near\"},"
                + "{\"type\":\"route\",\"id\":\"r\",\"data\":[\"near\"],\"log\":[\"near\"],\"copies\":[]},"
                + "{\"type\":\"database\",\"id\":\"sheds\",\"name\":\"sheds\",\"zone\":\"UTC\",\"policy\":\"p\",\"route\":\"r\","
                + "\"inServiceFrom\":\"" + since + "\"}],\"tasks\":[]}";
    }

    private void untilIdle() throws InterruptedException {
        Instant until = Instant.now().plusSeconds(30);
        while (runner.isBusy() && Instant.now().isBefore(until)) {
            Thread.sleep(20);
        }
    }

    private List<JsonNode> runsTold() {
        return told.stream().filter(t -> t.path("type").asText().equals("run")).toList();
    }

    @Test
    void whatIsDueIsStartedWhileFirthIsAwayAndToldAfterwards() throws Exception {
        work = everyMinute();
        int port = server.getAddress().getPort();
        runner.work();
        server.stop(0);
        Thread.sleep(5);
        runner.work();
        assertTrue(runner.isBusy(), said.toString());
        untilIdle();
        assertEquals(1, said.size(), said.toString());
        assertTrue(said.get(0).contains("going on by the policies it gave"), said.get(0));
        listen(port);
        runner.work();
        List<JsonNode> runs = runsTold();
        JsonNode first = runs.get(0);
        assertTrue(first.path("id").asText().matches("sheds:fulls:.*:00Z:0"), first.toString());
        assertEquals("schedule", first.path("trigger").asText());
        assertEquals("fulls", first.path("slot").path("schedule").asText());
        assertEquals(List.of("running", "ok"), outcomes(first.path("id").asText()));
        assertEquals(
                1,
                told.stream()
                        .filter(t ->
                                t.path("run").asText().equals(first.path("id").asText()))
                        .count());
        assertEquals(2, runs.size(), "once: " + runs);
    }

    @Test
    void oneThatIsStartedWhileFirthIsAwayKnowsWhatItSaidLast() throws Exception {
        work = everyMinute();
        runner.work();
        server.stop(0);
        runner.stop();
        Clock soon = Clock.offset(Clock.systemUTC(), Duration.ofMinutes(90));
        runner = started(soon);
        runner.work();
        assertTrue(runner.isBusy(), said.toString());
        untilIdle();
        runner.stop();
        said.clear();
        Clock late = Clock.offset(Clock.systemUTC(), Duration.ofHours(3));
        runner = started(late);
        runner.work();
        assertTrue(said.get(0).contains("nothing is started until it answers"), said.toString());
        assertFalse(runner.isBusy());
    }

    @Test
    void aFirthThatWasNeverHeardStartsNothing() throws Exception {
        server.stop(0);
        runner.work();
        assertFalse(runner.isBusy());
        assertTrue(said.get(0).contains("nothing is started until it answers"), said.toString());
    }

    @Test
    void nothingIsToldOfARunOnceItsEndIs() throws IOException {
        Path state = Files.createDirectory(directory.resolve("other"));
        Outbox outbox = new Outbox(state, said::add);
        Task task = new Task(Json.MAPPER.readTree(TASK.formatted("r", "sheds")), Instant.now());
        task.tell(outbox, Instant.now());
        task.end(new Begun(state), outbox, List.of(task.went(Instant.now(), "done")));
        task.tell(outbox, Instant.now());
        List<String> lines = Files.readAllLines(state.resolve("to-tell.ndjson")).stream()
                .filter(l -> !l.isBlank())
                .toList();
        assertEquals(2, lines.size());
        assertTrue(lines.get(1).contains("\"outcome\":\"ok\""));
        assertEquals(List.of(), new Begun(state).all());
    }
}
