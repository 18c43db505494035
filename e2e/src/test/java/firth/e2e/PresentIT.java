package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A host falls silent: the pages go on with the clock, and what is promised breaks though nothing comes in. */
class PresentIT {

    private static final String LIST = """
            {"id":"watch","name":"Watch","enabled":true,"mails":["ida@saltmarsh.example"],"webhook":"","secret":"",
            "by":"fleet","of":"","rank":"behind","ends":true,"runsFailed":false,"runsOk":false,
            "quietFrom":"","quietTo":"","zone":"UTC","watchAt":"","report":""}
            """;

    @TempDir
    private Path tree;

    private Path ahead;
    private Harbour harbour;
    private Browser browser;
    private int logs;

    @BeforeEach
    void start() throws IOException, InterruptedException {
        ahead = Files.writeString(tree.resolve("ahead"), "PT0S");
        int mail;
        try (ServerSocket free = new ServerSocket(0)) {
            mail = free.getLocalPort();
        }
        harbour = new Harbour(
                "-Dfirth.clock.ahead=" + ahead,
                "-Dfirth.mail.host=127.0.0.1",
                "-Dfirth.mail.port=" + mail,
                "-Dfirth.mail.from=firth@saltmarsh.example");
        harbour.startServer(0);
        harbour.startMail(mail, tree);
        browser = new Browser();
    }

    @AfterEach
    void stop() throws IOException {
        browser.close();
        harbour.close();
    }

    private Instant now() throws IOException {
        return Instant.now().plus(Duration.parse(Files.readString(ahead))).truncatedTo(ChronoUnit.SECONDS);
    }

    /** The clock moves on, and nothing else happens. */
    private void wait(Duration more) throws IOException {
        Path next = Files.writeString(
                tree.resolve("next"),
                Duration.parse(Files.readString(ahead)).plus(more).toString());
        Files.move(next, ahead, java.nio.file.StandardCopyOption.ATOMIC_MOVE);
    }

    private void take(String... records) throws IOException, InterruptedException {
        var answer = harbour.post("/api/import?source=north-1", "application/x-ndjson", String.join("\n", records));
        assertEquals(200, answer.statusCode(), answer.body());
        assertTrue(answer.body().contains("\"rejectedLines\":0"), answer.body());
    }

    private void fleet() throws IOException, InterruptedException {
        Instant from = now().minus(Duration.ofHours(2));
        take(
                "{\"type\":\"store\",\"id\":\"near\",\"name\":\"Quay near\",\"role\":\"near\"}",
                "{\"type\":\"policy\",\"id\":\"sailings\",\"version\":1,\"effectiveFrom\":\"" + from
                        + "\",\"name\":\"Sailings\",\"objective\":{\"mishap\":\"PT15M\"},\"schedules\":[{\"id\":\"logs\","
                        + "\"kind\":\"log\",\"every\":\"PT10M\"}],\"retain\":[{\"role\":\"near\",\"reach\":\"P7D\"}]}",
                "{\"type\":\"database\",\"id\":\"berths\",\"name\":\"berths\",\"zone\":\"UTC\",\"host\":\"north-1\","
                        + "\"policy\":\"sailings\",\"inServiceFrom\":\"" + from + "\"}",
                "{\"type\":\"backup\",\"id\":\"full\",\"database\":\"berths\",\"kind\":\"full\",\"started\":\"" + from
                        + "\",\"ended\":\"" + from
                        + "\",\"from\":0,\"to\":1,\"selfContained\":true,\"copies\":[{\"store\":\"near\",\"landed\":\""
                        + from
                        + "\"}]}");
        log(from, now());
    }

    private void log(Instant from, Instant to) throws IOException, InterruptedException {
        logs++;
        take("{\"type\":\"backup\",\"id\":\"log-" + logs + "\",\"database\":\"berths\",\"kind\":\"log\",\"started\":\""
                + to
                + "\",\"ended\":\"" + to + "\",\"from\":" + logs + ",\"to\":" + (logs + 1) + ",\"fromTime\":\"" + from
                + "\",\"toTime\":\"" + to + "\",\"copies\":[{\"store\":\"near\",\"landed\":\"" + to + "\"}]}");
    }

    private void ask() throws IOException, InterruptedException {
        harbour.post("/api/runners/north-1/work?every=PT1M", "application/json", "");
        harbour.put("/api/runners/north-1/policies/sailings", "{\"version\":1}");
    }

    private String mails() {
        Path box = tree.resolve("mail");
        if (!Files.isDirectory(box)) {
            return "";
        }
        try (Stream<Path> all = Files.list(box)) {
            StringBuilder out = new StringBuilder();
            for (File mail : all.map(Path::toFile).sorted().toList()) {
                out.append(Files.readString(mail.toPath(), StandardCharsets.UTF_8));
            }
            return out.toString();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void seeAge(String age) {
        browser.until(() -> browser.all("[data-row='berths']").stream()
                        .anyMatch(r -> r.getText().matches("(?s).*at least\\s+" + age + ".*"))
                ? true
                : null);
    }

    @Test
    void agesGrowAndPromisesBreakWhileNobodyTellsAnything() throws IOException, InterruptedException {
        Instant last = now();
        fleet();
        browser.open(harbour.address("/cover"));
        browser.seeText("[role='status']", "No program has reported here yet");
        ask();
        harbour.put("/api/sending/lists/watch", LIST);
        browser.open(harbour.address("/watch"));
        browser.until(() -> browser.all("main").stream()
                        .anyMatch(m -> !m.getText().contains("would be lost")
                                && m.getText().contains("Watch"))
                ? true
                : null);
        assertTrue(
                browser.all("[role='status']").stream()
                        .noneMatch(e -> e.getText().contains("No program has reported")),
                "a program has reported");

        wait(Duration.ofMinutes(20));
        browser.seeText("main", "would be lost");
        browser.seeText("main", "1 broken now");
        browser.seeText("main", "the runner on north-1 is silent");
        browser.until(() -> mails().contains("berths") ? true : null);
        assertTrue(mails().contains("would be lost"), mails());
        browser.picture("watch-silent");

        browser.open(harbour.address("/cover"));
        seeAge("2\\d min");
        wait(Duration.ofMinutes(10));
        seeAge("3\\d min");
        browser.picture("cover-silent");
        browser.open(harbour.address("/gaps"));
        browser.seeText("[data-gap='berths']", "logs stopped");
        browser.seeText("[data-gap='berths']", "so far");
        browser.picture("gaps-silent");
        browser.open(harbour.address("/cover"));
        seeAge("3\\d min");

        ask();
        log(last, now());
        browser.until(() -> browser.all("[data-row='berths']").stream()
                        .noneMatch(r -> r.getText().contains("at least"))
                ? true
                : null);
        browser.open(harbour.address("/watch"));
        browser.until(() -> browser.all("main").stream()
                        .anyMatch(m ->
                                m.getText().contains("Watch") && !m.getText().contains("would be lost"))
                ? true
                : null);
        browser.until(() -> mails().contains("no longer") ? true : null);
        assertEquals(List.of(), browser.complaints());
    }

    private String section(String name) {
        return browser.all("section[aria-label='" + name + "']").stream()
                .map(org.openqa.selenium.WebElement::getText)
                .findFirst()
                .orElse("");
    }

    private void probe(Duration left) throws IOException, InterruptedException {
        take(
                "{\"type\":\"probe\",\"id\":\"north-1:berths\",\"database\":\"berths\",\"source\":\"runner on north-1\",\"at\":\""
                        + now() + "\",\"logs\":\"on\",\"logDisk\":{\"freeBytes\":" + left.toSeconds() * 100_000
                        + ",\"fillBytesPerSecond\":100000}}");
    }

    /** Archiving fails: the log disk fills, and the moment at which it is full stands among what will break. */
    @Test
    void aLogDiskThatFillsWhileArchivingFailsIsAmongTheFirst() throws IOException, InterruptedException {
        fleet();
        ask();
        probe(Duration.ofHours(9));
        browser.open(harbour.address("/watch"));
        browser.until(() -> section("Besides").contains("its log disk is filling") ? true : null);
        assertTrue(section("Besides").contains("with nothing archived"), section("Besides"));
        assertEquals("", section("Will break"));

        wait(Duration.ofMinutes(30));
        ask();
        Instant tried = now();
        take("{\"type\":\"run\",\"id\":\"failing\",\"database\":\"berths\",\"kind\":\"log\",\"started\":\""
                + tried.minusSeconds(9) + "\",\"ended\":\"" + tried
                + "\",\"outcome\":\"failed\",\"message\":\"no room left in the store\"}");
        probe(Duration.ofMinutes(510));
        browser.until(() -> section("Will break").contains("its log disk is filling") ? true : null);
        String will = section("Will break");
        assertTrue(will.contains("the log disk is full on") && will.contains("breaks "), will);
        assertTrue(!will.contains("with nothing archived"), will);
        assertTrue(section("Broken now").contains("would be lost"), section("Broken now"));
        assertTrue(!section("Besides").contains("log disk"), section("Besides"));
        browser.seeText("main", "1 broken now · 1 will break");
        browser.picture("watch-log-disk");
        assertEquals(List.of(), browser.complaints());
    }
}
