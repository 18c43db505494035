package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** The morning routine from the first page on, by keyboard. */
class WatchIT extends InBrowser {

    @Override
    Firth begin() throws IOException, InterruptedException {
        return Firth.startLive(20);
    }

    @BeforeEach
    void openTheFirstPage() {
        browser.open(firth.address("/"));
        browser.see("[data-severity='stranded']");
    }

    /** What is known of a run; nothing where it is not known. */
    private String known(String run) {
        try {
            return HttpClient.newHttpClient()
                    .send(
                            HttpRequest.newBuilder(URI.create(firth.address("/api/history/lines/" + run)))
                                    .build(),
                            HttpResponse.BodyHandlers.ofString())
                    .body();
        } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private void tell(String lines) throws IOException, InterruptedException {
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(firth.address("/api/import?source=runner")))
                                .header("content-type", "application/x-ndjson")
                                .POST(HttpRequest.BodyPublishers.ofString(lines))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        assertEquals(200, answer.statusCode(), answer.body());
    }

    @Test
    void readsWhatIsWrongWhyAndWhatWasTriedAndOpensIt() throws IOException {
        browser.picture("watch");
        browser.press("jj");
        WebElement chosen = browser.see("[data-chosen]");
        assertTrue(chosen.getText().contains("manifests: 50 h"), chosen.getText());
        browser.press("w");
        WebElement why = browser.seeText("[data-testid='why']", "What was tried, on paper");
        assertTrue(why.getText().contains("Let the archiver clear its backlog"), why.getText());
        browser.picture("watch-why");
        browser.press(Keys.ESCAPE);
        browser.gone("[data-testid='why']");
        browser.press(Keys.ENTER);
        browser.seeText("h1", "manifests");
        browser.seeText("[data-testid='findings']", "would be lost");
    }

    @Test
    void acceptsAFindingForAWhileAndCallsItBack() {
        String accepted = "[data-finding^='site-loss-missed|']";
        browser.script("arguments[0].focus()", browser.see(accepted));
        browser.press("a");
        browser.see("form[aria-label='Accept'] input");
        browser.press("the link is being replaced", Keys.ENTER);
        browser.seeText(accepted, "accepted by Ines Brandt until");
        browser.seeText("main", "1 accepted");
        // Another database may be behind after the loss of its site, too.
        browser.seeText(accepted, "accepted by Ines Brandt until")
                .findElement(By.xpath(".//button[text()='Call back']"))
                .click();
        browser.until(
                () -> browser.all(accepted).stream().noneMatch(f -> f.getText().contains("accepted by")) ? true : null);
    }

    @Test
    void startsABackupFromAFindingWhichTheRunnerTriesAndSeesWhatIsToldAtOnce()
            throws IOException, InterruptedException {
        WebElement finding = browser.seeText("article", "webshop: ");
        browser.script("arguments[0].focus()", finding);
        browser.press("s");
        browser.see("form[aria-label='Start a backup'] input[name='offer']");
        browser.picture("start");
        WebElement why = browser.see("form[aria-label='Start a backup'] label:not(.flex) input");
        why.sendKeys("to see what it says");
        browser.see("form[aria-label='Start a backup'] input[placeholder='a name, or nothing']")
                .sendKeys("Before the audit", Keys.ENTER);
        String ordered =
                browser.seeText("[role='status']", "Ordered as hand:webshop:").getText();
        assertTrue(ordered.contains("The runner on southquay-1 takes it up"), ordered);
        String run = ordered.replaceFirst("(?s).*(hand:webshop:\\w+).*", "$1");
        browser.until(() -> known(run).contains("permission denied for table orders") ? true : null);
        browser.press(Keys.ESCAPE);
        browser.until(() -> browser.all("[data-testid='running'] li").stream()
                        .noneMatch(l -> l.getText().contains("ordered by"))
                ? true
                : null);
        String address = browser.address();
        browser.open(firth.address("/history/" + run));
        browser.seeText("[data-testid='ordered']", "Before the audit. Wanted by Ines Brandt: to see what it says");
        browser.open(address);
        browser.seeText("article", "webshop: ");
        String now = Instant.now().truncatedTo(ChronoUnit.SECONDS).toString();
        tell("{\"type\":\"run\",\"id\":\"told-by-hand\",\"database\":\"radar\",\"kind\":\"full\",\"started\":\""
                + now + "\",\"outcome\":\"running\",\"course\":[{\"at\":\"" + now
                + "\",\"readBytes\":9,\"writtenBytes\":5000000}]}");
        long told = System.nanoTime();
        browser.seeText("[data-testid='running']", "5.0 MB");
        System.out.println("push: on screen after " + (System.nanoTime() - told) / 1_000_000 + " ms");
    }

    @Test
    void stepsBackToTheMomentsThatMatterAndForwardAgain() {
        browser.press("[");
        browser.seeText("[role='status']", "Looking back");
        String there = browser.address();
        assertTrue(there.contains("asOf="), there);
        browser.press("[");
        browser.until(() -> browser.address().equals(there) ? null : true);
        browser.press("]");
        browser.until(() -> browser.address().equals(there) ? true : null);
    }

    @Test
    void stepsFromEventToEventOfOneDatabaseAndIsToldWhatHappened() {
        browser.open(firth.address("/databases/berths"));
        browser.seeText("[data-testid='notes']", "Nobody has written a note yet");
        browser.press("{");
        browser.seeText("[role='status']", "berths: ");
        String last = browser.address();
        browser.press("{");
        browser.until(() -> browser.address().equals(last) ? null : true);
        browser.seeText("[role='status']", "berths: ");
        browser.press("}");
        browser.until(() -> browser.address().equals(last) ? true : null);
    }

    @Test
    void readsWhichBackupsHoldAComponentAndLeavesANote() throws IOException {
        browser.open(firth.address("/databases/cargo"));
        WebElement components = browser.seeText("[data-testid='components']", "tariffs");
        assertTrue(components.getText().lines().anyMatch(l -> l.startsWith("tariffs") && l.endsWith("none")));
        assertTrue(components.getText().lines().anyMatch(l -> l.startsWith("customs") && !l.endsWith("none")));
        browser.seeText("[data-testid='findings']", "one of its components is in no usable backup");
        WebElement write = browser.seeText("[data-testid='notes'] button", "Write a note");
        browser.script("arguments[0].focus()", write);
        browser.press(Keys.ENTER);
        browser.see("form[aria-label='Write a note'] textarea");
        browser.press("Tariffs come from the customs office.", Keys.TAB, Keys.ENTER);
        browser.seeText("[data-testid='notes']", "Tariffs come from the customs office.");
        browser.picture("database-components");
        browser.seeText("[data-testid='notes'] button", "Take back").click();
        browser.seeText("[data-testid='notes']", "Nobody has written a note yet");
    }

    @Test
    void holdsABackupAndLiftsTheHold() {
        browser.open(firth.address("/databases/fares"));
        WebElement hold = browser.see("[data-testid='backups'] button[aria-label^='Hold fares-']");
        String backup = hold.getDomAttribute("aria-label").replace("Hold ", "");
        browser.script("arguments[0].focus()", hold);
        browser.press(Keys.ENTER);
        browser.seeText("form[aria-label='Hold']", backup);
        browser.press("before the new fares", Keys.ENTER);
        WebElement holds = browser.seeText("[data-testid='holds']", backup);
        assertTrue(holds.getText().contains("before the new fares"), holds.getText());
        assertTrue(holds.getText().contains("Ines Brandt"), holds.getText());
        browser.seeText("[data-testid='holds'] button", "Lift").click();
        browser.seeText("[data-testid='holds']", "Nothing is held beyond its policy");
    }
}
