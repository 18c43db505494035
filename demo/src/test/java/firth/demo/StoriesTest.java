package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.time.Span;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.MemoryCatalog;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The demo tells its stories whenever it is started: at night, at noon, on the days the clocks change. */
class StoriesTest {

    private static final Map<String, String> GRADES = Map.ofEntries(
            Map.entry("bookings", "covered"),
            Map.entry("fares", "covered"),
            Map.entry("tides", "covered"),
            Map.entry("manifests", "behind"),
            Map.entry("berths", "short"),
            Map.entry("harbour-log", "behind"),
            Map.entry("crew-rota", "covered"),
            Map.entry("cargo", "covered"),
            Map.entry("fuel", "behind"),
            Map.entry("payroll", "covered"),
            Map.entry("loyalty", "covered"),
            Map.entry("kiosk-north", "covered"),
            Map.entry("kiosk-south", "covered"),
            Map.entry("webshop", "stranded"),
            Map.entry("lost-property", "covered"),
            Map.entry("moorings", "covered"),
            Map.entry("season-tickets", "covered"),
            Map.entry("gate-counters", "short"),
            Map.entry("radar", "covered"));

    private static byte[] part(SaltmarshFerries.Part part, Instant now) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        new SaltmarshFerries(now, SaltmarshFerries.SEED).write(part, out);
        return out.toByteArray();
    }

    /** All parts together, of which every line is good. */
    private static MemoryCatalog catalog(Instant now) throws IOException {
        MemoryCatalog out = new MemoryCatalog();
        for (SaltmarshFerries.Part part : SaltmarshFerries.Part.values()) {
            ImportReport report = FleetFileReader.read(new ByteArrayInputStream(part(part, now)), part.source(), out);
            assertTrue(report.rejected().isEmpty(), report.rejected().toString());
            assertTrue(report.warnings().isEmpty(), report.warnings().toString());
        }
        return out;
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "2026-11-23T09:12:00Z",
                "2026-11-22T00:03:10Z",
                "2026-10-25T01:30:00Z",
                "2027-03-28T02:10:00Z",
                "2027-01-01T23:59:59Z",
                "2026-07-15T13:00:00Z"
            })
    void theGradesAreThoseOfTheStories(String start) throws IOException {
        Instant now = Instant.parse(start);
        MemoryCatalog catalog = catalog(now);
        Instant asOf = catalog.newestFact().orElseThrow();
        assertTrue(!asOf.isAfter(now), "nothing happens in the future");
        assertTrue(Duration.between(asOf, now).toMinutes() < 11, "the newest fact is new");
        Map<String, String> found = new TreeMap<>();
        catalog.databases().forEach(facts -> {
            Evaluation e = Evaluation.of(facts, catalog.fleet(), asOf, new Span(asOf.minus(Duration.ofDays(30)), asOf));
            found.put(e.database().id(), e.grade().word());
        });
        assertEquals(new TreeMap<>(GRADES), found);
    }

    /** At whatever time of day the demo begins. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "2026-11-23T09:12:00Z",
                "2026-11-23T00:20:00Z",
                "2026-11-23T01:02:00Z",
                "2026-11-23T01:21:00Z",
                "2026-11-23T01:40:00Z",
                "2026-11-23T02:30:00Z",
                "2026-11-23T03:00:00Z",
                "2026-11-23T23:50:00Z",
                "2026-07-23T00:20:00Z"
            })
    void whatNobodyNoticedWasEndedByAFullByHand(String start) throws IOException {
        Instant now = Instant.parse(start);
        MemoryCatalog catalog = catalog(now);
        DatabaseFacts berths = catalog.databases().stream()
                .filter(d -> d.database().id().equals("berths"))
                .findFirst()
                .orElseThrow();
        Evaluation e = Evaluation.of(berths, catalog.fleet(), now, new Span(now.minus(Duration.ofDays(30)), now));
        assertEquals(1, e.gaps().size());
        String full = e.gaps().get(0).bridgedBy().orElseThrow();
        assertTrue(full.startsWith("berths-full-") && full.endsWith("-hand"), full);
    }

    @Test
    void theSameSeedAndMomentGiveTheSameFacts() throws IOException {
        Instant now = Instant.parse("2026-11-23T09:12:00Z");
        for (SaltmarshFerries.Part part : SaltmarshFerries.Part.values()) {
            assertTrue(Arrays.equals(part(part, now), part(part, now)), part.source());
        }
    }
}
