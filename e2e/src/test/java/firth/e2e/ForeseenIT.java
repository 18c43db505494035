package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** What the page of a policy says is to come, and the month that then comes. */
class ForeseenIT {

    private static final Duration HOUR = Duration.ofHours(1);
    private static final Duration DAY = Duration.ofDays(1);
    private static final int BEFORE = 45;
    private static final List<String> DATABASES = List.of("ledger", "tides");

    @TempDir
    private Path tree;

    private Path ahead;
    private Harbour harbour;
    private Browser browser;

    @BeforeEach
    void start() throws IOException, InterruptedException {
        ahead = Files.writeString(tree.resolve("ahead"), "PT0S");
        harbour = new Harbour("-Dfirth.clock.ahead=" + ahead);
        harbour.startServer(0);
        browser = new Browser();
    }

    @AfterEach
    void stop() throws IOException {
        browser.close();
        harbour.close();
    }

    private void clock(Duration by) throws IOException {
        Path next = Files.writeString(tree.resolve("next"), by.toString());
        Files.move(next, ahead, StandardCopyOption.ATOMIC_MOVE);
    }

    private void take(List<String> records) throws IOException, InterruptedException {
        var answer = harbour.post("/api/import?source=test", "application/x-ndjson", String.join("\n", records));
        assertEquals(200, answer.statusCode(), answer.body());
        assertTrue(answer.body().contains("\"rejectedLines\":0"), answer.body());
    }

    private static long position(Instant moment) {
        return moment.getEpochSecond();
    }

    private static String copies(Instant landed, Optional<Instant> gone) {
        return "\"copies\":[{\"store\":\"near\",\"landed\":\"" + landed + "\""
                + gone.map(g -> ",\"gone\":\"" + g + "\"").orElse("") + "}]}";
    }

    private static String full(String database, Instant ended, Optional<Instant> gone) {
        Instant started = ended.minusSeconds(600);
        return String.format(
                Locale.ROOT,
                "{\"type\":\"backup\",\"id\":\"%s-full-%s\",\"database\":\"%s\",\"kind\":\"full\",\"started\":\"%s\","
                        + "\"ended\":\"%s\",\"bytes\":1e9,\"from\":%d,\"to\":%d,%s",
                database,
                ended.getEpochSecond(),
                database,
                started,
                ended,
                position(started),
                position(ended),
                copies(ended, gone));
    }

    private static String log(String database, Instant to, Optional<Instant> gone) {
        Instant from = to.minus(HOUR);
        return String.format(
                Locale.ROOT,
                "{\"type\":\"backup\",\"id\":\"%s-log-%s\",\"database\":\"%s\",\"kind\":\"log\",\"started\":\"%s\","
                        + "\"ended\":\"%s\",\"bytes\":1e7,\"from\":%d,\"to\":%d,\"fromTime\":\"%s\",\"toTime\":\"%s\",%s",
                database,
                to.getEpochSecond(),
                database,
                to,
                to,
                position(from),
                position(to),
                from,
                to,
                copies(to.plusSeconds(30), gone));
    }

    /** The last noon: far from the nights, whenever this is run. */
    private static Instant noon() {
        return Instant.now()
                .minus(Duration.ofHours(12))
                .truncatedTo(ChronoUnit.DAYS)
                .plus(Duration.ofHours(12));
    }

    /** Ends of the fulls of a stretch: each night at 22:10. */
    private static List<Instant> nights(Instant from, Instant to) {
        List<Instant> out = new ArrayList<>();
        ZonedDateTime at = from.atZone(ZoneOffset.UTC).with(LocalTime.of(22, 10));
        for (Instant t = at.toInstant(); !t.isAfter(to); t = t.plus(DAY)) {
            if (t.isAfter(from)) {
                out.add(t);
            }
        }
        return out;
    }

    /** What is taken in a stretch, or, where it is deleted, that it was. */
    private static List<String> backups(Instant from, Instant to, Optional<Instant> gone) {
        List<String> out = new ArrayList<>();
        for (String database : DATABASES) {
            nights(from, to).forEach(end -> out.add(full(database, end, gone)));
            for (Instant t = from.plus(HOUR); !t.isAfter(to); t = t.plus(HOUR)) {
                out.add(log(database, t, gone));
            }
        }
        return out;
    }

    /** The newest full that lets one go back so many days. */
    private static Instant anchor(Instant now, int days) {
        List<Instant> before = nights(now.minus(Duration.ofDays(days + 2)), now.minus(Duration.ofDays(days)));
        return before.get(before.size() - 1);
    }

    private void fleet(Instant from, Instant now) throws IOException, InterruptedException {
        List<String> records = new ArrayList<>(List.of(
                "{\"type\":\"store\",\"id\":\"near\",\"name\":\"Quay near\",\"role\":\"near\",\"medium\":\"disk\"}",
                "{\"type\":\"policy\",\"id\":\"sailings\",\"version\":1,\"effectiveFrom\":\"" + from
                        + "\",\"name\":\"Sailings\",\"objective\":{\"mishap\":\"PT2H\",\"reach\":\"P21D\"},\"schedules\":["
                        + "{\"id\":\"nightly\",\"kind\":\"full\",\"cron\":\"0 22 * * *\",\"within\":\"PT2H\"},"
                        + "{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT1H\"}],"
                        + "\"retain\":[{\"role\":\"near\",\"reach\":\"P21D\"}]}"));
        for (String database : DATABASES) {
            records.add("{\"type\":\"database\",\"id\":\"" + database + "\",\"name\":\"" + database
                    + "\",\"zone\":\"UTC\",\"policy\":\"sailings\",\"inServiceFrom\":\"" + from + "\"}");
        }
        records.addAll(backups(from, now, Optional.empty()));
        take(records);
    }

    /** Waits for a row of figures that begins so: what is to come comes after what was. */
    private void shows(String figures) {
        browser.until(() -> browser.all("[data-testid='consequence'] tbody tr").stream()
                .map(WebElement::getText)
                .filter(t -> t.startsWith(figures))
                .findFirst()
                .orElse(null));
    }

    private void write(String label, String text) {
        browser.script("arguments[0].focus()", browser.see("button[aria-label^='" + label + "']"));
        browser.press(Keys.ENTER);
        browser.see("input[aria-label='" + label + "']");
        browser.press(text, Keys.ENTER);
    }

    private void press(String css, String text) {
        browser.script("arguments[0].focus()", browser.seeText(css, text));
        browser.press(Keys.ENTER);
    }

    @Test
    void whatARetentionBelowThePromiseLosesIsSaidByNameAndIsWhatIsLost() throws Exception {
        Instant now = noon();
        Instant from = now.minus(Duration.ofDays(BEFORE));
        fleet(from, now);
        Instant kept = anchor(now, 7);
        Instant asItWas = anchor(now, 21);

        browser.open(harbour.address("/policies/sailings"));
        shows("Reach kept 2 of 2 2 of 2");
        write("near stores: reach", "7 days");
        String lost = browser.seeText("[data-testid='lost']", "ledger").getText();
        for (String database : DATABASES) {
            assertTrue(lost.contains(database + ": "), lost);
        }
        assertTrue(lost.contains(dayOf(asItWas)) && lost.contains(dayOf(kept)), lost);
        assertTrue(lost.contains("of it promised"), lost);
        shows("Reach kept 2 of 2 2 of 2 0 of 2");
        shows("Time within objective 100.0 % 100.0 % 100.0 %");
        shows("Slots kept " + count(nights(now.minus(DAY.multipliedBy(30)), now)) + " ");
        assertTrue(browser.see("[data-testid='worse']").getText().contains("ledger: reach"));
        browser.picture("foreseen");

        press("button", "Put in force");
        WebElement form = browser.see("form[aria-label='Put in force']");
        InBrowser.say(form, "Why", "room is short");
        InBrowser.say(form, "Why although", "the promise is to be shortened next week");
        press("form[aria-label='Put in force'] button", "Put version 2 in force");
        browser.seeText("[role='status']", "Version 2 is in force");

        // Whoever keeps the store goes by the rules: the same hour what no rule needs is gone.
        clock(HOUR);
        Instant deleted = now.plus(Duration.ofMinutes(30));
        take(backups(from, kept.minus(DAY), Optional.of(deleted)));
        assertEquals(kept, since("ledger"), "what is left begins where what was lost ended");

        Instant then = now.plus(Duration.ofDays(30));
        clock(Duration.ofDays(30));
        take(backups(now, then, Optional.empty()));
        Instant last = anchor(then, 7);
        take(backups(kept.minus(DAY).truncatedTo(ChronoUnit.HOURS), last.minus(DAY), Optional.of(then)));
        browser.open(harbour.address("/policies/sailings"));
        shows("Reach kept 0 of 2 0 of 2");
        shows("Time within objective 100.0 % 100.0 %");
        assertEquals(last, since("tides"));
        browser.open(harbour.address("/databases/ledger"));
        browser.seeText("main", "short");
        browser.picture("foreseen-came");
    }

    private static String count(List<Instant> nights) {
        int all = DATABASES.size() * nights.size();
        return all + " of " + all;
    }

    /** As a page writes it. */
    private static String dayOf(Instant moment) {
        return DateTimeFormatter.ofPattern("EEE d MMM, HH:mm", Locale.ENGLISH)
                .withZone(ZoneOffset.UTC)
                .format(moment);
    }

    /** The earliest moment of a database that can be restored. */
    private Instant since(String database) throws IOException, InterruptedException {
        for (JsonNode each : harbour.get("/api/evaluations").path("databases")) {
            if (each.path("id").asText().equals(database)) {
                return Instant.parse(
                        each.at("/hazards/mishap/restorable/0/from").asText());
            }
        }
        throw new IllegalStateException(database + " is not among them");
    }
}
