package firth.server.people;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.crypto.RSASSASigner;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.Base64;
import java.util.Date;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A small OpenID provider: vouches for one person, as it is told to. */
@SuppressWarnings("JavaUtilDate") // the tokens\' library speaks it
public class StandInProvider implements QuarkusTestResourceLifecycleManager {

    /** What it says of whoever comes; a nonce of null: the one asked for. */
    static volatile Map<String, Object> claims = Map.of();

    static volatile String nonce;

    private HttpServer server;
    private String issuer;
    private RSAKey key;
    private final Map<String, Map<String, String>> codes = new HashMap<>();

    @Override
    public Map<String, String> start() {
        try {
            key = new RSAKeyGenerator(2048).keyID("k").generate();
            server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
            issuer = "http://127.0.0.1:" + server.getAddress().getPort();
            server.createContext("/.well-known/openid-configuration", e -> answer(e, 200, metadata()));
            server.createContext("/jwks", e -> answer(e, 200, new JWKSet(key.toPublicJWK()).toString()));
            server.createContext("/authorize", this::authorize);
            server.createContext("/token", this::token);
            server.start();
            return Map.of(
                    "firth.demo", "false",
                    "firth.data",
                            Files.createTempDirectory("firth")
                                    .resolve("firth.db")
                                    .toString(),
                    "firth.provider.issuer", issuer,
                    "firth.provider.client", "firth",
                    "firth.provider.secret", "between us");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (JOSEException e) {
            throw new IllegalStateException(e);
        }
    }

    private String metadata() {
        return """
                {"issuer":"%1$s","authorization_endpoint":"%1$s/authorize","token_endpoint":"%1$s/token","jwks_uri":"%1$s/jwks",\
                "subject_types_supported":["public"],"response_types_supported":["code"],\
                "id_token_signing_alg_values_supported":["RS256"]}""".formatted(issuer);
    }

    private static Map<String, String> fields(String query) {
        Map<String, String> out = new HashMap<>();
        for (String pair : query.split("&")) {
            int is = pair.indexOf('=');
            out.put(pair.substring(0, is), URLDecoder.decode(pair.substring(is + 1), StandardCharsets.UTF_8));
        }
        return out;
    }

    private void authorize(HttpExchange exchange) throws IOException {
        Map<String, String> asked = fields(exchange.getRequestURI().getRawQuery());
        String code = "code" + codes.size();
        codes.put(code, asked);
        exchange.getResponseHeaders()
                .set("Location", asked.get("redirect_uri") + "?code=" + code + "&state=" + asked.get("state"));
        answer(exchange, 302, "");
    }

    private void token(HttpExchange exchange) throws IOException {
        Map<String, String> given =
                fields(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        Map<String, String> asked = codes.remove(given.get("code"));
        String basic = Base64.getEncoder().encodeToString("firth:between+us".getBytes(StandardCharsets.UTF_8));
        boolean known = ("Basic " + basic).equals(exchange.getRequestHeaders().getFirst("Authorization"));
        if (asked == null || !known || !challenge(given.get("code_verifier")).equals(asked.get("code_challenge"))) {
            answer(exchange, 400, "{\"error\":\"invalid_grant\"}");
            return;
        }
        try {
            JWTClaimsSet.Builder set = new JWTClaimsSet.Builder()
                    .issuer(issuer)
                    .audience(List.of("firth"))
                    .subject("s")
                    .issueTime(new Date())
                    .expirationTime(Date.from(Instant.now().plusSeconds(60)))
                    .claim("nonce", nonce == null ? asked.get("nonce") : nonce);
            claims.forEach(set::claim);
            SignedJWT token = new SignedJWT(
                    new JWSHeader.Builder(JWSAlgorithm.RS256).keyID("k").build(), set.build());
            token.sign(new RSASSASigner(key));
            answer(
                    exchange,
                    200,
                    "{\"access_token\":\"a\",\"token_type\":\"Bearer\",\"id_token\":\"" + token.serialize() + "\"}");
        } catch (JOSEException e) {
            throw new IllegalStateException(e);
        }
    }

    private static String challenge(String verifier) {
        try {
            return Base64.getUrlEncoder()
                    .withoutPadding()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void answer(HttpExchange exchange, int status, String body) throws IOException {
        exchange.getResponseHeaders().set("Content-Type", "application/json");
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
        exchange.getResponseBody().write(bytes);
        exchange.close();
    }

    /** Goes where a browser is sent. */
    static URI follow(String location) throws IOException, InterruptedException {
        return URI.create(java.net.http.HttpClient.newHttpClient()
                .send(
                        java.net.http.HttpRequest.newBuilder(URI.create(location))
                                .build(),
                        java.net.http.HttpResponse.BodyHandlers.discarding())
                .headers()
                .firstValue("Location")
                .orElseThrow());
    }

    @Override
    public void stop() {
        server.stop(0);
    }
}
