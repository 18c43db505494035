package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;

/** Room is freed: a keeper asks, another person approves, the agent deletes, and the record says so. */
class PurgeIT {

    private static Firth firth;
    private static Browser browser;

    @BeforeAll
    static void start() throws IOException, InterruptedException {
        firth = Firth.startWithAgents();
        browser = new Browser();
    }

    @AfterAll
    static void stop() throws IOException {
        if (browser != null) {
            browser.close();
        }
        if (firth != null) {
            firth.close();
        }
    }

    @AfterEach
    void nothingWasComplainedAbout() {
        assertEquals(List.of(), browser.complaints());
    }

    private static void be(String name) {
        browser.see("header button[aria-haspopup='menu']").click();
        browser.seeText("[role='menu'] button", name).click();
        browser.seeText("header button[aria-haspopup='menu']", name);
    }

    private static void press(String text) {
        browser.seeText("main button, main a", text).click();
    }

    private static List<String> filesOf(Path store, String database) throws IOException {
        try (Stream<Path> files = Files.list(store.resolve("files/quay-near/" + database))) {
            return files.map(f -> f.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    void fromAskingToFilesThatAreGone() throws IOException {
        Path store = firth.directory().resolve("harbour/stores/quay-near");
        browser.until(() -> Files.exists(store.resolveSibling("laid")) ? Boolean.TRUE : null);
        List<String> before = filesOf(store, "fuel");

        // A keeper chooses the fulls of one database and sees that nothing is harmed.
        browser.open(firth.address("/purge?store=quay-near"));
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "Nothing is chosen");
        new Select(browser.seeText("label", "Of").findElement(By.tagName("select"))).selectByValue("fuel");
        new Select(browser.seeText("label", "Kind").findElement(By.tagName("select"))).selectByValue("full");
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "Every moment of promised reach stays restorable");
        browser.picture("purge");
        List<String> chosen = browser.all("[data-testid='purge-lines'] tbody tr[data-line]").stream()
                .filter(r -> r.getDomAttribute("data-kept") == null)
                .map(r -> r.findElement(By.cssSelector("button")).getText())
                .toList();
        assertTrue(chosen.size() > 2 && before.containsAll(chosen), chosen + " of " + before);
        WebElement reason = browser.see("form[aria-label='Ask for approval'] input");
        reason.sendKeys("Friday afternoon", Keys.ENTER);

        // The one who asked cannot approve it; another can.
        browser.seeText("[data-testid='purge-state']", "awaits approval");
        assertTrue(browser.all("[data-testid='purge-steps'] button").stream()
                .noneMatch(b -> b.getText().equals("Approve")));
        be("Tomas Reed");
        press("Approve");
        browser.seeText("[data-testid='purge-state']", "approved");
        assertEquals(before, filesOf(store, "fuel"), "nothing is deleted before somebody says so");

        // The agent of the store takes the list once a keeper has it carried out.
        be("Ines Brandt");
        press("Carry out");
        browser.seeText("[data-testid='purge-state']", "done");
        browser.seeText("[data-testid='purge-after']", "Cover within reach is what it was before");
        assertTrue(browser.see("[data-testid='purge-tally']").getText().contains(chosen.size() + " deleted"));
        browser.picture("purge-done");
        List<String> after = filesOf(store, "fuel");
        assertTrue(after.stream().noneMatch(chosen::contains), "the files are gone");
        assertEquals(before.size() - chosen.size(), after.size(), "and no others are");

        // The record has every step and is whole.
        press("entry");
        browser.seeText("main td", "purge done");
        for (String step : List.of("purge asked", "purge approved", "purge begun", "purge told")) {
            browser.seeText("main td", step);
        }
        press("Is it whole?");
        browser.seeText("[role='status']", "follow from one another");
        browser.picture("record");
    }

    @Test
    void whoLooksOnlyChangesNothing() throws IOException {
        browser.open(firth.address("/purge?store=quay-near"));
        browser.see("[data-testid='proof']");
        be("Oona Lisk");
        browser.seeText("[data-testid='proof']", "Only a keeper asks for a purge");
        assertTrue(browser.all("form[aria-label='Ask for approval']").isEmpty());
        browser.open(firth.address("/people"));
        browser.seeText("main", "for administrators to say");
        be("Harald Vane");
        browser.seeText("main table", "Oona Lisk");
        browser.picture("people");
        be("Ines Brandt");
        assertFalse(browser.see("main").getText().contains("Oona Lisk"));
    }
}
