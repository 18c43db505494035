package firth.demo;

import firth.exchange.Json;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;

/**
 * What a stand-in shows Firth of itself, kept in a file. Where it has none yet, the demo's made-up administrator makes it one, as an
 * administrator would for a program of their own.
 */
public final class Token implements FirthLink.Credential {

    private static final String ADMINISTRATOR = "harald";

    private final URI address;
    private final Path file;
    private final String wanted;

    /** @param wanted the token as it is asked for, as JSON */
    Token(URI address, Path file, String wanted) {
        this.address = address;
        this.file = file;
        this.wanted = wanted;
    }

    /** One with these roles, bound to a place. */
    public static Token of(URI address, Path file, String name, String place, String... roles) {
        return new Token(
                address,
                file,
                String.format(
                        Locale.ROOT,
                        "{\"name\":\"%s\",\"roles\":[\"%s\"],\"place\":\"%s\"}",
                        name,
                        String.join("\",\"", roles),
                        place));
    }

    static Token ofRunner(URI address, Path tree, String host) {
        return of(address, tree.resolve("runner-" + host + ".token"), "stand-in runner on " + host, host, "runner");
    }

    static Token ofAgent(URI address, Path home, String store) {
        return of(address, home.resolve("agent.token"), "stand-in agent at " + store, store, "agent");
    }

    @Override
    public synchronized String secret() throws IOException, InterruptedException {
        if (!Files.exists(file)) {
            Files.createDirectories(file.getParent());
            Files.writeString(file, made());
        }
        return Files.readString(file).strip();
    }

    /** The next use makes another. */
    @Override
    public synchronized void refused() throws IOException {
        Files.deleteIfExists(file);
    }

    private String made() throws IOException, InterruptedException {
        HttpClient client = HttpClient.newHttpClient();
        HttpResponse<String> entered = client.send(
                json("/api/session/as", "{\"person\":\"" + ADMINISTRATOR + "\"}")
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        String cookie = entered.headers()
                .firstValue("set-cookie")
                .map(c -> c.substring(0, c.indexOf(';')))
                .orElseThrow(() -> new IOException("Firth lets nobody in: " + entered.body()));
        String page = Json.MAPPER
                .readTree(client.send(
                                HttpRequest.newBuilder(address.resolve("/api/session"))
                                        .header("Cookie", cookie)
                                        .build(),
                                HttpResponse.BodyHandlers.ofString())
                        .body())
                .path("page")
                .asText();
        HttpResponse<String> made = client.send(
                json("/api/people/tokens", wanted)
                        .header("Cookie", cookie)
                        .header("X-Firth-Page", page)
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (made.statusCode() != 200) {
            throw new IOException("Firth gives no token: " + made.body());
        }
        return Json.MAPPER.readTree(made.body()).path("secret").asText();
    }

    private HttpRequest.Builder json(String path, String body) {
        return HttpRequest.newBuilder(address.resolve(path))
                .header("content-type", "application/json")
                .POST(BodyPublishers.ofString(body));
    }
}
