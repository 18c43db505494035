package firth.server.sending;

import static firth.server.people.Being.being;
import static io.restassured.RestAssured.given;
import static org.awaitility.Awaitility.await;
import static org.hamcrest.Matchers.containsString;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.hasItem;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.sun.net.httpserver.HttpServer;
import firth.server.DemoFleet;
import io.quarkus.test.junit.QuarkusTest;
import io.quarkus.test.junit.TestProfile;
import io.restassured.path.json.JsonPath;
import jakarta.inject.Inject;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Mail to a real SMTP server and events to a real address, each once. */
@QuarkusTest
@TestProfile(Posted.class)
class SendingTest {

    @Inject
    Sending sending;

    @Inject
    MessageWriter composing;

    @Inject
    SendLists lists;

    @Inject
    firth.server.platform.FactsHolder facts;

    private static Map<String, Object> list(Map<String, Object> change) {
        Map<String, Object> out = new HashMap<>(Map.ofEntries(
                Map.entry("id", ""),
                Map.entry("name", "Night watch"),
                Map.entry("enabled", true),
                Map.entry("mails", List.of("watch@saltmarsh.example")),
                Map.entry("webhook", ""),
                Map.entry("secret", ""),
                Map.entry("by", "fleet"),
                Map.entry("of", ""),
                Map.entry("rank", ""),
                Map.entry("ends", false),
                Map.entry("runsFailed", false),
                Map.entry("runsOk", false),
                Map.entry("quietFrom", ""),
                Map.entry("quietTo", ""),
                Map.entry("zone", "UTC"),
                Map.entry("watchAt", ""),
                Map.entry("report", "")));
        out.putAll(change);
        return out;
    }

    private static void put(String id, Map<String, Object> change) {
        being("ines").body(list(change)).put("/api/sending/lists/" + id).then().statusCode(200);
        untilTheNextSecond();
    }

    /** What is told began after a list was there, and is sent after it began: to the second. */
    private static void untilTheNextSecond() {
        Instant now = now();
        await().until(() -> now().isAfter(now));
    }

    /** The made-up ones, too. */
    @BeforeEach
    @AfterEach
    void removeLists() {
        given().get("/api/sending")
                .jsonPath()
                .<String>getList("lists.id")
                .forEach(id ->
                        being("ines").delete("/api/sending/lists/" + id).then().statusCode(204));
    }

    private static MimeMessage[] mails() {
        return Posted.MailServer.mails.getReceivedMessages();
    }

    private static void fail(String run, Instant ended) {
        String line = "{\"type\":\"run\",\"id\":\"" + run + "\",\"database\":\"tides\",\"kind\":\"full\",\"started\":\""
                + ended.minusSeconds(60) + "\",\"ended\":\"" + ended
                + "\",\"outcome\":\"failed\",\"message\":\"the store did not answer\"}";
        being("ines")
                .contentType("application/x-ndjson")
                .body(line.getBytes(StandardCharsets.UTF_8))
                .post("/api/import")
                .then()
                .statusCode(200);
    }

    private static Instant now() {
        return DemoFleet.now().truncatedTo(ChronoUnit.SECONDS);
    }

    @Test
    void aRunThatFailsIsToldOnceByMailWithTextAndPage() throws Exception {
        put("night", Map.of("runsFailed", true));
        int before = mails().length;
        fail("tides-broken", now());
        sending.round();
        sending.round();
        assertEquals(before + 1, mails().length, "once");
        MimeMessage mail = mails()[before];
        assertTrue(mail.getSubject().startsWith("Firth: tides: a run of kind full failed"), mail.getSubject());
        assertEquals("firth@saltmarsh.example", mail.getFrom()[0].toString());
        Multipart both = (Multipart) mail.getContent();
        assertTrue(both.getBodyPart(0).getContentType().startsWith("text/plain"));
        assertTrue(both.getBodyPart(0).getContent().toString().contains("the store did not answer"));
        assertTrue(both.getBodyPart(1).getContentType().startsWith("text/html"));
        given().get("/api/sending").then().body("sent[0].state", equalTo("sent"));
    }

    @Test
    void theMorningWatchHasTheFiguresOfFirthCheckAndComesOnceADay() throws Exception {
        ZonedDateTime local = DemoFleet.now().atZone(ZoneOffset.UTC);
        String soon = local.plusSeconds(15).format(java.time.format.DateTimeFormatter.ofPattern("HH:mm:ss"));
        put("morning", Map.of("watchAt", soon));
        int before = mails().length;
        await().atMost(Duration.ofSeconds(30))
                .pollInterval(Duration.ofMillis(500))
                .until(() -> {
                    sending.round();
                    return mails().length > before;
                });
        sending.round();
        assertEquals(before + 1, mails().length);
        String text = (String)
                ((Multipart) mails()[before].getContent()).getBodyPart(0).getContent();
        JsonPath checked = given().get("/api/evaluations").jsonPath();
        for (String id : List.of("berths", "bookings", "fuel")) {
            String row = "databases.find { it.id == '" + id + "' }.";
            double kept = checked.getDouble(row + "hazards.mishap.achieved.attainment");
            String said = String.format(java.util.Locale.ROOT, "%.2f %%", Math.floor(kept * 10_000) / 100);
            String line = text.lines()
                    .filter(l -> l.startsWith("Database: " + id + ";"))
                    .findFirst()
                    .orElseThrow();
            assertTrue(line.contains("Grade: " + checked.getString(row + "grade")), line);
            assertTrue(line.contains("Kept: " + said), line);
        }
        assertTrue(text.contains("things need somebody") || text.contains("One thing needs"), text);
    }

    @Test
    void aReportGoesAlongAsAPageOfItsOwn() throws Exception {
        put("owners", Map.of("report", "weekly"));
        Instant now = now();
        facts.store()
                .outbox()
                .add(List.of(composing.report(
                        lists.one("owners").orElseThrow().list(), java.time.LocalDate.of(2026, 11, 16), now)));
        int before = mails().length;
        sending.deliver();
        assertEquals(before + 1, mails().length);
        MimeMessage mail = mails()[before];
        assertEquals("Firth: report of the week from 2026-11-09", mail.getSubject());
        Multipart parts = (Multipart) mail.getContent();
        assertEquals("report.html", parts.getBodyPart(1).getFileName());
        String page = parts.getBodyPart(1).getContent().toString();
        String made = given().get(
                        "/api/reports/made/report.html?by=fleet&from=2026-11-09T00:00:00Z&to=2026-11-16T00:00:00Z&asOf="
                                + now)
                .asString();
        assertEquals(made, page.replace("\r\n", "\n"), "the same page as on the screen");
    }

    @Test
    void findingsThatBeginGoToAWebhookSignedAndAreTriedAgain() throws Exception {
        List<Map<String, String>> got = new CopyOnWriteArrayList<>();
        AtomicInteger answers = new AtomicInteger(500);
        HttpServer hook = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        hook.createContext("/", exchange -> {
            byte[] body = exchange.getRequestBody().readAllBytes();
            got.add(Map.of(
                    "body", new String(body, StandardCharsets.UTF_8),
                    "id", exchange.getRequestHeaders().getFirst("webhook-id"),
                    "at", exchange.getRequestHeaders().getFirst("webhook-timestamp"),
                    "signature", exchange.getRequestHeaders().getFirst("webhook-signature"),
                    "type", exchange.getRequestHeaders().getFirst("content-type")));
            exchange.sendResponseHeaders(answers.get(), -1);
            exchange.close();
        });
        hook.start();
        try {
            sending.notice();
            put(
                    "hook",
                    Map.of(
                            "mails",
                            List.of(),
                            "webhook",
                            "http://127.0.0.1:" + hook.getAddress().getPort() + "/in",
                            "rank",
                            "unusual",
                            "ends",
                            true));
            String note = "{\"type\":\"drill\",\"id\":\"hook-drill\",\"database\":\"berths\",\"ended\":\"" + now()
                    + "\",\"outcome\":\"failed\"}";
            being("ines")
                    .contentType("application/x-ndjson")
                    .body(note.getBytes(StandardCharsets.UTF_8))
                    .post("/api/import");
            untilTheNextSecond();
            sending.round();
            String failed = "sent.findAll { it.list == 'hook' && it.title.contains('its last drill failed') }";
            given().get("/api/sending")
                    .then()
                    .body(failed + ".state", hasItem("waiting"))
                    .body(failed + ".told", hasItem(containsString("answered 500")));
            given().get("/api/watch").then().body("findings.code", hasItem("sending-failed"));
            Map<String, String> one = got.stream()
                    .filter(g -> g.get("body").contains("its last drill failed"))
                    .findFirst()
                    .orElseThrow();
            JsonNode event = new ObjectMapper().readTree(one.get("body"));
            assertEquals("firth.finding.began", event.path("type").asText());
            assertEquals("1.0", event.path("specversion").asText());
            assertEquals("berths", event.path("data").path("databases").path(0).asText());
            assertTrue(one.get("type").startsWith("application/cloudevents+json"));
            String secret = being("ines").get("/api/sending/lists/hook/secret").asString();
            assertEquals(
                    "v1,"
                            + MessageDelivery.signature(
                                    secret,
                                    one.get("id") + "." + one.get("at") + ".",
                                    one.get("body").getBytes(StandardCharsets.UTF_8)),
                    one.get("signature"));
            int tried = got.size();
            sending.round();
            long same = got.stream()
                    .skip(tried)
                    .filter(g -> g.get("id").equals(one.get("id")))
                    .count();
            assertEquals(0, same, "not before its time");
        } finally {
            hook.stop(0);
        }
    }

    @Test
    void whatCannotBeIsSaid() throws Exception {
        for (Map<String, Object> bad : List.<Map<String, Object>>of(
                Map.of("mails", List.of("nobody")),
                Map.of("mails", List.of()),
                Map.of("webhook", "ftp://x"),
                Map.of("zone", "Atlantis"),
                Map.of("quietFrom", "22:00"),
                Map.of("watchAt", "soon"),
                Map.of("rank", "bad"),
                Map.of("name", ""))) {
            being("ines").body(list(bad)).put("/api/sending/lists/bad").then().statusCode(400);
        }
        being("oona").body(list(Map.of())).put("/api/sending/lists/x").then().statusCode(403);
        being("ines").delete("/api/sending/lists/none").then().statusCode(404);
        put("try", Map.of());
        int before = mails().length;
        being("ines").post("/api/sending/lists/try/try").then().body("sent", equalTo(true));
        assertEquals(before + 1, mails().length);
        assertTrue(GreenMailUtil.getBody(mails()[before]).contains("Night watch"));
    }

    @Test
    void metricsAreOpenMetricsWithTheFiguresOfTheCover() {
        String text = given().get("/metrics").then().statusCode(200).extract().asString();
        assertTrue(text.endsWith("# EOF\n"), "as OpenMetrics ends");
        JsonPath cover = given().get("/api/cover?most=40").jsonPath();
        String attainment =
                cover.getString("rows.find { it.id == 'berths' }.hazards.find { it.hazard == 'mishap' }.attainment");
        String line = text.lines()
                .filter(l -> l.startsWith("firth_attainment_ratio{database=\"berths\",hazard=\"mishap\"}"))
                .findFirst()
                .orElseThrow();
        assertEquals(Float.parseFloat(attainment), Float.parseFloat(line.substring(line.indexOf('}') + 2)), 1e-6);
        long databases = text.lines()
                .filter(l -> l.startsWith("firth_databases{"))
                .mapToLong(l -> (long) Double.parseDouble(l.substring(l.indexOf('}') + 2)))
                .sum();
        assertEquals(cover.getLong("databases"), databases);
        given().get("/metrics").then().header("content-type", containsString("application/openmetrics-text"));
    }

    @Test
    void recoverySheetsSayWhereEverythingLies() {
        being("ines").post("/api/sheets").then().statusCode(200).body("trouble", equalTo(""));
        String text = given().get("/api/sheets/database-bookings.txt").asString();
        assertTrue(text.contains("Recovery sheet: bookings"), text);
        assertTrue(text.contains("/harbour-far/bookings/") && text.contains("quay-2026"), text);
        String page = given().get("/api/sheets/site-northquay.html").asString();
        assertTrue(page.contains("bookings") && !page.contains("<script"), page);
        given().get("/api/sheets/nothing.html").then().statusCode(404);
        String token = firth.server.people.Being.agentAt("harbour-far");
        firth.server.people.Being.program(token)
                .get("/api/agents/harbour-far/sheets")
                .then()
                .statusCode(200)
                .body("name", hasItem("database-bookings"));
        firth.server.people.Being.program(token)
                .get("/api/agents/quay-near/sheets")
                .then()
                .statusCode(403);
    }
}
