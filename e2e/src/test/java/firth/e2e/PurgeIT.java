package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;

/** Room is freed: a keeper asks, another person approves, the agent deletes, and the record says so. */
class PurgeIT extends InBrowser {

    @Override
    Firth begin() throws IOException, InterruptedException {
        return Firth.startWithAgents();
    }

    private void be(String name) {
        browser.see("header button[aria-haspopup='menu']").click();
        browser.seeText("[role='menu'] button", name).click();
        browser.seeText("header button[aria-haspopup='menu']", name);
    }

    private void press(String text) {
        browser.seeText("main button, main a", text).click();
    }

    private List<String> filesOf(Path store, String database) throws IOException {
        try (Stream<Path> files = Files.list(store.resolve("files/quay-near/" + database))) {
            return files.map(f -> f.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    void fromAskingToFilesThatAreGone() throws IOException {
        Path store = laid();
        List<String> before = filesOf(store, "fuel");

        // A keeper chooses the fulls of one database and sees that nothing is harmed.
        choose("fuel", "full");
        browser.seeText("[data-testid='proof']", "Every moment of retained reach stays restorable");
        browser.picture("purge");
        List<String> chosen = browser.all("[data-testid='purge-lines'] tbody tr[data-line]").stream()
                .filter(r -> r.getDomAttribute("data-kept") == null)
                .map(r -> r.findElement(By.cssSelector("button")).getText())
                .toList();
        assertTrue(chosen.size() > 2 && before.containsAll(chosen), chosen + " of " + before);
        ask("Friday afternoon");

        // The one who asked cannot approve it; another can, and sees all the asker saw.
        assertTrue(browser.all("[data-testid='purge-steps'] button").stream()
                .noneMatch(b -> b.getText().equals("Approve")));
        be("Tomas Reed");
        browser.seeText("[data-testid='proof']", "Every moment of retained reach stays restorable");
        browser.seeText("[data-testid='proof']", "Nothing has changed since");
        browser.seeText("section[aria-label='Shelves as they were']", "fuel");
        WebElement group = browser.see("tr[data-group='fuel|full']");
        assertTrue(group.getText().contains("what the rules need"), group.getText());
        assertEquals(
                1, browser.all("[data-testid='purge-groups'] tr[data-group]").size());
        browser.picture("purge-list");
        group.findElement(By.tagName("button")).click();
        browser.until(() -> browser.all("tr[data-item]").size() == chosen.size() ? Boolean.TRUE : null);
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
        browser.seeText("main td", " is done: ");
        for (String step : List.of("asked to delete", "approved list", "began deleting", "told what became")) {
            browser.seeText("main td", step);
        }
        press("Is it whole?");
        browser.seeText("[role='status']", "follow from one another");
        browser.picture("record");
    }

    @Test
    void whatIsObsoleteGoesByItselfOnceTwoPeopleSaidSo() throws IOException {
        laid();
        browser.open(firth.address("/purge"));
        press("Standing purges");
        String kiosks = "section[aria-label='Kiosks'] ";
        browser.seeText(kiosks + "button", "Propose one").click();
        choose(kiosks, "No rule has needed it for", "P1D");
        choose(kiosks, "Nothing goes", "broken");
        type(kiosks, "From", "00:00");
        type(kiosks, "to", "00:00");
        press("See what it would have done");
        browser.seeText("[data-testid='trial']", "would have gone");
        browser.seeText("[data-testid='trial']", "need would still be there");
        type(kiosks, "Why may it go by itself?", "The store fills up");
        browser.picture("standing-form");
        press("Propose it");
        browser.seeText("[data-testid='waiting']", "Waits for a second person");
        assertTrue(
                browser.all("main button").stream().noneMatch(b -> b.getText().equals("Put it in force")));

        // Another sees the same before it is in force; what is broken of one of its databases pauses the night that has
        // begun.
        be("Tomas Reed");
        browser.seeText("[data-testid='trial']", "would have gone");
        browser.picture("standing-waiting");
        press("Put it in force");
        browser.seeText(kiosks, "put in force by");
        browser.seeText(kiosks + "li", "paused by a finding: ");
        browser.picture("standing");
        be("Ines Brandt");
        press("Withdraw it");
        browser.seeText(kiosks, "Nothing goes by itself");
        browser.open(firth.address("/record"));
        for (String step : List.of("proposed that what is obsolete", "put in force that", "withdrew what was to go")) {
            browser.seeText("main td", step);
        }
    }

    private void choose(String within, String label, String value) {
        new Select(browser.seeText(within + "label", label).findElement(By.tagName("select"))).selectByValue(value);
    }

    private void type(String within, String label, String text) {
        WebElement field = browser.until(() -> browser.all(within + "label").stream()
                .filter(l -> l.getText().strip().equals(label))
                .findFirst()
                .map(l -> l.findElement(By.tagName("input")))
                .orElse(null));
        field.sendKeys(Keys.chord(Keys.CONTROL, "a"), text);
    }

    @Test
    void aCancelWins() throws Exception {
        Path store = laid();
        Files.writeString(store.resolve("mood.properties"), "slow=20");
        choose("berths", "log");
        String list = approvedByTomas("too many logs");
        List<String> before = filesOf(store, "berths");
        press("Carry out");
        browser.until(() -> outcomes(list).get("handed") != null ? Boolean.TRUE : null);
        press("Cancel it");
        browser.seeText("[data-testid='purge-state']", "cancelled");
        Map<String, Integer> over = browser.until(() -> {
            Map<String, Integer> now = outcomes(list);
            return now.get("handed") == null ? now : null;
        });
        Files.delete(store.resolve("mood.properties"));
        assertTrue(over.get("deleted") <= 500, "only what the agent had already: " + over);
        assertTrue(over.get("cancelled") > 500, over.toString());
        browser.seeText("[data-testid='purge-tally']", "cancelled");
        long gone = before.stream()
                .filter(f -> !Files.exists(store.resolve("files/quay-near/berths/" + f)))
                .count();
        assertEquals(over.get("deleted").intValue(), gone, "and no other file");
    }

    @Test
    void aRuleThatChangedMeanwhileKeepsWhatItNeeds() throws Exception {
        Path store = laid();
        choose("lost-property", "full");
        String list = approvedByTomas("old nights");
        List<String> before = filesOf(store, "lost-property");
        browser.script("""
                return Promise.all(['/api/session', '/api/policies/kiosks'].map(a => fetch(a).then(r => r.json())))
                  .then(([session, policy]) => fetch('/api/policies/kiosks/versions', {
                    method: 'POST',
                    headers: {'Content-Type': 'application/json', 'X-Firth-Page': session.page},
                    body: JSON.stringify({
                      document: {...policy.versions[0].document, retain: [{role: 'near', reach: 'P3Y'}]},
                      at: 'now', why: 'audit', despite: 'room is found'})}))
                  .then(r => { if (!r.ok) throw new Error('' + r.status); return true; })
                """);
        browser.open(firth.address("/purge/" + list));
        browser.seeText("[aria-label='Progress']", "drop out as things stand now");
        browser.seeText("[data-testid='proof']", "What has changed since drops out");
        press("Carry out");
        browser.seeText("[data-testid='purge-state']", "done");
        assertEquals(Set.of("dropped"), outcomes(list).keySet());
        assertEquals(before, filesOf(store, "lost-property"), "no file is gone");
    }

    private Path laid() {
        Path store = firth.directory().resolve("harbour/stores/quay-near");
        browser.until(() -> Files.exists(store.resolveSibling("laid")) ? Boolean.TRUE : null);
        return store;
    }

    /** Chooses what no rule needs of one database and kind in Quay near. */
    private void choose(String database, String kind) {
        browser.open(firth.address("/purge?store=quay-near"));
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "Nothing is chosen");
        new Select(browser.seeText("label", "Of").findElement(By.tagName("select"))).selectByValue(database);
        new Select(browser.seeText("label", "Kind").findElement(By.tagName("select"))).selectByValue(kind);
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "restorable");
    }

    private void ask(String reason) {
        browser.see("form[aria-label='Ask for approval'] input").sendKeys(reason, Keys.ENTER);
        browser.seeText("[data-testid='purge-state']", "awaits approval");
    }

    /** Asks for what is chosen and has it approved; the list's id. Ines is at the desk again afterwards. */
    private String approvedByTomas(String reason) {
        ask(reason);
        be("Tomas Reed");
        press("Approve");
        browser.seeText("[data-testid='purge-state']", "approved");
        be("Ines Brandt");
        String at = (String) browser.script("return location.pathname");
        return at.substring(at.lastIndexOf('/') + 1);
    }

    /** How many items of a list are in each state. */
    private Map<String, Integer> outcomes(String list) {
        Map<String, Integer> out = new TreeMap<>();
        Object tallies = browser.script("return fetch('/api/purge/" + list + "').then(r => r.json())"
                + ".then(l => l.tallies.map(t => t.state + ' ' + t.items))");
        for (Object tally : (List<?>) tallies) {
            String[] words = tally.toString().split(" ");
            out.put(words[0], Integer.parseInt(words[1]));
        }
        return out;
    }

    @Test
    void whoLooksOnlyChangesNothing() throws IOException {
        browser.open(firth.address("/purge?store=quay-near"));
        browser.see("[data-testid='proof']");
        be("Oona Lisk");
        browser.seeText("[data-testid='proof']", "Only keepers can ask for a purge");
        assertTrue(browser.all("form[aria-label='Ask for approval']").isEmpty());
        browser.open(firth.address("/people"));
        browser.seeText("main", "Administrators decide who may do what");
        be("Harald Vane");
        browser.seeText("main table", "Oona Lisk");
        browser.picture("people");
        be("Ines Brandt");
        assertFalse(browser.see("main").getText().contains("Oona Lisk"));
    }
}
