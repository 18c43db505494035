package firth.exchange.link;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class FirthLinkTest {

    private static URI at(int port) {
        return URI.create("http://127.0.0.1:" + port);
    }

    @Test
    void whoTakesTheCallAndSaysNothingIsNotWaitedForForever() throws Exception {
        try (ServerSocket silent = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            FirthLink link = new FirthLink(at(silent.getLocalPort()), () -> "");
            assertTrue(link.request("/api/x").build().timeout().isPresent());
            FirthLink.NotThere none = assertThrows(
                    FirthLink.NotThere.class,
                    () -> link.ask(link.request("/api/x").timeout(Duration.ofMillis(200))));
            assertEquals("no Firth answers at " + at(silent.getLocalPort()), none.getMessage());
        }
    }

    @Test
    void aRefusalIsReadAndAnUnknownTokenIsForgotten() throws Exception {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        List<String> shown = new ArrayList<>();
        List<String> forgotten = new ArrayList<>();
        server.createContext("/api/x", exchange -> {
            shown.add(exchange.getRequestHeaders().getFirst("Authorization"));
            byte[] body = "{\"detail\":\"It is closed.\",\"unharmed\":\"Nothing was changed.\"}"
                    .getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(401, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.start();
        try {
            FirthLink link = new FirthLink(at(server.getAddress().getPort()), new FirthLink.Credential() {
                @Override
                public String secret() {
                    return " open sesame\n";
                }

                @Override
                public void refused() {
                    forgotten.add("once");
                }
            });
            FirthLink.Refused refused = assertThrows(FirthLink.Refused.class, () -> link.ask(link.request("/api/x")));
            assertEquals(401, refused.status());
            assertEquals("It is closed. Nothing was changed.", refused.getMessage());
            assertEquals(List.of("Bearer open sesame"), shown);
            assertEquals(List.of("once"), forgotten);
        } finally {
            server.stop(0);
        }
    }
}
