package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** The bad day, from pointing at a ribbon to the printed checklist; the rehearsal of it; and the day of the audit. */
class RestoreIT extends InBrowser {

    /** What is printed of the page, on A4, as text. */
    private String printed() throws IOException {
        try (PDDocument pdf = Loader.loadPDF(browser.print())) {
            assertTrue(pdf.getNumberOfPages() >= 1);
            assertEquals(595, pdf.getPage(0).getMediaBox().getWidth(), 2, "as wide as A4");
            assertEquals(842, pdf.getPage(0).getMediaBox().getHeight(), 2, "as high as A4");
            return new PDFTextStripper().getText(pdf).replaceAll("\\s+", " ");
        }
    }

    @Test
    void fromTheRibbonToThePrintedChecklistAndADatabaseThatIsLookedAfter() throws IOException {
        browser.open(firth.address("/restore"));
        browser.seeText("main p", "Choose the database to bring back");
        browser.chooseDatabase("Database", "book", "bookings");
        browser.seeText("section[aria-label='The way there'] h2", "The way there");

        // Points at a moment some days back; the plan follows.
        browser.clickBeside(browser.see("[data-testid='pointing'] svg"), 200);
        browser.until(() -> browser.address().contains("moment=") ? true : null);
        String target = browser.see("[data-testid='target']").getText();
        browser.seeText("[data-testid='staircase']", "Quay near");
        browser.picture("restore");

        // The near store burned: another copy is read.
        browser.seeText("section[aria-label='What is left?'] li", "Quay near")
                .findElement(By.tagName("input"))
                .click();
        browser.until(() -> browser.see("[data-testid='staircase']").getText().contains("Quay near") ? null : true);
        browser.seeText("[data-testid='staircase']", "Harbour far");
        String sheet = browser.seeText("aside a", "Print the checklist").getDomProperty("href");

        // The checklist goes along on paper.
        String here = browser.address();
        browser.open(sheet);
        browser.seeText("h1", "Restore bookings as bookings-");
        String paper = printed();
        assertTrue(paper.contains("Instance up") && paper.contains("Open on a new lineage"), paper);
        assertTrue(paper.contains("/harbour-far/bookings/"), paper);
        assertFalse(paper.contains("/quay-near/"), "nothing is read where it burned");

        // Begun, ticked off, and entered.
        browser.open(here);
        browser.seeText("aside button", "Begin the restore").click();
        browser.seeText("h1", "bookings as bookings-");
        browser.seeText("main", target.substring(0, 10));
        browser.see("section[aria-label='Before anything'] input").click();
        browser.seeText("[data-testid='restore-progress']", "1 of ");
        browser.seeText("main button", "Enter how it ended").click();
        browser.see("form[aria-label='How it ended']");
        browser.seeText("form button", "Enter it").click();
        browser.seeText("[data-testid='restore-progress']", "Done");
        browser.open(firth.address("/fleet"));
        browser.seeText("main", "bookings-");
    }

    @Test
    void aMomentInAGapLeadsToItsNeighbours() {
        browser.open(firth.address("/gaps"));
        browser.see("[data-gap='berths']");
        browser.open(firth.address("/restore?database=webshop"));
        browser.seeText("[data-testid='impossible']", "Nothing of it can be restored");
    }

    @Test
    void theLossOfASiteIsRehearsedByKeyboard() throws IOException {
        browser.open(firth.address("/rehearsals"));
        WebElement site = browser.seeText("form[aria-label='What is lost'] label", "Northquay")
                .findElement(By.tagName("input"));
        assertTrue(site.isSelected(), "most depends on it, so its loss is proposed");
        site.sendKeys(Keys.SPACE);
        assertFalse(site.isSelected());
        site.sendKeys(Keys.SPACE);
        browser.see("form[aria-label='What is lost'] button").sendKeys(Keys.ENTER);
        browser.seeText("[data-testid='rehearsal-summary']", "databases are down");
        browser.seeText("h1", "Without Northquay");
        browser.see("[data-rehearsed='bookings'] svg");
        browser.picture("rehearsal");
    }

    @Test
    void aDrillIsProposedToldOfAndCounted() throws IOException {
        browser.open(firth.address("/drills"));
        String before = browser.see("[data-testid='drill-coverage']").getText();
        WebElement row = browser.see("[data-drill='harbour-log']");
        row.findElement(By.tagName("button")).click();
        browser.seeText("main td", "chosen by chance from seed");
        browser.picture("drills");
        browser.seeText("main button", "Enter the result").click();
        List<WebElement> times = browser.until(() -> {
            List<WebElement> found =
                    browser.all("form[aria-label='The result'] input[placeholder='24 Nov 2026 22:00']");
            return found.size() == 2 ? found : null;
        });
        browser.script(SET, times.get(0), "5 Jan 2026 10:00");
        browser.script(SET, times.get(1), "5 Jan 2026 10:20");
        browser.seeText("form button", "Record it").click();
        browser.gone("form[aria-label='The result']");
        browser.seeText("main li", "nothing checked: proves nothing");
        assertEquals(before, browser.see("[data-testid='drill-coverage']").getText(), "without a check");
    }

    /** Sets a field's value as typing does, at once. */
    private static final String SET = """
            const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
            set.call(arguments[0], arguments[1]);
            arguments[0].dispatchEvent(new Event('input', { bubbles: true }));
            """;

    @Test
    void lastMonthsReportIsPrintedAndKept() throws IOException {
        browser.open(firth.address("/report"));
        String page = browser.see("iframe[title='The report']").getDomProperty("src");
        browser.until(() -> Boolean.TRUE.equals(browser.script(
                        "return document.querySelector('iframe').contentDocument?.querySelector('h1') != null"))
                ? true
                : null);
        browser.picture("report");
        browser.open(page);
        browser.seeText("h1", "Report: the fleet");
        String paper = printed();
        for (String part : List.of(
                "Promised and achieved: mishap",
                "Cover",
                "Slots and logs",
                "Grade, reach, restore time and proof",
                "Policy versions in force")) {
            assertTrue(paper.contains(part), part + " in " + paper);
        }
        browser.open(firth.address("/report"));
        browser.seeText("main button", "Keep it").click();
        browser.seeText("aside li", "the fleet");
        browser.seeText("aside button", "Make it again").click();
        browser.seeText("aside [role='status']", "Made again, it comes out the same.");
    }
}
