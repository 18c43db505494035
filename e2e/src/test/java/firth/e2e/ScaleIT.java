package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.support.ui.Select;

/**
 * Cover of a fleet of 5 000 databases, and its pages; these alone of another number with {@code -Dfirth.databases=N}. What it takes is
 * printed, and kept where {@code -Dfirth.figures=FILE} asks for it.
 */
class ScaleIT {

    private static final int DATABASES = Integer.getInteger("firth.databases", 5_000);
    private static final int HOURS = 24;
    /** Some while ago, so that what comes after it has happened, too. */
    private static Instant end;

    /** How long the server is watched while something comes. */
    private static final Duration WATCHED = Duration.ofSeconds(90);

    /** How long while nothing does: as long as an answer stands at most. */
    private static final Duration IDLE = Duration.ofMinutes(21);

    private static final List<String> PAGES = List.of(
            "/watch",
            "/needs",
            "/cover",
            "/gaps",
            "/history",
            "/databases/db-0050",
            "/fleet",
            "/policies",
            "/policies/p1",
            "/week",
            "/stores",
            "/purge",
            "/restore",
            "/drills",
            "/report",
            "/sheets",
            "/record",
            "/sending");

    /** What a page may have, however large the fleet. */
    private static final double MOST_NODES = 8_000;

    @TempDir
    private static Path directory;

    private static Firth firth;
    private static Browser browser;

    @BeforeAll
    static void start() throws Exception {
        end = Instant.now().truncatedTo(ChronoUnit.MINUTES).minus(Duration.ofMinutes(45));
        firth = Firth.start(false);
        browser = new Browser();
        Path fleet = directory.resolve("fleet.ndjson");
        try (Writer out = Files.newBufferedWriter(fleet)) {
            write(out);
        }
        send(HttpRequest.BodyPublishers.ofFile(fleet));
    }

    @AfterAll
    static void stop() throws IOException {
        browser.close();
        firth.close();
    }

    private static void send(HttpRequest.BodyPublisher body) throws Exception {
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(firth.address("/api/import?source=scale")))
                                .header("content-type", "application/x-ndjson")
                                .POST(body)
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        assertTrue(answer.body().contains("\"rejectedLines\":0"), answer.body());
    }

    /** An hour of logs is missing from every hundredth. */
    private static void write(Writer out) throws IOException {
        out.write("""
                {"type":"site","id":"north","name":"Northquay"}
                {"type":"site","id":"south","name":"Southquay"}
                {"type":"store","id":"near","name":"Quay near","site":"north","medium":"disk","role":"near","readBytesPerSecond":4e8}
                """);
        for (int p = 0; p < 10; p++) {
            out.write("""
                    {"type":"policy","id":"p%d","version":1,"effectiveFrom":"2026-01-01T00:00:00Z","name":"Class %d","objective":{"mishap":"PT%dM"},\
                    "schedules":[{"id":"logs","kind":"log","every":"PT1H","grace":"PT5M"}],"retain":[{"role":"near","reach":"P3D"}]}
                    """.formatted(p, p, 70 + p));
        }
        Instant begin = end.minus(Duration.ofHours(HOURS));
        for (int d = 0; d < DATABASES; d++) {
            String id = "db-%04d".formatted(d);
            out.write("""
                    {"type":"database","id":"%s","name":"%s","engine":"%s","site":"%s","zone":"UTC","policy":"p%d","replayBytesPerSecond":5e7,"inServiceFrom":"%s","labels":{"class":"c%d"}}
                    {"type":"backup","id":"%s-full","database":"%s","kind":"full","bytes":5e10,"ended":"%s","to":0,"copies":[{"store":"near"}]}
                    """.formatted(
                            id,
                            id,
                            d % 2 == 0 ? "PostgreSQL 16" : "MariaDB 11",
                            d % 4 == 0 ? "south" : "north",
                            d % 10,
                            begin,
                            d % 7,
                            id,
                            id,
                            begin.plusSeconds(60)));
            for (int h = 0; h < HOURS; h++) {
                if (d % 100 != 0 || h != HOURS / 2) {
                    out.write(log(id, h, begin.plus(Duration.ofHours(h)), begin.plus(Duration.ofHours(h + 1))));
                }
            }
        }
    }

    private static String log(String id, int n, Instant from, Instant to) {
        return """
                {"type":"backup","id":"%s-log-%d","database":"%s","kind":"log","bytes":1e7,"from":%d,"to":%d,"fromTime":"%s","toTime":"%s","copies":[{"store":"near"}]}
                """.formatted(id, n, id, 10 * n, 10 * n + 10, from, to);
    }

    @Test
    void drawsWhatIsInSightAndFollowsWhatComes() throws Exception {
        browser.open(firth.address("/cover?period=P1D"));
        browser.see("[data-row='db-0000']");
        browser.open(firth.address("/cover?period=P1D"));
        browser.see("[data-row='db-0000']");
        double painted = number("return performance.getEntriesByName('first-contentful-paint')[0].startTime");
        double rows = number("return performance.now()");
        assertTrue(
                browser.all("[data-row]").size() < 100,
                browser.all("[data-row]").size() + " rows are drawn");
        browser.picture("scale");

        double frames = number("""
                return new Promise(resolve => {
                  const times = []; let at = performance.now(); let top = 0;
                  const step = () => {
                    const now = performance.now(); times.push(now - at); at = now;
                    top += 60; window.scrollTo(0, top);
                    if (times.length < 120) requestAnimationFrame(step);
                    else resolve(times.sort((a, b) => a - b)[113]);
                  };
                  requestAnimationFrame(step);
                });
                """);
        for (String last : List.of("db-4993", "db-4997")) {
            scrollTo(last);
            browser.seeText("main button", "List more of the").click();
        }
        scrollTo("db-4999");
        assertTrue(browser.all("[data-row]").size() < 100, "only those in sight are drawn");

        browser.script("window.scrollTo(0, 0)");
        new Select(browser.see("select[aria-label='grade']")).selectByValue("behind");
        browser.seeText("[role='status']", "50 of 5");
        assertEquals(50, browser.all("[data-row]").size());
        browser.seeText("[role='status'] button", "Show all").click();
        browser.see("[data-row='db-0010']");

        String before = browser.see("[data-row='db-0010']").getText();
        Instant sent = Instant.now();
        send(HttpRequest.BodyPublishers.ofString(log("db-0010", HOURS, end, end.plus(Duration.ofMinutes(30)))));
        browser.until(() -> browser.see("[data-row='db-0010']").getText().equals(before) ? null : true);
        double followed = Duration.between(sent, Instant.now()).toMillis();
        tell(
                "%d databases: first paint %.0f ms, rows %.0f ms, 95 of 100 frames within %.1f ms while scrolling,"
                        + " a log that landed on screen after %.0f ms",
                DATABASES, painted, rows, frames, followed);
        if (System.getProperty("firth.figures") != null) {
            goesByTheClock();
        }
        assertEquals(List.of(), browser.complaints());
    }

    /** To the end of what is listed, however much longer it becomes meanwhile. */
    private static void scrollTo(String last) {
        browser.until(() -> {
            browser.script("window.scrollTo(0, document.body.scrollHeight)");
            return browser.all("[data-row='" + last + "']").isEmpty() ? null : true;
        });
    }

    /** Each opened twice; what the first took is not told, for the programs of the page were still to come. */
    @Test
    void everyPageFitsAScreen() throws Exception {
        StringBuilder told = new StringBuilder();
        for (String page : PAGES) {
            for (int i = 0; i < 2; i++) {
                browser.open(firth.address(page));
                browser.see("main h1");
                browser.until(() -> browser.all("main .animate-pulse, main[aria-busy='true']")
                                .isEmpty()
                        ? true
                        : null);
            }
            told.append(String.format(Locale.ROOT, " %s %.0f", page, number("return performance.now()")));
            double nodes = number("return document.querySelectorAll('*').length");
            assertTrue(nodes < MOST_NODES, page + " has " + nodes + " nodes");
        }
        tell("%d databases, milliseconds to content:%s", DATABASES, told);
    }

    /** Once a program has reported, pages stand at the clock. */
    private void goesByTheClock() throws Exception {
        get(HttpRequest.newBuilder(URI.create(firth.address("/api/runners/north-1/work")))
                .POST(HttpRequest.BodyPublishers.noBody())
                .build());
        browser.open(firth.address("/cover?period=P1D"));
        browser.see("[data-row='db-0020']");
        double painted = number("return performance.getEntriesByName('first-contentful-paint')[0].startTime");
        // The first answers by the clock are worked out before what comes is timed.
        Thread.sleep(20_000);
        assertTrue(age("db-0020").endsWith(" min"), age("db-0020"));
        Instant sent = Instant.now();
        send(HttpRequest.BodyPublishers.ofString(log("db-0020", HOURS, end, Instant.now())));
        browser.until(() -> age("db-0020").endsWith(" s") ? true : null);
        tell(
                "%d databases by the clock: first paint %.0f ms, a log that landed on screen after %d ms",
                DATABASES, painted, Duration.between(sent, Instant.now()).toMillis());
        Duration busy = firth.cpuOver(
                WATCHED,
                n -> send(HttpRequest.BodyPublishers.ofString(
                        log("db-%04d".formatted(30 + n), HOURS, end, Instant.now()))));
        browser.open("about:blank");
        // What the last of it set off is over; from here on every answer is looked at anew at least once.
        Thread.sleep(60_000);
        Duration idle = firth.cpuOver(IDLE, n -> {});
        tell(
                "%d databases by the clock: a log a second and Cover open take %.1f %% of one core, nothing and nobody %.2f %%",
                DATABASES, share(busy, WATCHED), share(idle, IDLE));
    }

    private static String age(String database) {
        return browser.all("[data-row='" + database + "'] td").get(1).getText();
    }

    private static double share(Duration cpu, Duration watched) {
        return 100.0 * cpu.toMillis() / watched.toMillis();
    }

    @Test
    void rehearsesTheLossOfASite() throws Exception {
        String losing =
                "{\"title\":\"\",\"sites\":[\"south\"],\"stores\":[],\"hosts\":[],\"unlocked\":false,\"sideBySide\":8}";
        Instant begun = Instant.now();
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(firth.address("/api/rehearsals")))
                                .header("content-type", "application/json")
                                .POST(HttpRequest.BodyPublishers.ofString(losing))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        assertEquals(200, answer.statusCode(), answer.body());
        String id = answer.body().replaceFirst(".*\"id\":\"([^\"]+)\".*", "$1");
        HttpRequest look = HttpRequest.newBuilder(URI.create(firth.address("/api/rehearsals/" + id)))
                .build();
        browser.until(() -> get(look).contains("\"result\":{") ? true : null);
        double done = Duration.between(begun, Instant.now()).toMillis() / 1000.0;
        browser.open(firth.address("/rehearsals?rehearsal=" + id));
        browser.seeText("[data-testid='rehearsal-summary']", "databases are down");
        assertEquals(50, browser.all("[data-rehearsed] svg").size());
        browser.seeText("main button", "Show 50 more of 1").click();
        browser.until(() -> browser.all("[data-rehearsed] svg").size() == 100 ? true : null);
        tell(
                "%d databases: the loss of a site rehearsed after %.1f s, on screen after %.1f s",
                DATABASES, done, Duration.between(begun, Instant.now()).toMillis() / 1000.0);
    }

    private static String get(HttpRequest request) {
        try {
            return HttpClient.newHttpClient()
                    .send(request, HttpResponse.BodyHandlers.ofString())
                    .body();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    private static double number(String script) {
        return ((Number) browser.script(script)).doubleValue();
    }

    private static void tell(String format, Object... figures) throws IOException {
        String line = String.format(Locale.ROOT, format, figures);
        System.out.println(line);
        String file = System.getProperty("firth.figures");
        if (file != null) {
            Files.writeString(Path.of(file), line + "\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        }
    }
}
