package firth.e2e;

import java.io.IOException;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** A list from a spreadsheet over a fleet that is enrolled already: what would change is seen first, and put back. */
class TableIT extends InBrowser {

    private static final String TABLE = "database,size GB,environment\nberths,4321,quay\nbookings,,\nfog-horn,7,quay\n";

    private void paste() {
        browser.open(firth.address("/fleet"));
        browser.seeText("main button", "Paste a table").click();
        browser.see("[role='dialog'] textarea").sendKeys(TABLE);
    }

    private WebElement difference(String text) {
        return browser.seeText("[data-testid='difference']", text);
    }

    @Test
    void aTableIsComparedTakenAndPutBack() throws IOException {
        paste();
        difference("1 new, 1 changed, 1 unchanged.");
        difference("New: fog-horn.");
        browser.seeText("[data-testid='difference'] li", "class=sailings → class=sailings, environment=quay; Size");
        browser.picture("paste-table");
        browser.seeText("[role='dialog'] button", "Take these 2").click();
        browser.seeText("main [role='status']", "1 added, 1 changed");
        browser.see("[data-row='fog-horn']");

        browser.seeText("main [role='status'] button", "Undo").sendKeys(Keys.ENTER);
        browser.gone("[data-row='fog-horn']");
        paste();
        difference("0 new, 1 changed, 2 unchanged.");
    }
}
