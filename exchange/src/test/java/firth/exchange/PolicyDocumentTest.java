package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Assigned;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.model.Sighting;
import firth.core.model.StandingRule;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Policies while they are written, and the records that say who follows what. */
class PolicyDocumentTest {

    private static PolicyDocument document(String rest) {
        return PolicyDocument.of(
                "{\"type\":\"policy\",\"id\":\"p\",\"effectiveFrom\":\"2026-01-01T00:00:00Z\"" + rest + "}");
    }

    private static final String EVERY_SECOND_WEEK = ",\"schedules\":[{\"id\":\"a\",\"kind\":\"full\","
            + "\"rrule\":\"FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2\",\"within\":\"PT1H\"},"
            + "{\"id\":\"b\",\"kind\":\"incr\",\"rrule\":\"FREQ=DAILY;BYHOUR=2\",\"within\":\"PT1H\"}]";

    @Test
    void aRuleGoesOnCountingFromWhereItBegan() {
        LocalDate today = LocalDate.of(2026, 11, 20);
        ZoneId tokyo = ZoneId.of("Asia/Tokyo");
        PolicyDocument before = document(EVERY_SECOND_WEEK).as("p", 1, Instant.parse("2026-01-01T20:00:00Z"));
        PolicyDocument same = document(EVERY_SECOND_WEEK);
        assertEquals("2026-11-20", anchor(same.anchored(Optional.empty(), tokyo, today), 0));
        assertEquals("2026-01-02", anchor(same.anchored(Optional.of(before), tokyo, today), 0), "there it was the 2nd");
        PolicyDocument kept = before.anchored(Optional.empty(), tokyo, LocalDate.of(2026, 1, 5));
        assertEquals("2026-01-05", anchor(same.anchored(Optional.of(kept), tokyo, today), 0));
        assertEquals("", anchor(same.anchored(Optional.of(kept), tokyo, today), 1), "every day counts from nowhere");
        PolicyDocument other = document(EVERY_SECOND_WEEK.replace("INTERVAL=2", "INTERVAL=3"));
        assertEquals("2026-11-20", anchor(other.anchored(Optional.of(kept), tokyo, today), 0));
    }

    private static String anchor(PolicyDocument document, int schedule) {
        return document.json().path("schedules").path(schedule).path("anchor").asText();
    }

    @Test
    void aVersionIsWithdrawnBeforeItTakesEffectOrNotAtAll() {
        PolicyDocument.Reading early =
                document(",\"withdrawn\":{\"at\":\"2025-12-31T00:00:00Z\"}").read();
        assertTrue(new Fleet(List.of(), List.of(early.version().orElseThrow()))
                .versions("p")
                .isEmpty());
        PolicyDocument.Reading late =
                document(",\"withdrawn\":{\"at\":\"2026-01-01T00:00:01Z\"}").read();
        assertEquals("withdrawn", late.flaw().orElseThrow().path());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "'\"objective\":{\"mishap\":\"1 month\"}' | objective.mishap",
                "'\"schedules\":[{\"id\":\"a\",\"kind\":\"full\",\"cron\":\"1 2 * * *\",\"within\":\"PT1H\"},{\"id\":\"b\",\"kind\":\"full\",\"cron\":\"1 2 * * *\",\"within\":\"PT0S\"}]' | schedules.1.within",
                "'\"schedules\":[{\"id\":\"a\",\"kind\":\"full\",\"rrule\":\"FREQ=DAILY\",\"within\":\"PT1H\"}]' | schedules.0.rrule",
                "'\"retain\":[{\"role\":\"near\"},{\"role\":\"moon\"}]' | retain.1.role",
                "'\"retain\":[{\"role\":\"near\",\"rungs\":{\"week\":-1}}]' | retain.0.rungs.week",
                "'\"openHours\":[{\"days\":[\"MO\"],\"from\":\"25:00\",\"to\":\"06:00\"}]' | openHours.0.from",
                "'\"copies\":{\"stores\":1.5}' | copies.stores",
            })
    void aBadValueIsNamedWhereItStands(String rest, String path) {
        PolicyDocument.Reading reading = document("," + rest).read();
        assertTrue(reading.version().isEmpty());
        assertEquals(path, reading.flaw().orElseThrow().path());
    }

    @Test
    void whatIsWrittenIsKeptThroughAllChanges() {
        PolicyDocument out = document(",\"name\":\"Sailings\",\"wind\":\"SW\"")
                .as("sailings", 7, Instant.parse("2026-05-01T00:00:00Z"))
                .noted("Maren", Instant.parse("2026-04-30T10:00:00Z"), "tides", "");
        PolicyVersion version = out.read().version().orElseThrow();
        assertEquals("sailings 7", version.id() + " " + version.version());
        assertEquals("SW", out.json().path("wind").asText());
        assertEquals("Maren", out.json().path("putInForce").path("by").asText());
        assertTrue(out.json().path("putInForce").path("despite").isMissingNode());
        assertEquals(out.line(), PolicyDocument.of(out.line()).line());
    }

    @Test
    void theEditorsOwnFieldsAreKnown() {
        PolicyVersion v = document(",\"objective\":{\"restoreTime\":\"PT2H\",\"drillEvery\":\"P90D\"},"
                        + "\"retain\":[{\"role\":\"far\",\"fulls\":2,\"lock\":\"P7D\"}]")
                .read()
                .version()
                .orElseThrow();
        assertEquals(Optional.of(Duration.ofHours(2)), v.objective().restoreTime());
        assertEquals(Optional.of(Duration.ofDays(90)), v.objective().drillEvery());
        assertEquals(Optional.of(Duration.ofDays(7)), v.retain().get(0).lock());
    }

    @Test
    void recordsOfWhoFollowsWhatAreRead() {
        Assigned a = (Assigned) FleetFileReader.recordOf("""
                {"type":"assignment","id":"a","database":"d","policy":"p","from":"2026-01-01T00:00:00Z","by":"Maren"}""");
        assertEquals("p Maren", a.policy().orElseThrow() + " " + a.by());
        StandingRule r = (StandingRule) FleetFileReader.recordOf("""
                {"type":"standing","id":"r","order":3,"when":{"name":"kiosk-*","labels":{"class":"k"}},"policy":"p"}""");
        assertEquals(3, r.order());
        Sighting s = (Sighting) FleetFileReader.recordOf("""
                {"type":"sighting","id":"h:d","database":"d","identity":"77","host":"h","seen":"2026-01-01T00:00:00Z"}""");
        assertEquals("77", s.identity().orElseThrow());
        Route route = (Route) FleetFileReader.recordOf("""
                {"type":"route","id":"r","data":["n1","n2"],"log":["n2"],"copies":["f1"]}""");
        assertEquals(Set.of("n1", "f1"), route.dataStores());
        assertEquals(Set.of("n2", "f1"), route.logStores());
    }

    @Test
    void aBadRecordLeavesTheOthersUnharmed() throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        ImportReport report =
                FleetFileReader.read(new ByteArrayInputStream("""
                        {"type":"standing","id":"r","when":{"name":"x"}}
                        {"type":"assignment","id":"a","database":"d"}
                        {"type":"sighting","id":"s","seen":"2026-01-01T00:00:00Z"}
                        {"type":"standing","id":"q","policy":"p"}
                        {"type":"database","id":"d","zone":"UTC","inServiceFrom":"2026-01-01T00:00:00Z","owner":7,"labels":{"n":3}}
                        """.getBytes(StandardCharsets.UTF_8)), "f", catalog);
        assertEquals(
                "[policy, from, database, when]",
                report.rejected().stream()
                        .map(ImportReport.Rejected::field)
                        .toList()
                        .toString());
        Database d = catalog.databases().get(0).database();
        assertEquals("7", d.particulars().owner().orElseThrow(), "a number is taken as its text");
        assertEquals("3", d.particulars().labels().get("n"));
    }
}
