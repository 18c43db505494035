package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;

/** The history behind the answers, tables that come in, and gaps of the fleet, in the real browser. */
class HistoryIT extends InBrowser {

    @TempDir
    private Path files;

    @Test
    void showsOnlyWhatIsAskedForAndOpensOneRun() throws IOException {
        browser.open(firth.address("/history"));
        browser.see("[data-line]");
        browser.picture("history");
        browser.seeText("fieldset label", "failed").click();
        browser.until(() -> browser.address().contains("outcome=failed") ? true : null);
        browser.gone("[data-line][data-outcome='ok']");
        browser.see("[data-line][data-outcome='failed']");
        WebElement words = browser.see("input[placeholder='Words, then enter']");
        words.sendKeys("permission denied", Keys.ENTER);
        browser.until(() -> browser.address().contains("words=permission") ? true : null);
        browser.see("[aria-busy='false'] [data-line]");
        browser.until(() ->
                browser.all("[data-line]").stream().allMatch(l -> l.getText().contains("webshop")) ? true : null);
        browser.script("document.activeElement.blur()");
        browser.press("j");
        browser.press(Keys.ENTER);
        browser.until(() -> browser.address().contains("/history/") ? true : null);
        browser.seeText("main", "permission denied");
        browser.picture("run");
    }

    @Test
    void takesATableWithHeadersOfItsOwnAndRemembersHow() throws IOException {
        Path table = files.resolve("night-ledger.csv");
        Files.writeString(table, """
                Instance;What;Begin;Finish;Megabytes;Where
                bookings;COMPLETE;24/11/2026 03:10:00;24/11/2026 03:40:00;1200;quay-near
                bookings;COMPLETE;25/11/2026 03:10:00;some time;1210;quay-near
                """);
        browser.open(firth.address("/history"));
        browser.see("[data-line]");
        browser.choose("[data-testid='import-file']", table);
        browser.see("[data-testid='map-table']");
        is("Instance", "database");
        is("What", "kind of backup");
        is("Begin", "when it started");
        is("Finish", "when it ended");
        is("Megabytes", "size in MB");
        is("Where", "store it landed in");
        new Select(browser.see("select[aria-label='COMPLETE stands for']")).selectByValue("full");
        browser.seeText("[data-testid='map-table']", "1 can be taken");
        browser.see("input[placeholder='a name, or nothing']").sendKeys("Night ledger");
        browser.picture("table");
        browser.seeText("[data-testid='map-table'] button", "Take it in").click();
        browser.seeText("[data-testid='import-report']", "1 added");
        String report = browser.see("[data-testid='import-report']").getText();
        assertTrue(report.contains("1 rejected"), report);
        assertTrue(report.contains("is not a time written as dd/MM/yyyy HH:mm:ss: some time"), report);
        browser.seeText("[data-testid='import-report'] button", "Correct them here")
                .click();
        WebElement lines = browser.see("textarea[aria-label='Rejected lines, to be corrected']");
        String text = lines.getDomProperty("value");
        assertTrue(text.startsWith("Instance;What;Begin"), text);
        browser.script(
                "const t = arguments[0];"
                        + "Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(t, arguments[1]);"
                        + "t.dispatchEvent(new Event('input', { bubbles: true }));",
                lines,
                text.replace("some time", "25/11/2026 03:42:00"));
        browser.seeText("[data-testid='import-report'] button", "Take these").click();
        browser.seeText("[data-testid='import-report']", "0 rejected");
        browser.seeText("[data-testid='import-report'] button", "Close").click();
        browser.gone("[data-testid='import-report']");

        browser.choose("[data-testid='import-file']", table);
        browser.see("[data-testid='map-table']");
        browser.until(() -> is("Finish").equals("when it ended") ? true : null);
        assertEquals(
                "full",
                new Select(browser.see("select[aria-label='COMPLETE stands for']"))
                        .getFirstSelectedOption()
                        .getText());
        browser.seeText("[data-testid='map-table'] button", "Leave it").click();
        browser.gone("[data-testid='map-table']");
    }

    @Test
    void takesTablesSideBySideWhoseRowsAreRunsAndTheirBackups() throws IOException {
        Path jobs = files.resolve("jobs.csv");
        Files.writeString(jobs, """
                DB,Type,Start,End,Status,Size MB,Error
                fares,Full,2026-01-04 02:00:00,2026-01-04 02:20:00,Success,900,
                fares,Full,2026-01-05 02:00:00,2026-01-05 02:01:00,Failed,900,no room left
                FARESPRD,Full,2026-01-06 02:00:00,2026-01-06 02:20:00,Success,900,
                """);
        Path ledger = files.resolve("ledger.csv");
        Files.writeString(ledger, "database;kind;started;ended\nfares;full;07/01/2026 02:00;07/01/2026 02:20\n");
        browser.open(firth.address("/history"));
        browser.see("[data-line]");
        browser.choose("[data-testid='import-file']", jobs, ledger);
        browser.seeText("[data-testid='map-table']", "How is jobs.csv to be read?");
        String first = browser.see("table[aria-label='The first rows as they will be taken']")
                .getText();
        assertTrue(first.contains("run, failed fares full") && first.contains("no room left"), first);
        browser.seeText("[data-testid='unknown-databases']", "FARESPRD (2)");
        browser.chooseDatabase("FARESPRD stands for", "fares", "fares");
        browser.picture("tables");
        browser.seeText("[data-testid='map-table'] button", "Go on").click();
        browser.seeText("[data-testid='map-table']", "How is ledger.csv to be read?");
        browser.seeText("[data-testid='map-table']", "1 can be taken");
        browser.seeText("[data-testid='map-table'] button", "Take all 2 in").click();
        browser.seeText("[data-testid='import-report']", "5 added");
        browser.seeText("[data-testid='import-report']", "Imported ledger.csv");
        browser.seeText("[data-testid='import-report'] button", "Close").click();
        browser.gone("[data-testid='import-report']");
    }

    private Select field(String column) {
        return new Select(browser.see("select[aria-label='" + column + " is']"));
    }

    private void is(String column, String field) {
        field(column).selectByVisibleText(field);
    }

    private String is(String column) {
        return field(column).getFirstSelectedOption().getText();
    }

    @Test
    void readsWhichLogsAreMissingAndWhy() throws IOException {
        browser.open(firth.address("/gaps"));
        browser.see("[data-gap='berths']");
        browser.see("[data-outage='Quay near'] rect");
        browser.picture("gaps");
        new Select(browser.see("select[aria-label='Bridged']")).selectByValue("bridged");
        browser.gone("[data-gap='harbour-log']");
        browser.see("input[placeholder='Words']").sendKeys("berths");
        browser.gone("[data-gap='gate-counters']");
        assertTrue(browser.address().contains("state=bridged"), browser.address());
        browser.script("document.activeElement.blur()");
        browser.press("j");
        browser.press("w");
        browser.seeText("[data-testid='why']", "Gap in the logs");
        browser.press(Keys.ESCAPE);
        browser.gone("[data-testid='why']");
        WebElement row = browser.see("[data-gap='berths']");
        browser.script("arguments[0].focus()", row);
        browser.press(Keys.ENTER);
        browser.seeText("h1", "berths");
    }

    @Test
    void asksForAPartOfTheFleetAndFindsABackupByItsId() {
        browser.open(firth.address("/cover"));
        browser.see("[data-row='berths']");
        new Select(browser.see("select[aria-label='grade']")).selectByValue("behind");
        browser.gone("[data-row='bookings']");
        browser.see("[data-row='manifests']");
        browser.seeText("[role='status']", "of ");
        assertTrue(browser.address().contains("grade=behind"), browser.address());
        browser.open(firth.address("/gaps"));
        String id = browser.see("[data-gap='berths']")
                .findElement(By.cssSelector("[role='cell']:nth-child(7)"))
                .getText()
                .replace("with ", "");
        browser.press("/");
        browser.press(id);
        browser.seeText("[role='option']", "full");
        browser.press(Keys.ARROW_DOWN, Keys.ENTER);
        browser.seeText("main", id);
        assertTrue(browser.address().contains("/history/"), browser.address());
    }
}
