package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HexFormat;
import java.util.List;
import java.util.Properties;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the stand-in agent does with what it is given, in each of its moods. */
class StandInAgentTest {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Instant THEN = Instant.parse("2026-11-01T00:00:00Z");

    @TempDir
    Path directory;

    private final Deque<String> work = new ArrayDeque<>();
    private final List<JsonNode> told = new ArrayList<>();
    private String listing = "";
    private HttpServer server;
    private Path home;
    private FilesOfStore files;
    private Token token;
    private StandInAgent agent;

    @BeforeEach
    void begin() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext(
                "/api/agents/near/work", e -> answer(e, work.isEmpty() ? "{\"batches\":[]}" : work.poll()));
        server.createContext("/api/agents/near/told", e -> {
            told.add(JSON.readTree(e.getRequestBody().readAllBytes()));
            answer(e, "{}");
        });
        server.createContext("/api/agents/near/listing", e -> {
            listing = new String(e.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
            answer(e, "{}");
        });
        server.start();
        home = Files.createDirectories(directory.resolve("near"));
        files = new FilesOfStore(home);
        for (int n = 1; n <= 6; n++) {
            files.lay("/near/d/" + n, 100L * n, THEN);
        }
        Files.writeString(home.resolve("agent.token"), "secret");
        URI address = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/");
        token = new Token(address, home.resolve("agent.token"), "{}");
        agent = new StandInAgent(new Firth(address, token), home);
    }

    @AfterEach
    void end() {
        server.stop(0);
    }

    private static void answer(HttpExchange exchange, String body) throws IOException {
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        exchange.sendResponseHeaders(200, bytes.length);
        exchange.getResponseBody().write(bytes);
        exchange.close();
    }

    /** A batch of files, signed as Firth signs it. */
    private String batch(List<String> paths) throws IOException, InterruptedException, GeneralSecurityException {
        return batch(paths, Instant.now().plusSeconds(900), "");
    }

    /** Every file as large as it was laid, with a checksum, until a moment. */
    private String batch(List<String> paths, Instant expires, String checksum)
            throws IOException, InterruptedException, GeneralSecurityException {
        StringBuilder text = new StringBuilder("p1\nh\n" + expires);
        for (int n = 0; n < paths.size(); n++) {
            text.append('\n')
                    .append(n + 1)
                    .append('\n')
                    .append(paths.get(n))
                    .append('\n')
                    .append(bytes(paths.get(n)))
                    .append('\n')
                    .append(checksum);
        }
        Mac mac = Mac.getInstance("HmacSHA256");
        mac.init(new SecretKeySpec(token.hash().getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
        String signature = HexFormat.of().formatHex(mac.doFinal(text.toString().getBytes(StandardCharsets.UTF_8)));
        String items = IntStream.range(0, paths.size())
                .mapToObj(n -> "{\"item\":%s,\"backup\":\"b\",\"path\":\"%s\",\"bytes\":%s,\"checksum\":\"%s\"}"
                        .formatted(n + 1, paths.get(n), bytes(paths.get(n)), checksum))
                .collect(Collectors.joining(","));
        return "{\"batches\":[{\"purge\":\"p1\",\"hash\":\"h\",\"expires\":\"%s\",\"items\":[%s],\"signature\":\"%s\"}]}"
                .formatted(expires, items, signature);
    }

    private static long bytes(String path) {
        return path.matches("/near/d/[0-9]+") ? 100L * Long.parseLong(path.substring("/near/d/".length())) : 100;
    }

    private List<String> texts() {
        List<String> out = new ArrayList<>();
        told.get(told.size() - 1)
                .path("items")
                .forEach(i -> out.add(i.path("text").asText()));
        return out;
    }

    private List<String> outcomes() {
        List<String> out = new ArrayList<>();
        told.get(told.size() - 1)
                .path("items")
                .forEach(i -> out.add(i.path("outcome").asText()));
        return out;
    }

    private void mood(String mood) throws IOException {
        Files.writeString(home.resolve("mood.properties"), mood);
    }

    private boolean lies(String path) throws IOException {
        return Files.exists(files.at(path));
    }

    @Test
    void deletesTellsWhatWasFreedAndHonoursLocks() throws Exception {
        Properties locks = new Properties();
        locks.setProperty("/near/d/2", Instant.now().plusSeconds(900).toString());
        files.lock(locks);
        work.add(batch(List.of("/near/d/1", "/near/d/2", "/near/d/9")));
        assertTrue(agent.tick());
        assertEquals(List.of("deleted", "locked", "missing"), outcomes());
        assertEquals(100, told.get(0).path("items").path(0).path("freed").asInt());
        assertFalse(lies("/near/d/1"));
        assertTrue(lies("/near/d/2"));
    }

    @Test
    void deletesNothingThatIsNotSigned() throws Exception {
        work.add(batch(List.of("/near/d/1")).replace("/near/d/1", "/near/d/3"));
        agent.tick();
        assertEquals(List.of(), told);
        assertTrue(lies("/near/d/3"));
    }

    @Test
    void deletesNothingAfterTheBatchExpired() throws Exception {
        work.add(batch(List.of("/near/d/1"), Instant.now().minusSeconds(1), ""));
        agent.tick();
        assertEquals(List.of("the batch had expired"), texts());
        assertTrue(lies("/near/d/1"));
        work.add(batch(List.of("/near/d/1"))
                .replaceFirst("\"expires\":\"[^\"]*\"", "\"expires\":\"2099-01-01T00:00:00Z\""));
        agent.tick();
        assertEquals(1, told.size(), "the moment is part of what is signed");
        assertTrue(lies("/near/d/1"));
    }

    @Test
    void deletesNothingThatIsNotTheFileThatWasWritten() throws Exception {
        Files.writeString(files.at("/near/d/1"), "another, written over it");
        work.add(batch(List.of("/near/d/1")));
        agent.tick();
        assertEquals(List.of("it is not as large as it was written"), texts());
        work.add(batch(List.of("/near/d/2"), Instant.now().plusSeconds(900), "sha256:00"));
        agent.tick();
        assertEquals(List.of("its checksum is another"), texts());
        assertTrue(lies("/near/d/1"));
        assertTrue(lies("/near/d/2"));
    }

    @Test
    void neverLeavesItsDirectory() throws Exception {
        Path outside = Files.writeString(directory.resolve("outside"), "x");
        work.add(batch(List.of("/../../outside", "")));
        agent.tick();
        assertEquals(List.of("failed", "failed"), outcomes());
        assertTrue(Files.exists(outside));
        assertThrows(IOException.class, () -> files.at("/../x"));
    }

    @Test
    void failsAndLiesWhereItsMoodSaysSo() throws Exception {
        mood("fail=2");
        work.add(batch(List.of("/near/d/1", "/near/d/2", "/near/d/3")));
        agent.tick();
        assertEquals(List.of("deleted", "failed", "deleted"), outcomes());
        mood("lie=yes");
        work.add(batch(List.of("/near/d/4")));
        agent.tick();
        assertEquals(List.of("deleted"), outcomes());
        assertTrue(lies("/near/d/4"), "it only said so");
    }

    @Test
    void tellsWhatItWasDeletingWhenItDiedFromWhatWasGoneBefore() throws Exception {
        Files.writeString(home.resolve("intents.log"), "p1 1 /near/d/7\n");
        work.add(batch(List.of("/near/d/7", "/near/d/8")));
        agent.tick();
        assertEquals(List.of("deleted", "missing"), outcomes());
    }

    @Test
    void listsWhatLiesThereWhenAsked() throws Exception {
        Properties locks = new Properties();
        locks.setProperty("/near/d/2", "2026-12-01T00:00:00Z");
        files.lock(locks);
        work.add("{\"stocktake\":\"s1\",\"batches\":[]}");
        agent.tick();
        assertEquals(6, listing.lines().count());
        assertTrue(
                listing.contains("{\"path\":\"/near/d/3\",\"size\":300,\"time\":\"2026-11-01T00:00:00Z\"}"), listing);
        assertTrue(listing.contains("\"lockedUntil\":\"2026-12-01T00:00:00Z\""));
    }

    @Test
    void laysRecoverySheetsBesideTheBackupsWhereAListingDoesNotCountThem() throws Exception {
        server.createContext(
                "/api/agents/near/sheets",
                e -> answer(
                        e,
                        "[{\"name\":\"database-d\",\"at\":\"2026-11-20T09:00:00Z\",\"html\":\"<p>d</p>\",\"text\":\"d\"},"
                                + "{\"name\":\"../../out\",\"at\":\"2026-11-20T09:00:00Z\",\"html\":\"\",\"text\":\"\"}]"));
        agent.tick();
        assertEquals("<p>d</p>", Files.readString(home.resolve("recovery-sheets/database-d.html")));
        assertEquals("d", Files.readString(home.resolve("recovery-sheets/database-d.txt")));
        assertTrue(Files.exists(home.resolve("recovery-sheets/.._.._out.txt")), "nothing leaves its directory");
        work.add("{\"stocktake\":\"s1\",\"batches\":[]}");
        agent.tick();
        assertEquals(6, listing.lines().count());
    }
}
