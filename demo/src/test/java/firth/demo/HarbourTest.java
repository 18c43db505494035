package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpServer;
import firth.core.findings.Check;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.FleetRecord;
import firth.core.model.Kind;
import firth.core.model.Probe;
import firth.exchange.FleetFileReader;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the stand-in runner finds when it looks at the simulated machines. */
class HarbourTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:00Z");

    @TempDir
    private Path directory;

    private Path tree;

    @BeforeEach
    void build() throws IOException {
        tree = directory.resolve("harbour");
        Harbour.build(tree, NOW);
    }

    private List<String> lines() throws IOException {
        Prober prober = new Prober(tree);
        List<String> out = new ArrayList<>();
        for (String host : prober.hosts()) {
            out.addAll(prober.probe(host, NOW));
        }
        return out;
    }

    private static final MemoryCatalog CATALOG = new MemoryCatalog();

    @BeforeAll
    static void sail() throws IOException {
        for (SaltmarshFerries.Part part : SaltmarshFerries.Part.values()) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            new SaltmarshFerries(NOW, SaltmarshFerries.SEED).write(part, out);
            FleetFileReader.read(new ByteArrayInputStream(out.toByteArray()), part.source(), CATALOG);
        }
    }

    /** What stands in the way of each database, by what is looked at. */
    private Map<String, List<String>> lacking() throws IOException {
        Fleet fleet = CATALOG.fleet();
        List<Probe> probes = new ArrayList<>();
        for (String line : lines()) {
            FleetRecord read = FleetFileReader.recordOf(line);
            probes.add((Probe) read);
        }
        Map<String, List<String>> out = new TreeMap<>();
        CATALOG.databases().forEach(facts -> {
            Database database = facts.database();
            Readiness.Backed backed = new Readiness.Backed(
                    Optional.of(new Readiness.TakenBackup(Kind.FULL, NOW, false)), OptionalDouble.of(1e9));
            Readiness.of(database, fleet, probes, backed, NOW).stream()
                    .filter(c -> c.state() == Check.State.NOT_READY || c.state() == Check.State.WAITING)
                    .forEach(c -> out.computeIfAbsent(database.id(), d -> new ArrayList<>())
                            .add(c.item().word()));
        });
        return out;
    }

    @Test
    void theStoriesAreFoundByLooking() throws IOException {
        assertEquals(
                new TreeMap<>(Map.of(
                        "manifests", List.of("destination", "log-disk"),
                        "webshop", List.of("rights"),
                        "payroll", List.of("rights"),
                        "moorings", List.of("logs"),
                        "kiosk-north", List.of("scheduler"),
                        "tides", List.of("versions"),
                        "harbour-log", List.of("processes"),
                        "loyalty", List.of("names"),
                        "lost-property", List.of("apart"))),
                lacking());
    }

    @Test
    void writingLeavesNothingBehind() throws IOException {
        lines();
        try (Stream<Path> files = Files.walk(tree.resolve("stores"))) {
            assertEquals(List.of(), files.filter(f -> f.endsWith("firth-probe")).toList());
        }
    }

    @Test
    void whatIsRepairedIsFoundRepaired() throws IOException {
        Files.delete(tree.resolve("stores/quay-near").resolve(SimulatedStore.QUOTAS));
        Files.createFile(tree.resolve("hosts/northquay-2/harbour-log/processes/log writer"));
        Map<String, List<String>> found = lacking();
        assertEquals(List.of("log-disk"), found.get("manifests"));
        assertFalse(found.containsKey("harbour-log"));
        Harbour.build(tree, NOW);
        assertEquals(found, lacking(), "what stands is not built again");
    }

    @Test
    void aStoreThatIsGoneIsNotReached() throws IOException {
        Files.delete(tree.resolve("stores/harbour-far").resolve(SimulatedStore.ABOUT));
        assertTrue(lacking().get("bookings").contains("destination"));
    }

    @Test
    void everyHostTellsFirthAndOneThatDoesNotAnswerIsTriedAgain() throws IOException, InterruptedException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        List<String> told = new ArrayList<>();
        server.createContext("/api/import", exchange -> {
            told.add(exchange.getRequestURI().getQuery() + " "
                    + new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8)
                            .lines()
                            .count());
            exchange.sendResponseHeaders(200, -1);
            exchange.close();
        });
        Path token = Files.writeString(tree.resolve("token"), "t");
        URI address = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/");
        StandInRunner runner = new StandInRunner(host -> new Firth(address, new Token(address, token, "{}")), tree, 1);
        server.start();
        assertTrue(runner.report(NOW));
        server.stop(0);
        assertEquals("source=runner on northquay-1 1", told.get(0));
        assertEquals(5, told.size());
        assertFalse(runner.report(NOW));
    }
}
