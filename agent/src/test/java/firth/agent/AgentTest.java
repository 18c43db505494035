package firth.agent;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import firth.core.record.Digests;
import firth.exchange.link.FirthLink;
import firth.exchange.link.Signatures;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an agent asks of Firth, does and tells. */
class AgentTest {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String NOTHING = "{\"batches\":[]}";

    @TempDir
    Path directory;

    private final Deque<String> work = new ArrayDeque<>();
    private final List<JsonNode> told = new ArrayList<>();
    private final Map<String, String> got = new TreeMap<>();
    private final List<String> said = new ArrayList<>();
    private String sheets = "[]";
    private HttpServer server;
    private Path root;
    private FirthLink link;
    private Agent agent;

    @BeforeEach
    void begin() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        answer("work", e -> work.isEmpty() ? NOTHING : work.poll());
        answer("told", e -> {
            told.add(JSON.readTree(e.getRequestBody().readAllBytes()));
            return "{}";
        });
        answer("listing", e -> kept(e, "listing"));
        answer("room", e -> kept(e, "room"));
        answer("sheets", e -> sheets);
        server.start();
        root = Files.createDirectories(directory.resolve("files"));
        for (int n = 1; n <= 6; n++) {
            Files.writeString(root.resolve("f" + n), "x".repeat(n));
        }
        URI address = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/");
        link = new FirthLink(address, () -> "secret\n");
        Storage storage = new Moody(
                Directory.at(root, directory.resolve("sums"), Directory.Limits.NONE), directory.resolve("mood"));
        agent = new Agent(
                link, "near", storage, directory.resolve("state"), Duration.ofSeconds(2), Clock.systemUTC(), said::add);
    }

    @AfterEach
    void end() {
        server.stop(0);
    }

    private interface Answer {
        String to(HttpExchange exchange) throws IOException;
    }

    private void answer(String what, Answer answer) {
        server.createContext("/api/agents/near/" + what, e -> {
            byte[] bytes = answer.to(e).getBytes(StandardCharsets.UTF_8);
            e.sendResponseHeaders(200, bytes.length);
            e.getResponseBody().write(bytes);
            e.close();
        });
    }

    private String kept(HttpExchange exchange, String what) throws IOException {
        got.put(what, new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        got.put(what + "?", exchange.getRequestURI().getQuery() + "");
        return "{}";
    }

    private String batch(Instant expires, String... names) throws Exception {
        List<Batch.Item> items = IntStream.range(0, names.length)
                .mapToObj(n -> new Batch.Item(
                        n + 1, "/" + names[n], names[n].matches("f\\d") ? names[n].charAt(1) - '0' : 1, ""))
                .toList();
        Batch batch = new Batch("p1", "h", expires, items, "");
        String written = items.stream()
                .map(i -> "{\"item\":%s,\"backup\":\"b\",\"path\":\"%s\",\"bytes\":%s,\"checksum\":\"\"}"
                        .formatted(i.item(), i.path(), i.bytes()))
                .collect(Collectors.joining(","));
        return "{\"batches\":[{\"purge\":\"p1\",\"hash\":\"h\",\"expires\":\"%s\",\"items\":[%s],\"signature\":\"%s\"}]}"
                .formatted(expires, written, Signatures.sign(Digests.of("secret"), batch.signed()));
    }

    private String batch(String... names) throws Exception {
        return batch(Instant.now().plusSeconds(900), names);
    }

    private List<String> told(String field) {
        List<String> out = new ArrayList<>();
        told.get(told.size() - 1)
                .path("items")
                .forEach(i -> out.add(i.path(field).asText()));
        return out;
    }

    @Test
    void deletesWhatIsSignedAndTellsWhatBecameOfIt() throws Exception {
        work.add(batch("f1", "f9", "f3"));
        agent.tick();
        assertEquals(List.of("deleted", "missing", "deleted"), told("outcome"));
        assertEquals(List.of("1", "", "3"), told("freed"));
        assertEquals(
                "p1 h",
                told.get(0).path("purge").asText() + " "
                        + told.get(0).path("hash").asText());
        assertFalse(Files.exists(root.resolve("f1")));
        assertTrue(Files.exists(root.resolve("f2")));
    }

    @Test
    void deletesNothingThatIsNotSigned() throws Exception {
        work.add(batch("f1").replace("/f1", "/f3"));
        work.add(batch("f1").replaceFirst("\"signature\":\"..", "\"signature\":\"zz"));
        agent.tick();
        agent.tick();
        assertEquals(List.of(), told);
        assertEquals(1, said.stream().distinct().count(), "it says so");
        assertTrue(Files.exists(root.resolve("f1")) && Files.exists(root.resolve("f3")));
    }

    @Test
    void deletesNothingAfterTheBatchExpired() throws Exception {
        work.add(batch(Instant.now().minusSeconds(1), "f1"));
        agent.tick();
        assertEquals(List.of("the batch had expired"), told("text"));
        work.add(batch("f1").replaceFirst("\"expires\":\"[^\"]*\"", "\"expires\":\"2099-01-01T00:00:00Z\""));
        work.add(batch("f1").replaceFirst("\"expires\":\"[^\"]*\"", "\"expires\":\"never\""));
        agent.tick();
        agent.tick();
        assertEquals(1, told.size(), "the moment is part of what is signed");
        assertTrue(Files.exists(root.resolve("f1")));
    }

    @Test
    void theMoodsOfAStoreAreWhatTheySay() throws Exception {
        Files.writeString(directory.resolve("mood"), "fail=2");
        work.add(batch("f1", "f2", "f3"));
        agent.tick();
        assertEquals(List.of("deleted", "failed", "deleted"), told("outcome"));
        Files.writeString(directory.resolve("mood"), "lie=yes");
        work.add(batch("f4"));
        agent.tick();
        assertEquals(List.of("deleted"), told("outcome"));
        assertTrue(Files.exists(root.resolve("f4")), "it only said so");
    }

    @Test
    void listsWhenAskedFromTheMomentItBegan() throws Exception {
        Instant before = Instant.now();
        work.add("{\"stocktake\":\"s1\",\"sums\":true,\"batches\":[]}");
        agent.tick();
        assertEquals(6, got.get("listing").lines().count());
        JsonNode line = JSON.readTree(got.get("listing")
                .lines()
                .filter(l -> l.contains("/f3"))
                .findFirst()
                .orElseThrow());
        assertEquals(3, line.path("size").asInt());
        assertTrue(line.path("checksum").asText().startsWith("sha256:"));
        assertTrue(got.get("listing?").startsWith("stocktake=s1&taken="));
        assertFalse(
                Instant.parse(got.get("listing?").replaceFirst(".*taken=", "")).isBefore(before));
    }

    @Test
    void tellsItsRoom() throws Exception {
        agent.tick();
        JsonNode room = JSON.readTree(got.get("room"));
        assertTrue(room.path("writable").asBoolean());
        assertTrue(room.path("freeBytes").asLong() > 0);
    }

    @Test
    void laysRecoverySheetsBesideTheBackups() throws Exception {
        sheets = "[{\"name\":\"database-d\",\"at\":\"2026-11-20T09:00:00Z\",\"html\":\"<p>d</p>\",\"text\":\"d\"},"
                + "{\"name\":\"../../out\",\"at\":\"2026-11-20T09:00:00Z\",\"html\":\"\",\"text\":\"\"}]";
        agent.tick();
        assertEquals("<p>d</p>", Files.readString(root.resolve("recovery-sheets/database-d.html")));
        assertTrue(Files.exists(root.resolve("recovery-sheets/.._.._out.txt")), "nothing leaves its directory");
    }

    @Test
    void aFirthThatIsAwayIsSaidOnceAndAskedAgain() throws Exception {
        server.stop(0);
        agent.work();
        agent.work();
        assertEquals(1, said.size());
        assertTrue(said.get(0).startsWith("no Firth answers at"), said.get(0));
    }
}
