package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** From an empty install to a database that is covered, in the browser alone, and back to nothing but history. */
class BeginIT extends InBrowser {

    @Override
    Firth begin() throws IOException, InterruptedException {
        return Firth.startInstalled();
    }

    private static void send(WebElement form) {
        form.findElement(By.cssSelector("button.ink-button")).click();
    }

    private WebElement open(String step, String button) {
        browser.seeText("[data-step='" + step + "'][aria-current='step'] button", button)
                .click();
        return browser.see("[role='dialog'] form");
    }

    private void taken(String step, String what) {
        browser.seeText("[data-step='" + step + "']", "\u2713 " + what);
    }

    private void administrator() throws IOException {
        browser.open(firth.address("/"));
        WebElement form = browser.see("form[aria-label='Sign in']");
        say(form, "One-time code", firth.code());
        say(form, "Sign-in name", "maren");
        say(form, "Your name", "Maren Holt");
        say(form, "Password", "ferries in the fog");
        send(form);
    }

    private void place() {
        WebElement site = open("site", "Add a site");
        say(site, "Name", "Northquay");
        send(site);
        taken("site", "Northquay");
        WebElement store = open("store", "Add a store");
        say(store, "Name", "Quay near");
        say(store, "Site", "Northquay");
        say(store, "Capacity in TB", "8");
        send(store);
        taken("store", "Quay near");
        send(browser.see("form[aria-label='Route']"));
        taken("route", "To Quay near");
    }

    private Path history() throws IOException {
        Instant now = Instant.now().truncatedTo(ChronoUnit.SECONDS);
        Instant began = now.minus(Duration.ofHours(2));
        Instant ended = began.plusSeconds(600);
        Path file = firth.directory().resolve("harbour.ndjson");
        return Files.writeString(
                file,
                String.join(
                        "\n",
                        "{\"type\":\"backup\",\"id\":\"harbour-full\",\"database\":\"harbour\",\"kind\":\"full\",\"started\":\""
                                + began + "\",\"ended\":\"" + ended
                                + "\",\"bytes\":1000,\"lineage\":\"1\",\"from\":100,\"to\":120,\"copies\":[{\"store\":\"Quay-near\",\"landed\":\""
                                + ended + "\",\"bytes\":1000}]}",
                        "{\"type\":\"backup\",\"id\":\"harbour-log\",\"database\":\"harbour\",\"kind\":\"log\",\"started\":\""
                                + began + "\",\"ended\":\"" + now.minusSeconds(60)
                                + "\",\"bytes\":10,\"lineage\":\"1\",\"from\":90,\"to\":900,\"fromTime\":\"" + began
                                + "\",\"toTime\":\"" + now.minusSeconds(60)
                                + "\",\"copies\":[{\"store\":\"Quay-near\",\"landed\":\"" + now.minusSeconds(50)
                                + "\",\"bytes\":10}]}",
                        ""));
    }

    @Test
    void fromTheCodeToADatabaseThatIsCovered() throws IOException {
        administrator();
        browser.seeText("h1", "First steps");
        place();

        // It can be left, and goes on where it was.
        browser.seeText("main a", "Leave").click();
        browser.seeText("nav a", "First steps").click();
        WebElement policy = browser.see("form[aria-label='Policy']");
        say(policy, "Name", "Harbour");
        browser.picture("first-steps");
        send(policy);
        taken("policy", "Harbour");

        WebElement database = open("database", "Enrol a database");
        say(database, "Name", "harbour");
        say(
                database,
                "In service from",
                Instant.now().minus(Duration.ofHours(3)).toString());
        send(database);
        taken("database", "harbour");

        browser.choose("[data-testid='import-file']", history());
        browser.seeText("[data-testid='import-report']", "2 added");
        browser.seeText("[data-testid='import-report'] button", "Close").click();
        taken("backups", "known");
        browser.seeText("[data-step='cover'] a", "Look at Cover").click();
        assertTrue(browser.see("[data-row='harbour']").getText().contains("harbour"));
        browser.seeText("[data-row='harbour']", "covered");
    }
}
