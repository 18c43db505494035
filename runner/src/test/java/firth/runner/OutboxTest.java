package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import com.fasterxml.jackson.databind.node.ObjectNode;
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
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OutboxTest {

    @TempDir
    private Path directory;

    private final List<String> told = new ArrayList<>();
    private final List<String> said = new ArrayList<>();
    private int status = 200;
    private HttpServer server;
    private FirthLink firth;

    @BeforeEach
    void listen() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/api/import", exchange -> {
            told.add(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8).strip());
            byte[] answer = "{\"rejected\":[{\"field\":\"kind\",\"reason\":\"is none\"}],\"detail\":\"No.\"}"
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(status, answer.length);
            exchange.getResponseBody().write(answer);
            exchange.close();
        });
        server.start();
        firth = new FirthLink(
                URI.create("http://127.0.0.1:" + server.getAddress().getPort()), () -> "");
    }

    @AfterEach
    void hangUp() {
        server.stop(0);
    }

    private static ObjectNode line(String id) {
        return Json.MAPPER.createObjectNode().put("id", id);
    }

    @Test
    void whatIsToldIsToldOnce() throws Exception {
        Outbox box = new Outbox(directory, said::add);
        box.tell(firth, "pier");
        box.add(List.of(line("a")));
        box.add(List.of(line("b"), line("c")));
        box.tell(firth, "pier");
        box.tell(firth, "pier");
        assertEquals(List.of("{\"id\":\"a\"}\n{\"id\":\"b\"}\n{\"id\":\"c\"}"), told);
        assertEquals(List.of("Firth does not take a line: kind is none"), said);
    }

    @Test
    void whatFirthDidNotTakeIsToldAgainBeforeWhatCameSince() throws Exception {
        Outbox box = new Outbox(directory, said::add);
        box.add(List.of(line("a")));
        status = 503;
        assertThrows(FirthLink.Refused.class, () -> box.tell(firth, "pier"));
        box.add(List.of(line("b")));
        status = 200;
        Outbox after = new Outbox(directory, said::add);
        after.tell(firth, "pier");
        after.tell(firth, "pier");
        assertEquals(List.of("{\"id\":\"a\"}", "{\"id\":\"a\"}", "{\"id\":\"b\"}"), told);
    }

    @Test
    void aLineThatWasCutOffTakesNoOtherWithIt() throws Exception {
        Outbox box = new Outbox(directory, said::add);
        box.add(List.of(line("a")));
        Files.writeString(directory.resolve("to-tell.ndjson"), "{\"id\":\"cut", StandardOpenOption.APPEND);
        new Outbox(directory, said::add).add(List.of(line("b")));
        box.tell(firth, "pier");
        assertEquals(List.of("{\"id\":\"a\"}\n{\"id\":\"b\"}"), told);
    }
}
