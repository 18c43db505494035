package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.atLeast;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The stand-in runner of one host against a Firth that is made up. */
class HostRunnerTest {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Instant NOW = Instant.parse("2026-11-23T22:40:00Z");

    @TempDir
    private Path directory;

    private final Firth firth = mock(Firth.class);
    private final List<String> told = new ArrayList<>();

    @BeforeEach
    void listen() throws IOException, InterruptedException {
        when(firth.tell(anyString(), any())).thenAnswer(call -> {
            told.addAll(call.getArgument(1));
            return true;
        });
    }

    private HostRunner runner(String host) throws IOException {
        Path tree = directory.resolve("harbour");
        Harbour.build(tree, NOW);
        return new HostRunner(firth, tree, host, 2);
    }

    private void due(String database, String kind, String trigger, String store)
            throws IOException, InterruptedException {
        String work = """
                {"policies":[{"policy":"sailings","version":3,"acknowledged":2,"databases":["%1$s"],"document":{"retain":[{"role":"far","lock":"P30D"}]}}],
                 "tasks":[{"run":"r1","backup":"b1","database":"%1$s","kind":"%2$s","trigger":"%3$s","parent":"p1","lineage":"1",
                  "from":{"main":{"position":100,"time":"2026-11-23T22:30:00Z"}},"stores":["%4$s"],"copies":["harbour-far","skerry-deep"],
                  "expectedSeconds":120,"expectedBytes":6000}]}""".formatted(database, kind, trigger, store);
        when(firth.work(anyString(), anyString())).thenReturn(Optional.of(JSON.readTree(work)));
    }

    private List<JsonNode> of(String type) throws IOException {
        List<JsonNode> out = new ArrayList<>();
        for (String line : told) {
            JsonNode node = JSON.readTree(line);
            if (node.path("type").asText().equals(type)) {
                out.add(node);
            }
        }
        return out;
    }

    @Test
    void startsWhatIsDueTellsHowFarItIsAndHowItEnded() throws IOException, InterruptedException {
        HostRunner runner = runner("northquay-3");
        due("bookings", "incr", "schedule", "quay-near");
        runner.tick(NOW);
        verify(firth, atLeast(1)).acknowledge("northquay-3", "sailings", 3);
        runner.tick(NOW.plusSeconds(30));
        JsonNode half = of("run").get(of("run").size() - 1);
        assertEquals("running", half.path("outcome").asText());
        assertEquals(
                3000,
                half.path("course")
                        .path(half.path("course").size() - 1)
                        .path("writtenBytes")
                        .asInt());
        runner.tick(NOW.plusSeconds(60));
        List<JsonNode> backups = of("backup");
        assertEquals("incr", backups.get(0).path("kind").asText());
        assertEquals(100 + 600 * 6, backups.get(0).path("from").path("main").asInt());
        assertEquals(100 + 660 * 6, backups.get(1).path("to").asInt(), "its log reaches its end");
        assertTrue(of("run").stream()
                .anyMatch(r -> r.path("outcome").asText().equals("ok")
                        && r.path("output").asText().contains("wrote 6000 bytes")));
        ImportReport report = FleetFileReader.read(
                new ByteArrayInputStream(String.join("\n", told).getBytes(StandardCharsets.UTF_8)),
                "t",
                new MemoryCatalog());
        assertEquals(List.of(), report.rejected());
    }

    @Test
    void copiesOnLaterUnderTheLockThePolicyAsksForAndNotToTheDeepStore() throws IOException, InterruptedException {
        HostRunner runner = runner("northquay-3");
        due("bookings", "log", "schedule", "quay-near");
        runner.tick(NOW);
        when(firth.work(anyString(), anyString())).thenReturn(Optional.empty());
        runner.tick(NOW.plusSeconds(3600));
        List<JsonNode> copies =
                of("backup").stream().map(b -> b.path("copies").path(0)).toList();
        assertEquals(
                List.of("quay-near", "harbour-far"),
                copies.stream().map(c -> c.path("store").asText()).toList());
        Instant landed = Instant.parse(copies.get(1).path("landed").asText());
        assertEquals(NOW.plusSeconds(60 + 1200), landed);
        assertEquals(
                landed.plusSeconds(30 * 86_400),
                Instant.parse(copies.get(1).path("lockedUntil").asText()));
    }

    @Test
    void whatTheStoreOrTheEngineRefusesFailsWithTheirWords() throws IOException, InterruptedException {
        HostRunner runner = runner("northquay-2");
        due("manifests", "log", "schedule", "quay-near");
        runner.tick(NOW);
        assertEquals(
                "Quay near refuses writes: quota of manifests used up",
                of("run").get(0).path("message").asText());
        told.clear();
        due("webshop", "full", "hand", "south-near");
        runner("southquay-1").tick(NOW);
        assertEquals(
                "permission denied for table orders",
                of("run").get(0).path("message").asText());
        assertEquals("failed", of("run").get(0).path("outcome").asText());
    }

    @Test
    void aSchedulerThatIsOffStartsNothingButByHand() throws IOException, InterruptedException {
        HostRunner runner = runner("northquay-2");
        due("kiosk-north", "full", "schedule", "quay-near");
        runner.tick(NOW);
        assertEquals(List.of(), told);
        due("kiosk-north", "full", "hand", "quay-near");
        runner.tick(NOW.plusSeconds(60));
        assertEquals("running", of("run").get(0).path("outcome").asText());
    }
}
