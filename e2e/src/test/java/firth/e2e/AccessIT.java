package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Every view can be read by everyone: contrast, names of controls, structure; and an empty Firth says what to do. */
class AccessIT {

    private static Firth firth;
    private static Firth empty;
    private static Browser browser;

    @BeforeAll
    static void start() throws IOException, InterruptedException {
        firth = Firth.start(true);
        empty = Firth.start(false);
        browser = new Browser();
    }

    @AfterAll
    static void stop() throws IOException {
        browser.close();
        firth.close();
        empty.close();
    }

    @ParameterizedTest
    @CsvSource({
        "/watch, [data-severity='stranded']",
        "/cover, [data-row='berths']",
        "/cover?asOf=2026-01-01T00:00:00Z, [role='status']",
        "/gaps, [data-gap='berths']",
        "/history, [data-line]",
        "/databases/berths, [data-testid='backups']",
        "/databases/webshop, [data-testid='promised']",
        "/databases/gate-counters, [data-testid='shelf']",
        "/fleet, [data-row='fares']",
        "/fleet/places, [data-route='southquay']",
        "/fleet/manifests/readiness, [data-testid='readiness']",
        "/fleet/standing, [data-testid='falls']",
        "/policies, [data-policy='sailings']",
        "/policies/sailings, [data-testid='room']",
        "/policies/shore-office/versions, [data-testid='side-by-side']",
        "/week, [data-testid='week-notes'] li",
        "/stores, [data-testid='store-databases'] tbody tr",
        "/purge, [data-testid='purge-lines']",
        "/record, main tbody tr",
        "/restore?database=bookings, [data-testid='staircase']",
        "/restore?database=webshop, [data-testid='impossible']",
        "/rehearsals, form[aria-label='What is lost']",
        "/drills, [data-drill='bookings']",
        "/sheets, main h1",
        "/report, iframe",
        "/sending, main h1",
    })
    void noViewBreaksTheRulesOfAccess(String path, String shown) throws IOException {
        browser.open(firth.address(path));
        browser.see(shown);
        assertEquals(List.of(), violations());
    }

    @ParameterizedTest
    @CsvSource({
        "/watch, [data-severity='stranded']",
        "/cover, [data-row='berths']",
        "/gaps, [data-gap='berths']",
        "/history, [data-line]",
        "/databases/gate-counters, [data-testid='shelf']",
        "/policies/sailings, [data-testid='room']",
        "/week, [data-testid='week-notes'] li",
        "/restore?database=bookings, [data-testid='staircase']",
        "/drills, [data-drill='bookings']",
    })
    void noViewDoesSoAtNight(String path, String shown) throws IOException {
        browser.open(firth.address("/watch"));
        browser.seeText("header button", "Night").click();
        browser.see("html[data-theme='night']");
        browser.open(firth.address(path));
        browser.see(shown);
        List<String> found = violations();
        if (path.equals("/cover")) {
            browser.picture("night");
        }
        browser.seeText("header button", "Day").click();
        assertEquals(List.of(), found);
    }

    private static List<String> violations() throws IOException {
        browser.script(
                Files.readString(Path.of(System.getProperty("firth.root"), "web/node_modules/axe-core/axe.min.js")));
        @SuppressWarnings("unchecked")
        List<Map<String, Object>> found = (List<Map<String, Object>>) browser.script("""
                return axe.run({ runOnly: ['wcag2a', 'wcag2aa'] }).then(r => r.violations.map(v => ({
                  id: v.id, where: v.nodes.slice(0, 3).map(n => n.target.join(' ') + ': ' + n.failureSummary).join('; ') })));
                """);
        return found.stream().map(v -> v.get("id") + " at " + v.get("where")).toList();
    }

    @Test
    void anEmptyFirthSaysWhatToDo() throws IOException {
        browser.open(empty.address("/"));
        browser.seeText("main h1", "First steps");
        assertEquals(List.of(), violations());
        browser.open(empty.address("/watch"));
        browser.seeText("main", "No databases yet");
        assertEquals(List.of(), violations());
        browser.open(empty.address("/cover"));
        browser.seeText("h1", "No databases yet");
        browser.seeText("main", "Drop a fleet file");
        assertEquals(List.of(), violations());
    }
}
