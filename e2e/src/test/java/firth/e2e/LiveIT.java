package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.Callable;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/**
 * The small real fleet, from nothing to databases that are covered and proved by drills; a server that is killed and a log that is
 * deleted by a button of its page show where they ought to.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class LiveIT extends InBrowser {

    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Set<String> DATABASES = Set.of("harbour", "berths", "sheds");

    private final HttpClient http = HttpClient.newHttpClient();

    @Override
    Firth begin() throws IOException, InterruptedException {
        return Firth.startLiveFleet();
    }

    private JsonNode ask(String path) throws IOException, InterruptedException {
        HttpRequest request =
                HttpRequest.newBuilder(URI.create(firth.address(path))).build();
        return JSON.readTree(
                http.send(request, HttpResponse.BodyHandlers.ofString()).body());
    }

    private static void until(String what, Callable<Boolean> holds) throws Exception {
        Instant deadline = Instant.now().plus(Duration.ofMinutes(5));
        while (!holds.call()) {
            assertTrue(Instant.now().isBefore(deadline), what + ": not within five minutes");
            Thread.sleep(500);
        }
    }

    private Set<String> covered() throws Exception {
        Set<String> out = new HashSet<>();
        for (JsonNode row : ask("/api/cover/rows?database=harbour&database=berths&database=sheds")) {
            if (row.path("grade").asText().equals("covered")) {
                out.add(row.path("id").asText());
            }
        }
        return out;
    }

    private WebElement fault(String title) {
        return browser.all("section[aria-label='Faults'] li").stream()
                .filter(li -> li.getText().contains(title))
                .findFirst()
                .orElseThrow();
    }

    private void press(String title) {
        fault(title).findElement(By.tagName("button")).click();
    }

    @Test
    @Order(1)
    void itIsCoveredWithinFiveMinutes() throws Exception {
        until("all three are covered", () -> covered().equals(DATABASES));
        browser.open(firth.address("/cover?period=P1D"));
        for (String database : DATABASES) {
            browser.seeText("main", database);
        }
        browser.open(firth.address("/live"));
        browser.until(() -> browser.all("[data-testid='truth'] tbody tr").size() == 3 ? Boolean.TRUE : null);
        browser.until(() -> browser.all("[data-testid='truth'] tbody tr").stream()
                        .noneMatch(row -> row.getText().contains("nothing yet"))
                ? Boolean.TRUE
                : null);
    }

    @Test
    @Order(2)
    void drillsProveAllOfIt() throws Exception {
        until("each was proved", () -> {
            Set<String> proved = new HashSet<>();
            for (JsonNode done : ask("/api/drills").path("done")) {
                assertEquals("proved", done.path("outcome").asText(), done.toString());
                proved.add(done.path("database").asText());
            }
            return proved.equals(DATABASES);
        });
        browser.open(firth.address("/drills"));
        browser.seeText("main", "proved");
        JsonNode watch = ask("/api/watch");
        assertEquals(
                0,
                watch.path("counts").path("broken").asInt(-1),
                watch.path("findings").toString());
    }

    @Test
    @Order(3)
    void aServerThatIsKilledIsStartedAgain() {
        browser.open(firth.address("/live"));
        browser.seeText("section[aria-label='Faults'] li", "Kill the server of berths");
        press("Kill the server of berths");
        browser.seeText("section[aria-label='Faults'] li button", "Put it right");
        browser.seeText("[data-testid='truth'] tr", "The last try failed.");
        press("Kill the server of berths");
        browser.until(() -> browser.all("[data-testid='truth'] tr").stream()
                        .noneMatch(row -> row.getText().contains("The last try failed."))
                ? Boolean.TRUE
                : null);
        assertEquals(
                List.of(),
                browser.all("section[aria-label='Faults'] li button").stream()
                        .map(WebElement::getText)
                        .filter("Put it right"::equals)
                        .toList());
    }

    @Test
    @Order(4)
    void aLogThatIsDeletedIsAGap() throws Exception {
        browser.open(firth.address("/live"));
        browser.seeText("section[aria-label='Faults'] li", "Delete the newest log of harbour");
        press("Delete the newest log of harbour");
        browser.seeText("section[aria-label='Faults'] li", "Last done at");
        until("the gap is known", () -> ask("/api/gaps?period=P1D").toString().contains("harbour"));
        browser.open(firth.address("/gaps?period=P1D"));
        browser.seeText("main", "harbour");
    }
}
