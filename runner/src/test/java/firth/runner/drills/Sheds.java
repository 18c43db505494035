package firth.runner.drills;

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
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A host beside a stand-in for Firth that knows one SQLite database and the copy of it. */
abstract class Sheds {

    static final Instant NOW = Instant.parse("2026-11-30T12:00:00Z");
    static final Clock CLOCK = Clock.fixed(NOW, ZoneOffset.UTC);
    static final String MOMENT = "2026-11-30T10:00:00Z";

    @TempDir
    Path directory;

    /** What was asked, and what was posted to which address. */
    final List<String> asked = new CopyOnWriteArrayList<>();

    final List<JsonNode> told = new CopyOnWriteArrayList<>();
    final List<String> said = new ArrayList<>();
    final List<Settings.Query> queries = new ArrayList<>();
    volatile String store = "near";
    volatile double bytes = 1;
    volatile String engine = "sqlite";
    /** How what is told is answered. */
    volatile int refusal = 200;

    Optional<Settings.Hours> hours = Optional.empty();
    Path copy;
    Path scratch;
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
            boolean telling = path.endsWith("/result") || path.endsWith("/course");
            byte[] answer = answer(path, exchange.getRequestMethod()).getBytes(StandardCharsets.UTF_8);
            if (telling && refusal == 200) {
                told.add(Json.MAPPER.readTree(body));
            }
            exchange.sendResponseHeaders(telling ? refusal : 200, answer.length);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        server.start();
    }

    @AfterEach
    void end() {
        server.stop(0);
    }

    /** Of what Firth answers beside the checklist. */
    abstract String answer(String path, String method);

    /** A checklist as JSON, with what is kept of it. */
    ObjectNode checklist() {
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
        plan.put("database", "sheds").put("target", MOMENT).putArray("streams").add("main");
        plan.putObject("destination").put("bytes", bytes);
        out.putObject("recipe")
                .put("script", recipe.script())
                .putArray("stores")
                .add(store);
        out.putArray("logs");
        return out;
    }

    HostCommand.Host host() {
        URI at = URI.create("http://127.0.0.1:" + server.getAddress().getPort());
        Settings.Drilling drilling = new Settings.Drilling(
                scratch,
                1_000_000,
                OptionalLong.empty(),
                hours,
                "postgres",
                Map.of("mariadb", scratch),
                Map.of("sheds", queries));
        Settings settings = new Settings(
                "dock",
                at,
                Optional.empty(),
                directory.resolve("state"),
                Duration.ofSeconds(1),
                Duration.ZERO,
                Map.of("near", directory.resolve("near")),
                Map.of(),
                Map.of(),
                Optional.of(drilling));
        return new HostCommand.Host(settings, drilling, new FirthLink(at, () -> ""));
    }

    static List<Path> in(Path directory) throws IOException {
        try (var all = Files.list(directory)) {
            return all.toList();
        }
    }
}
