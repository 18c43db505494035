package firth.runner.drills;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpServer;
import firth.core.model.Kind;
import firth.engines.Recipe;
import firth.engines.sqlite.SqliteRecipe;
import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import firth.runner.Settings;
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
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Beside a stand-in for Firth that knows one SQLite database and the copy of it. */
class DrillHostTest {

    private static final Instant NOW = Instant.parse("2026-11-30T12:00:00Z");
    private static final String MOMENT = "2026-11-30T10:00:00Z";
    private static final String ROW =
            "{\"databases\":1,\"rows\":[{\"database\":\"sheds\",\"proved\":%s,\"state\":\"%s\"}]}";

    @TempDir
    private Path directory;

    private final List<String> asked = new CopyOnWriteArrayList<>();
    private final List<JsonNode> results = new CopyOnWriteArrayList<>();
    private final List<String> said = new ArrayList<>();
    private final List<Settings.Query> queries = new ArrayList<>();
    private volatile String rows = ROW.formatted("null", "none");
    private volatile String store = "near";
    private volatile double bytes = 1;
    private volatile String engine = "sqlite";
    private volatile int refusal = 200;
    private Optional<Settings.Hours> hours = Optional.empty();
    private Path copy;
    private Path scratch;
    private HttpServer server;

    @BeforeEach
    void begin() throws Exception {
        Path near = Files.createDirectories(directory.resolve("near/sheds")).getParent();
        copy = near.resolve("sheds/sheds-1.db");
        try (Connection c = DriverManager.getConnection("jdbc:sqlite:" + copy);
                Statement s = c.createStatement()) {
            s.execute("CREATE TABLE shed (n INTEGER PRIMARY KEY, holds TEXT)");
            s.execute("INSERT INTO shed (holds) VALUES ('oars'), ('nets')");
        }
        scratch = Files.createDirectory(directory.resolve("scratch"));
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            String path = exchange.getRequestURI().getPath();
            asked.add(exchange.getRequestMethod() + " " + path);
            boolean result = path.endsWith("/result");
            byte[] answer = answer(path, exchange.getRequestMethod()).getBytes(StandardCharsets.UTF_8);
            if (result && refusal == 200) {
                results.add(Json.MAPPER.readTree(body));
            }
            exchange.sendResponseHeaders(result ? refusal : 200, answer.length);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        server.start();
    }

    @AfterEach
    void end() {
        server.stop(0);
    }

    private String answer(String path, String method) {
        if (path.endsWith("checklist.json")) {
            Recipe recipe = new SqliteRecipe()
                    .recipe(new Recipe.Ask(
                            "sheds",
                            Optional.of(Instant.parse(MOMENT)),
                            Optional.empty(),
                            OptionalLong.empty(),
                            "1",
                            List.of(new Recipe.Part(Kind.FULL, store, "sheds/sheds-1.db")),
                            List.of(),
                            Optional.empty()))
                    .orElseThrow();
            ObjectNode out = Json.MAPPER.createObjectNode();
            ObjectNode plan = out.putObject("kept").putObject("plan").put("engine", engine);
            plan.putObject("destination").put("bytes", bytes);
            out.putObject("recipe")
                    .put("script", recipe.script())
                    .putArray("stores")
                    .add(store);
            return out.toString();
        }
        if (path.equals("/api/drills")) {
            return method.equals("GET")
                    ? rows
                    : "{\"id\":\"drill-" + asked.size() + "\",\"database\":\"sheds\",\"moment\":\"" + MOMENT + "\"}";
        }
        return "{}";
    }

    private DrillHost.Ended drill(Optional<Duration> within, String... named) throws Exception {
        return host().drill(new DrillHost.Wanted(List.of(named), within));
    }

    private DrillHost host() throws IOException {
        URI at = URI.create("http://127.0.0.1:" + server.getAddress().getPort());
        Settings.Drilling drilling = new Settings.Drilling(
                scratch, 1_000_000, hours, "postgres", Map.of("mariadb", scratch), Map.of("sheds", queries));
        Settings settings = new Settings(
                "dock",
                at,
                Optional.empty(),
                directory.resolve("state"),
                Duration.ofSeconds(1),
                Duration.ZERO,
                Map.of("near", directory.resolve("near")),
                Map.of(),
                Optional.of(drilling));
        return new DrillHost(
                settings, drilling, new FirthLink(at, () -> ""), Clock.fixed(NOW, ZoneOffset.UTC), said::add);
    }

    private List<Path> left() throws IOException {
        try (var all = Files.list(scratch)) {
            return all.toList();
        }
    }

    @Test
    void whatIsRestoredIsProvedByTheEngineAndByWhatItsOwnerAsks() throws Exception {
        queries.add(new Settings.Query("", "SELECT count(*) FROM shed"));
        assertEquals(new DrillHost.Ended(0, 0), drill(Optional.empty(), "sheds"));
        JsonNode told = results.get(0);
        assertTrue(told.path("ok").asBoolean(), told.toString());
        assertEquals(MOMENT, told.path("reached").asText());
        assertEquals("SELECT count(*) FROM shed: 2", told.path("checks").path(2).asText());
        assertEquals(List.of(), left(), "nothing of it stays");
        assertFalse(Files.exists(directory.resolve("state/drill.json")));
    }

    @Test
    void aCopyThatDoesNotReadIsADrillThatFailed() throws Exception {
        byte[] all = Files.readAllBytes(copy);
        java.util.Arrays.fill(all, 4096, all.length, (byte) 7);
        Files.write(copy, all);
        assertEquals(new DrillHost.Ended(1, 0), drill(Optional.empty(), "sheds"));
        assertFalse(results.get(0).path("ok").asBoolean());
        assertTrue(results.get(0).path("message").asText().contains("integrity_check"), results.toString());
        Files.delete(copy);
        drill(Optional.empty(), "sheds");
        assertTrue(results.get(1).path("message").asText().contains("sheds-1.db"), results.toString());
        assertEquals(List.of(), left());
    }

    @Test
    void whatItsOwnerAsksHasToBeSo() throws Exception {
        for (String nothing : List.of("SELECT 0", "SELECT n FROM shed WHERE n > 9", "SELECT ''", "SELECT NULL")) {
            queries.clear();
            queries.add(new Settings.Query("", nothing));
            assertEquals(new DrillHost.Ended(1, 0), drill(Optional.empty(), "sheds"), nothing);
        }
        queries.clear();
        queries.add(new Settings.Query("", "SELECT m FROM shed"));
        drill(Optional.empty(), "sheds");
        assertTrue(results.get(4).path("message").asText().contains("no such column"), results.toString());
    }

    @Test
    void whatThisHostCannotTrySaysNothingOfTheCopiesAndProposesNothing() throws Exception {
        bytes = 2_000_000;
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        bytes = 1;
        store = "far";
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        assertEquals(List.of(), results);
        assertFalse(asked.contains("POST /api/drills"), asked.toString());
        assertTrue(said.get(0).contains("it takes 2000000 bytes, and drills.room allows 1000000"), said.toString());
        assertTrue(said.get(1).contains("the store far, of which [stores] does not say"), said.toString());
    }

    @Test
    void ofTheFleetThoseAreDrilledThatWereNotProvedInTime() throws Exception {
        rows = ROW.formatted("\"2026-11-27T00:00:00Z\"", "proved");
        drill(Optional.of(Duration.ofDays(7)));
        drill(Optional.empty());
        assertEquals(List.of(), results);
        drill(Optional.of(Duration.ofDays(3)));
        rows = ROW.formatted("\"2026-11-27T00:00:00Z\"", "due");
        drill(Optional.empty());
        assertEquals(2, results.size());
    }

    @Test
    void anEngineThatIsNotInstalledHereSaysNothingOfTheCopies() throws Exception {
        engine = "mariadb";
        assertEquals(new DrillHost.Ended(0, 1), drill(Optional.empty(), "sheds"));
        assertEquals(List.of(), results);
        assertTrue(said.get(0).contains("mariadbd is not installed here"), said.toString());
    }

    @Test
    void oneThatFailedLastIsDrilledAgain() throws Exception {
        rows = ROW.formatted("\"2026-11-29T00:00:00Z\"", "failed");
        drill(Optional.of(Duration.ofDays(7)));
        assertEquals(1, results.size());
    }

    @Test
    void outsideItsHoursNoneBegins() throws Exception {
        hours = Optional.of(new Settings.Hours(LocalTime.of(22, 0), LocalTime.of(5, 0), ZoneOffset.UTC));
        drill(Optional.empty(), "sheds");
        assertEquals(List.of(), results);
        assertTrue(said.get(0).contains("22:00 to 05:00 in Z"), said.toString());
        hours = Optional.of(new Settings.Hours(LocalTime.of(11, 0), LocalTime.of(13, 0), ZoneOffset.UTC));
        drill(Optional.empty(), "sheds");
        assertEquals(1, results.size());
    }

    @Test
    void whatFirthDidNotHearIsToldTheNextTimeAndNotDoneAgain() throws Exception {
        refusal = 503;
        assertThrows(FirthLink.Refused.class, () -> drill(Optional.empty(), "sheds"));
        refusal = 200;
        asked.clear();
        rows = ROW.formatted("\"2026-11-30T11:00:00Z\"", "proved");
        drill(Optional.of(Duration.ofDays(7)));
        assertEquals(1, results.size());
        assertEquals(
                List.of("GET /api/drills"),
                asked.stream().filter(a -> !a.endsWith("/result")).toList());
    }

    @Test
    void aResultFirthWillNeverTakeStandsInNobodysWay() throws Exception {
        refusal = 404;
        drill(Optional.empty(), "sheds");
        assertTrue(said.get(0).contains("cannot be told"), said.toString());
        refusal = 200;
        drill(Optional.empty(), "sheds");
        assertEquals(1, results.size());
    }

    @Test
    void oneThatIsStoppedDoesNotFail() throws Exception {
        DrillHost host = host();
        host.stop();
        assertThrows(
                InterruptedException.class, () -> host.drill(new DrillHost.Wanted(List.of("sheds"), Optional.empty())));
        assertEquals(List.of(), results);
        drill(Optional.of(Duration.ofDays(7)), "nothing");
        assertEquals(1, results.size(), "the next one does it again");
    }

    @Test
    void oneThatWasCutOffIsDoneAgainAndItsRemainsAreGone() throws Exception {
        Files.createDirectories(directory.resolve("state"));
        Files.writeString(
                directory.resolve("state/drill.json"),
                "{\"proposal\":{\"id\":\"drill-x\",\"database\":\"sheds\",\"moment\":\"" + MOMENT + "\"}}");
        Files.createDirectories(scratch.resolve("firth-drill/files"));
        Files.writeString(scratch.resolve("firth-drill/files/half"), "");
        drill(Optional.of(Duration.ofDays(7)), "nothing");
        assertEquals(1, results.size());
        assertTrue(asked.contains("POST /api/drills/drill-x/result"), asked.toString());
        assertEquals(List.of(), left());
    }

    @Test
    void aProgramLeftRunningOverTheDirectoryIsEnded() throws Exception {
        Path within = Files.createDirectories(scratch.resolve("firth-drill/files"));
        Process left = new ProcessBuilder("sh", "-c", "sleep 600; true", within.toString()).start();
        Remains.remove(scratch.resolve("firth-drill"));
        assertFalse(left.isAlive());
        assertEquals(List.of(), left());
    }
}
