package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.servers.RealPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/**
 * From a PostgreSQL nobody looks after to a proved restore of it, in one go: what a person does is done in the browser, and what the
 * pages say is to be started on the hosts is started there.
 */
class EnrolIT extends InBrowser {

    private static final Duration PATIENCE = Duration.ofMinutes(4);

    private Pier pier;
    private Observed observed;

    @Override
    Firth begin() throws IOException, InterruptedException {
        pier = new Pier("Europe/Lisbon");
        pier.server.query("create table sailings(n serial primary key)");
        pier.server.query("insert into sailings select from generate_series(1, 70)");
        observed = new Observed(pier.near);
        observed.take("""
                {"type":"site","id":"north","name":"Northquay"}
                {"type":"store","id":"near","name":"Quay near","site":"north","medium":"disk","role":"near"}
                {"type":"route","id":"r","name":"Northquay","data":["near"],"log":["near"]}
                {"type":"policy","id":"p","name":"Harbour","effectiveFrom":"2026-01-01T00:00:00Z","objective":{"mishap":"PT5M","drillEvery":"P7D"},\
                "schedules":[{"id":"fulls","kind":"full","cron":"* * * * *","within":"PT50S"},{"id":"logs","kind":"log","every":"PT10S"}]}
                """);
        return observed.firth();
    }

    @AfterAll
    void tidy() {
        pier.close();
    }

    private void be(String name) {
        browser.see("header button[aria-haspopup='menu']").click();
        browser.seeText("[role='menu'] button", name).click();
        browser.seeText("header button[aria-haspopup='menu']", name);
    }

    private void enrol() {
        browser.open(firth.address("/fleet"));
        browser.seeText("main button", "Enrol one").click();
        WebElement form = browser.see("[role='dialog'] form");
        say(form, "Name", "harbour");
        say(form, "Engine", "PostgreSQL 15");
        say(form, "Site", "Northquay");
        say(form, "Host", "pier");
        say(form, "Time zone", "Europe/Lisbon");
        say(form, "Route", "Northquay");
        say(form, "Policy", "Harbour");
        form.findElement(By.cssSelector("button.ink-button")).click();
        browser.seeText("[data-row='harbour']", "Harbour");
    }

    /** Makes a token for a program of a host; lays it and the file that is shown beside it, with where things lie here. */
    private Path given(String name, String host, String... roles) throws IOException {
        browser.open(firth.address("/people"));
        browser.seeText("main button", "Make a token").click();
        WebElement form = browser.see("form[aria-label='Token']");
        say(form, "Name of the program", name);
        for (String role : roles) {
            form.findElement(By.cssSelector("input[type='checkbox'][value='" + role + "']"))
                    .click();
        }
        say(form, "Bound to", host);
        form.findElement(By.cssSelector("button.ink-button")).click();
        String secret =
                browser.seeText("[role='status'] p.font-mono", "").getText().strip();
        String shown =
                browser.see("section[aria-label='How it is started'] pre").getText();
        Path token = pier.file(name + ".token", secret);
        return pier.file(
                name + ".toml",
                shown.replaceAll("token-file = .*", "token-file = \"" + token + "\"")
                                .replaceAll("state = .*", "state = \"" + pier.work.directory(name) + "\"")
                                .replace("\"/srv/backups/near\"", "\"" + pier.near + "\"")
                                .replaceAll(
                                        "connection = .*",
                                        "connection = \"" + pier.server.connection("firth_backup") + "\"")
                                .replace(
                                        "\"/srv/drills\"",
                                        "\"" + pier.work.directory("drills") + "\"\nsuperuser = \"firth\"")
                        + "\n");
    }

    private void awaitCover() throws IOException, InterruptedException {
        Instant deadline = Instant.now().plus(PATIENCE);
        while (!observed.ask("/api/cover/rows?database=harbour")
                .path(0)
                .path("grade")
                .asText()
                .equals("covered")) {
            assertTrue(Instant.now().isBefore(deadline), "not covered within four minutes; " + pier.said());
            Thread.sleep(500);
        }
    }

    @Test
    void fromEnrolmentToAProvedRestoreInOneGo() throws Exception {
        enrol();
        be("Harald");
        Path config = given("runner", "pier", "runner");
        assertTrue(Files.readString(config).contains("[databases.harbour]"), Files.readString(config));
        pier.start(config);
        Path dock = given("drill", "dock", "viewer", "driller");
        be("Ines Brandt");
        pier.archive(pier.work.path("runner"));
        awaitCover();
        browser.open(firth.address("/cover?period=P1D"));
        browser.seeText("[data-row='harbour']", "harbour");

        String drilled = pier.work.run(Pier.command("drill", dock, "harbour"));
        browser.open(firth.address("/drills"));
        browser.seeText("[data-drill='harbour']", "proved");
        browser.seeText("main", "pg_amcheck found nothing wrong");
        assertTrue(drilled.contains("proved"), drilled);

        browser.open(firth.address("/restore?database=harbour"));
        browser.see("[data-testid='staircase']");
        browser.seeText("aside button", "Begin the restore").sendKeys(Keys.ENTER);
        String command = browser.seeText("section[aria-label='By machine'] pre", "./firth restore")
                .getText();
        String id = command.replaceFirst(".*(restore-\\w+) .*", "$1");
        Path back = pier.work.directory("back").resolve("harbour");
        pier.work.run(Pier.command("restore", dock, id, "--into", back.toString()));
        browser.seeText("section[aria-label='By machine']", "Open on dock since");
        browser.seeText("section[aria-label='By machine'] li", "pg_dumpall read every table");
        browser.see("[data-measured='files']");
        browser.picture("restored-by-machine");
        try (RealPostgres restored = RealPostgres.over(pier.work, back)) {
            restored.start();
            assertEquals("70", restored.query("select count(*) from sailings"));
        }

        browser.seeText("main button", "Enter how it ended").click();
        browser.seeText("form[aria-label='How it ended'] button", "Enter it").click();
        browser.seeText("[data-testid='restore-progress']", "Done");
    }
}
