package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.TestInstance;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** Tests of one Firth in one browser, whose console stays silent throughout. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
abstract class InBrowser {

    Firth firth;
    Browser browser;

    /** The Firth that is looked at: with the demo's fleet, where nothing else is said. */
    Firth begin() throws IOException, InterruptedException {
        return Firth.start(true);
    }

    @BeforeAll
    void start() throws IOException, InterruptedException {
        firth = begin();
        browser = new Browser();
    }

    @AfterAll
    void stop() throws IOException {
        if (browser != null) {
            browser.close();
        }
        if (firth != null) {
            firth.close();
        }
    }

    /** Types into, or chooses in, the field of a form whose label begins so. */
    static void say(WebElement form, String label, String text) {
        WebElement field = form.findElements(By.tagName("label")).stream()
                .filter(l -> l.getText().startsWith(label))
                .findFirst()
                .orElseThrow()
                .findElement(By.cssSelector("input, select"));
        if (field.getTagName().equals("select")) {
            field.findElements(By.tagName("option")).stream()
                    .filter(o -> o.getText().equals(text))
                    .findFirst()
                    .orElseThrow()
                    .click();
        } else {
            field.clear();
            field.sendKeys(text);
        }
    }

    @AfterEach
    void nothingWasComplainedAbout() {
        assertEquals(List.of(), browser.complaints());
    }
}
