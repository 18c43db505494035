package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** What a person does with the demo fleet, in the real browser against the real server. */
class MorningIT extends InBrowser {

    @BeforeEach
    void openCover() {
        browser.open(firth.address("/cover"));
        browser.see("[data-row='berths']");
    }

    private WebElement row(String id) {
        return browser.see("[data-row='" + id + "']");
    }

    /** Points at the hole of berths and waits for what it says. */
    private WebElement pointAtTheHole() {
        WebElement ribbon = row("berths").findElement(By.cssSelector("svg[role='img']"));
        for (WebElement rect : ribbon.findElements(By.cssSelector("rect[fill='url(#hatch)']"))) {
            browser.hover(rect, 0);
            return browser.see("[data-testid='piece-card']");
        }
        throw new AssertionError("berths has no hole");
    }

    @Test
    void findsTheHoleOnCoverAndReadsAboutIt() throws IOException {
        browser.picture("cover");
        assertEquals("short", row("berths").getDomAttribute("data-grade"));
        WebElement card = pointAtTheHole();
        assertTrue(card.getText().matches("(?s).*2[12] h( \\d+ min)? that cannot be restored.*"), card.getText());
        assertTrue(card.getText().contains("were never backed up; berths-full-"), card.getText());
        assertTrue(card.getText().contains("It leaves reach on"), card.getText());
        browser.picture("cover-hole");
        card.findElement(By.cssSelector("button")).click();
        WebElement why = browser.see("[data-testid='why']");
        browser.seeText("[data-testid='why']", "Gap in the logs");
        assertTrue(why.getText().contains("bridged by"), why.getText());
    }

    @Test
    void opensItsDatabaseAndReadsWhyABackupIsObsolete() throws IOException {
        row("berths").findElement(By.linkText("berths")).click();
        browser.seeText("h1", "berths");
        browser.see("[data-testid='gap']");
        browser.picture("database");
        browser.seeText("section[aria-label='Backups'] button", "obsolete").click();
        WebElement first = browser.see("[data-testid='backups'] tr[data-verdict='obsolete']");
        browser.gone("[data-testid='backups'] tr[data-verdict='needed']");
        browser.until(() -> browser.see("[data-testid='backups'] tr[data-verdict='obsolete'] button"))
                .click();
        browser.seeText("[data-testid='why']", "No rule needs");
        String why = browser.see("[data-testid='why']").getText();
        assertTrue(why.contains("replaced by"), why);
        assertTrue(why.contains("policy Sailings, version 1"), why);
        assertTrue(why.contains("docs/semantics.md, Retention"), why);
        browser.picture("why");
        assertFalse(first.getText().isEmpty());
    }

    @Test
    void readsOfARestoredDatabaseWhichLineagesItHasAndWhyASlotIsOnTime() throws IOException {
        browser.open(firth.address("/databases/season-tickets"));
        browser.seeText("[data-testid='lineages']", "forked from 1");
        browser.picture("lineages");
        WebElement slot = browser.see("[data-testid='slots'] [data-verdict='on-time']");
        browser.script("arguments[0].focus()", slot);
        browser.press(Keys.ENTER);
        browser.seeText("[data-testid='why']", "one did, and ended well");
        browser.picture("why-slot");
        assertTrue(browser.see("[data-testid='why']").getText().contains("asks for it by its schedule"));
        browser.press(Keys.ESCAPE);
        browser.gone("[data-testid='why']");
    }

    @Test
    void findsOnTheShelfWhatAHoldKeeps() throws IOException {
        browser.open(firth.address("/databases/season-tickets"));
        WebElement held = browser.see("[data-store='quay-near'] [aria-label*='held']");
        browser.script("arguments[0].scrollIntoView({ block: 'center' })", held);
        browser.picture("shelf");
        browser.script("arguments[0].focus()", held);
        browser.press("w");
        browser.seeText("[data-testid='why']", "a hold keeps it");
    }

    @Test
    void movesAsOfBackBeforeTheHoleAndItIsGone() throws IOException {
        WebElement flag = browser.see("[data-testid='flag']");
        browser.script("arguments[0].focus()", flag);
        for (int day = 0; day < 11; day++) {
            browser.pressShift(Keys.ARROW_LEFT);
        }
        browser.seeText("[role='status']", "Looking back");
        assertTrue(browser.address().contains("asOf="), browser.address());
        browser.until(() -> "covered".equals(row("berths").getDomAttribute("data-grade")) ? true : null);
        assertTrue(row("berths")
                .findElements(By.cssSelector("rect[fill='url(#hatch)']"))
                .isEmpty());
        browser.picture("looking-back");
        String address = browser.address();
        browser.open(address);
        browser.until(() -> "covered".equals(row("berths").getDomAttribute("data-grade")) ? true : null);
        browser.seeText("button", "Return to now").click();
        browser.until(() -> "short".equals(row("berths").getDomAttribute("data-grade")) ? true : null);
        assertFalse(browser.address().contains("asOf="));
    }

    @Test
    void importsAFileWithTwoBadLinesAndReadsTheReasons(@TempDir Path directory) throws IOException {
        Path file = Files.writeString(directory.resolve("southquay.ndjson"), """
                {"type":"site","id":"lighthouse","name":"Outer light"}
                {"type":"backup","id":"kiosk-full-9","database":"kiosk-north","kind":"full","ended":"yesterday"}
                {"type":"database","id":"fog-horn","zone":"Atlantis/Sunk","inServiceFrom":"2026-01-01T00:00:00Z"}
                """);
        browser.choose("[data-testid='import-file']", file);
        browser.seeText("[data-testid='import-report']", "Imported southquay.ndjson");
        String report = browser.see("[data-testid='import-report']").getText();
        assertTrue(report.contains("3 lines: 1 added, 0 updated, 0 unchanged, 2 rejected"), report);
        assertTrue(report.contains("is not an RFC 3339 instant"), report);
        assertTrue(report.contains("is not an IANA time zone"), report);
        browser.picture("import");
        browser.seeText("[data-testid='import-report'] button", "Close").click();
        browser.gone("[data-testid='import-report']");
    }

    @Test
    void refusesWhatIsNoFleetFileAndSaysWhatIsUnharmed(@TempDir Path directory) throws IOException {
        Path file = Files.write(directory.resolve("photo.png"), new byte[] {(byte) 0x89, 'P', 'N', 'G', 0, 0, 1});
        browser.choose("[data-testid='import-file']", file);
        String report =
                browser.seeText("[data-testid='import-report']", "Not imported").getText();
        assertTrue(report.contains("photo.png is not a fleet file"), report);
        assertTrue(report.contains("What was known before is unharmed"), report);
        browser.complaints();
        browser.seeText("[data-testid='import-report'] button", "Close").click();
        browser.gone("[data-testid='import-report']");
    }

    @Test
    void takesAFileDroppedOnThePage() {
        browser.script("""
                const data = new DataTransfer();
                data.items.add(new File([arguments[0]], 'dropped.ndjson'));
                window.dispatchEvent(new DragEvent('dragover', { dataTransfer: data, cancelable: true }));
                window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, cancelable: true }));
                """, "{\"type\":\"site\",\"id\":\"dropped\"}\n");
        browser.seeText("[data-testid='import-report']", "Imported dropped.ndjson");
        browser.press(Keys.ESCAPE);
        browser.gone("[data-testid='import-report']");
    }

    @Test
    void worksByKeyboardAlone() throws IOException {
        browser.press("j", "j");
        WebElement chosen = browser.see("[data-chosen]");
        String id = chosen.getDomAttribute("data-row");
        browser.press(Keys.ARROW_LEFT);
        browser.see("[data-testid='piece-card']");
        browser.press("w");

        browser.seeText("[data-testid='why']", "Why");
        browser.press(Keys.ESCAPE);
        browser.gone("[data-testid='why']");
        browser.press(Keys.ENTER);
        browser.seeText("h1", id);
        browser.press("/");

        browser.press("webshop");
        browser.see("[role='option']");
        browser.press(Keys.ENTER);
        browser.seeText("h1", "webshop");
        browser.until(() -> browser.see("[data-testid='grade']").getText().equals("stranded") ? true : null);
        browser.press("?");

        browser.seeText("[role='dialog']", "Keys");
        browser.picture("keys");
        browser.press(Keys.ESCAPE);
        browser.gone("[role='dialog']");
        browser.press(".");
        browser.picture("move");

        browser.see("input[placeholder='24 Nov 2026 22:00']");
    }

    @Test
    void theHazardChosenChangesWhatIsJudged() {
        assertTrue(row("fuel").getText().contains("4 h"), row("fuel").getText());
        browser.press("2");

        browser.until(() -> row("fuel").getText().contains("8 h") ? true : null);
        assertTrue(browser.address().contains("hazard=siteLoss"));
        assertTrue(row("fuel").getText().matches("(?s).*2[67] h.*"), row("fuel").getText());
        browser.press("1");
    }

    @Test
    void showsHowOldTheFactsOfEachSourceAre() throws IOException {
        browser.see("[data-testid='freshness']").click();
        browser.seeText("table", "Northquay hosts");
        browser.seeText("table", "Southquay hosts");
        browser.picture("freshness");
        browser.press(Keys.ESCAPE);
    }

    @Test
    void theFiguresAreThoseOfCheck(@TempDir Path directory) throws IOException, InterruptedException {
        String[] read = browser.until(() -> {
            String before = browser.see("[data-testid='as-of']").getDomAttribute("title");
            String shown =
                    row("manifests").findElements(By.tagName("td")).get(1).getText();
            boolean still = browser.see("[data-testid='as-of']")
                    .getDomAttribute("title")
                    .equals(before);
            return still ? new String[] {before, shown} : null;
        });
        String age = read[1];
        assertTrue(age.matches("50 h( \\d+ min)?"), age);
        Path export = directory.resolve("fleet.ndjson");
        Files.write(
                export,
                java.net
                        .URI
                        .create(firth.address("/api/export"))
                        .toURL()
                        .openStream()
                        .readAllBytes());
        Process check = new ProcessBuilder(Programs.java(
                        "-jar",
                        Programs.jar("cli", "all"),
                        "check",
                        export.toString(),
                        "--as-of",
                        read[0],
                        "--database",
                        "manifests"))
                .start();
        String text = new String(check.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertEquals(0, check.waitFor());
        assertTrue(text.contains(age), "the page says " + age + ", the command says " + text);
    }
}
