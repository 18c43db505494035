package firth.server.history;

import static io.restassured.RestAssured.given;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import io.restassured.path.json.JsonPath;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What failed again and again of one cause is one line of history, and is all there when it is opened. */
@QuarkusTest
@QuarkusTestResource(DemoFleet.class)
class HistoryFoldsTest {

    private static final String FAILED = "/api/history?database=manifests&outcome=failed&kind=log";

    private static JsonPath get(String path) {
        return given().get(path).then().statusCode(200).extract().jsonPath();
    }

    private static List<String> everyId(String path) {
        List<String> out = new ArrayList<>();
        String next = "";
        do {
            JsonPath page = get(path + (next.isEmpty() ? "" : "&after=" + next));
            out.addAll(page.getList("lines.id"));
            next = page.getString("next");
        } while (next != null);
        return out;
    }

    @Test
    void theNewestStandsForAllAndOpensToTheOthers() {
        JsonPath folded = get(FAILED + "&fold=true");
        int runs = folded.getInt("lines[0].folded.runs");
        assertTrue(runs > 250, runs + " runs");
        String newest = folded.getString("lines[0].id");
        List<String> all = everyId(FAILED + "&limit=500");
        assertEquals(all.get(0), newest);
        JsonPath under = get(FAILED + "&fold=true&under=" + newest);
        assertEquals(runs - 1, under.getList("lines").size());
        List<String> started = under.getList("lines.started");
        assertEquals(started.stream().sorted(Comparator.reverseOrder()).toList(), started);
        assertEquals(started.get(started.size() - 1), folded.getString("lines[0].folded.first"));
        assertNull(get(FAILED).getString("lines[0].folded"));
    }

    @Test
    void pagesHoldEveryLineOnceAndCountsAgree() {
        String asked = "/api/history?outcome=failed,cancelled&limit=7";
        List<String> folded = everyId(asked + "&fold=true");
        assertEquals(folded.size(), new HashSet<>(folded).size());
        Set<String> all = new HashSet<>(everyId("/api/history?outcome=failed,cancelled&limit=500"));
        Set<String> opened = new HashSet<>(folded);
        for (String id : folded) {
            opened.addAll(get(asked + "&fold=true&under=" + id).getList("lines.id"));
        }
        assertEquals(all, opened);
        JsonPath facets = get("/api/history/facets?outcome=failed,cancelled&fold=true");
        assertEquals(folded.size(), facets.getInt("total"));
        assertEquals(
                all.size(), get("/api/history/facets?outcome=failed,cancelled").getInt("total"));
    }
}
