package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** Stating what is promised: policies read aloud, who follows them, and the nights they make. */
class SetIT extends InBrowser {

    private void focus(WebElement element) {
        browser.script("arguments[0].focus()", element);
    }

    private WebElement value(String label) {
        return browser.see("button[aria-label^='" + label + "']");
    }

    /** Opens a value with Enter, types another, and keeps it with Enter. */
    private void write(String label, String text) {
        focus(value(label));
        browser.press(Keys.ENTER);
        browser.see("input[aria-label='" + label + "']");
        browser.press(text, Keys.ENTER);
        browser.until(() -> browser.all("input[aria-label='" + label + "']").isEmpty() ? true : null);
    }

    /** Types over what stands in a field of a picker, and takes it. */
    private void type(String label, String text) {
        focus(browser.see("[role='group'] input[aria-label='" + label + "']"));
        browser.press(Keys.END);
        for (int sign = 0; sign < 8; sign++) {
            browser.press(Keys.BACK_SPACE);
        }
        browser.press(text, Keys.ENTER);
    }

    private void press(String css, String text) {
        focus(browser.seeText(css, text));
        browser.press(Keys.ENTER);
    }

    @Test
    void aPolicyIsWrittenFromNothingByKeyboardAndPutInForce() throws IOException {
        browser.open(firth.address("/policies"));
        focus(browser.see("form label input"));
        browser.press("Night boats", Keys.ENTER);
        browser.seeText("h1", "Night boats");
        write("Loss to a mishap", "10 min");
        press("section[aria-label='Nights'] button", "a full");
        press("section[aria-label='Nights'] button", "logs");
        browser.seeText("[data-schedule='logs']", "15 min");

        browser.seeText(
                "[data-testid='flaws']",
                "The promise to lose at most 10 min to a mishap cannot be kept: logs come every 15 min");
        press("[data-testid='flaws'] button", "Set the interval of logs to 10 min");
        browser.seeText("[data-schedule='logs']", "10 min");
        browser.seeText("[data-testid='flaws']", "No rule says what is retained");
        press("[data-testid='flaws'] button", "Add a rule for near stores: a reach of 14 days");
        browser.gone("[data-testid='flaws']");

        browser.see("aside select").sendKeys("those who follow Kiosks");
        browser.seeText("[data-testid='consequence']", "Time within objective");

        focus(value("Loss with the site"));
        browser.press(Keys.ENTER, "soon", Keys.ENTER);
        browser.seeText("[role='alert']", "is not a duration such as 10 min");
        browser.press(Keys.ESCAPE);

        focus(value("weekly: when"));
        browser.press(Keys.ENTER);
        assertTrue(browser.seeText("[data-testid='next-slots']", "The next ten")
                .getText()
                .contains("Sat"));
        type("Every how many weeks", "2");
        browser.seeText("[data-schedule='weekly']", "every 2 weeks on Saturday at 22:00, counted from");
        type("Times", "99:00");
        browser.seeText("[role='group'] [role='alert']", "is not a time of day");
        browser.picture("recurrence");
        type("Times", "21:30");
        browser.seeText("[data-schedule='weekly']", "every 2 weeks on Saturday at 21:30");
        type("Every how many weeks", "1");
        browser.seeText("[data-schedule='weekly']", "every Saturday at 21:30");
        press("[role='group'] button", "Done");

        press("button", "Put in force");
        WebElement form = browser.see("form[aria-label='Put in force']");
        assertFalse(form.findElement(By.cssSelector("button.ink-button")).isEnabled(), "why is missing");
        focus(form.findElement(By.cssSelector("label > input[type='text']")));
        browser.press("the night boats sail from today", Keys.ENTER);
        browser.seeText("[role='status']", "Version 1 is in force");
        browser.open(firth.address("/policies"));
        browser.see("[data-policy='night-boats']");
    }

    @Test
    void aChangeShowsItsConsequenceAndIsKeptAsAVersionBesideTheOld() throws IOException {
        browser.open(firth.address("/policies/kiosks"));
        browser.seeText("[data-testid='flaws']", "its grace 4 h");
        browser.seeText("[data-testid='room'] + div", "used");
        press("[data-testid='flaws'] button", "Set the grace to 3 h");
        browser.gone("[data-testid='flaws']");
        browser.seeText("[data-testid='consequence'] thead", "version 2");
        write("near stores: fulls", "7");
        browser.seeText("[data-testid='consequence'] thead", "version 2");
        browser.until(() -> browser.see("aside").getText().contains("working it out") ? null : true);
        Matcher obsolete =
                Pattern.compile("Obsolete today (\\S+) · .* (\\S+) · .*").matcher(row("Obsolete today"));
        assertTrue(obsolete.matches(), row("Obsolete today"));
        assertTrue(number(obsolete.group(1)) < number(obsolete.group(2)), "fewer fulls leave more obsolete");
        press("button", "Put in force");
        focus(browser.see("form[aria-label='Put in force'] label > input[type='text']"));
        browser.press("a week of nights is enough", Keys.ENTER);
        browser.seeText("[role='status']", "Version 2 is in force");
        press("a", "versions");
        WebElement pairs = browser.see("[data-testid='side-by-side']");
        assertTrue(pairs.getText().contains("the 14 newest fulls"), pairs.getText());
        assertTrue(pairs.getText().contains("the 7 newest fulls"), pairs.getText());
        browser.seeText("table", "a week of nights is enough");
        browser.picture("versions");
    }

    @Test
    void whoIsNotReadyIsNamedBeforeAPolicyIsPutInForce() throws IOException {
        browser.open(firth.address("/fleet"));
        press("[data-row='manifests'] a", "2 things lacking");
        browser.seeText("[data-testid='readiness']", "Quay near refuses writes: quota of manifests used up.");
        browser.seeText("[data-testid='readiness']", "runner on northquay-2");
        browser.picture("readiness");
        browser.open(firth.address("/policies/sailings"));
        write("Name of the policy", "Sailings by day");
        press("button", "Put in force");
        WebElement named = browser.see("section[aria-label='Not ready']");
        assertTrue(named.getText().contains("3 of 6 followers are not ready"), named.getText());
        assertTrue(named.getText().contains("Client 2019 is older than server 2022"), named.getText());
        press("button", "Not yet");
        press("button", "Discard the draft");
    }

    @Test
    void aRouteIsGivenAnAlternateAndAPolicyIsClosedForAWhile() throws IOException {
        browser.open(firth.address("/fleet/places"));
        String add = "select[aria-label='From Southquay: data: add']";
        browser.see(add + " option[value='quay-near']").click();
        press("[data-route='southquay'] button", "Keep");
        browser.gone("[data-route='southquay'] button.ink-button");
        browser.open(firth.address("/fleet/places"));
        assertTrue(browser.see("[data-route='southquay'] p").getText().contains("Quay near"));
        browser.picture("places");

        browser.open(firth.address("/policies/shore-office"));
        browser.seeText("section[aria-label='Closures']", "port works");
        focus(browser.see("button[aria-label='Lift the closure: port works']"));
        browser.press(Keys.ENTER);
        browser.gone("button[aria-label='Lift the closure: port works']");
    }

    private long number(String figure) {
        return Long.parseLong(figure.replaceAll("\\D", ""));
    }

    private String row(String label) {
        return browser.all("[data-testid='consequence'] tbody tr").stream()
                .filter(r -> r.getText().startsWith(label))
                .map(WebElement::getText)
                .findFirst()
                .orElse("");
    }

    @Test
    void aSlotIsDraggedInTheWeekAndItsConsequenceIsSeen() throws IOException {
        browser.open(firth.address("/week?week=policy%3Asailings"));
        WebElement bar = browser.see("[data-bar='bookings nightly']");
        browser.picture("week");
        assertTrue(bar.getDomAttribute("aria-label").contains("usually"), bar.getDomAttribute("aria-label"));
        WebElement filled = bar.findElements(By.tagName("rect")).get(0);
        browser.drag(filled, 60);
        WebElement panel = browser.seeText("[data-testid='try']", "for everybody who follows it");
        assertTrue(panel.getText().contains("every day but Saturday at 22:40"), panel.getText());
        browser.seeText("[data-testid='try'] table", "Time within objective");
        press("[data-testid='try'] button", "Leave it as it is");
        browser.gone("[data-testid='try']");

        focus(browser.see("[data-bar='bookings nightly']"));
        browser.press(Keys.ARROW_LEFT, Keys.ARROW_LEFT, Keys.ENTER);
        browser.seeText("[data-testid='try']", "at 22:10");
        press("[data-testid='try'] button", "Keep as a draft");
        browser.seeText("h1", "Sailings");
        browser.seeText("[data-schedule='nightly']", "at 22:10");
        press("button", "Discard the draft");
        browser.seeText("[data-schedule='nightly']", "at 22:40");
    }

    @Test
    void aStandingRuleCatchesADatabaseThatIsEnrolled() throws IOException {
        browser.open(firth.address("/fleet"));
        browser.seeText("section", "pilots was seen on northquay-3");
        browser.seeText("[data-row='fares']", "Another goes by its name on southquay-2");
        browser.picture("fleet");
        press("button", "Paste a table");
        browser.see("textarea")
                .sendKeys("name,engine,site,zone\nkiosk-east,SQLite 3,northquay,Europe/Lisbon\n,MySQL,,\n");
        browser.seeText("[data-testid='difference']", "New: kiosk-east.");
        browser.seeText("[role='dialog'] p", "Line 3: name is missing");
        press("[role='dialog'] button.ink-button", "Take it");
        browser.seeText("[role='status']", "1 given a policy by the standing rules");
        browser.seeText("[data-row='kiosk-east']", "Kiosks");

        browser.gone("textarea");
        browser.until(() -> {
            focus(browser.see("[data-row='moorings']"));
            return browser.script("return document.activeElement.dataset.row") == null ? null : true;
        });
        browser.press("x");
        browser.seeText("main", "1 chosen");
        WebElement form = browser.see("form[aria-label='Assign']");
        form.findElement(By.cssSelector("option[value='kiosks']")).click();
        focus(form.findElement(By.cssSelector("input[name='why']")));
        browser.press("as the others", Keys.ENTER);
        browser.seeText("[data-row='moorings']", "Kiosks");

        browser.open(firth.address("/fleet/standing"));
        browser.seeText("[data-testid='falls']", "in two rules at once");
        browser.picture("standing");
    }
}
