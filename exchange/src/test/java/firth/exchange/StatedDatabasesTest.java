package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import firth.core.model.Database;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What people say of databases changes what they say, and no name of something becomes another thing. */
class StatedDatabasesTest {

    private static final String KNOWN = """
            {"type":"database","id":"bookings","name":"Bookings","inServiceFrom":"2026-01-01T00:00:00Z","zone":"Europe/Lisbon","site":"northquay","route":"from-north","policy":"sailings","identity":"7411","labels":{"class":"sailings","tier":"1"},"mood":"calm"}
            """.strip();
    private static final StatedDatabases STATED = new StatedDatabases(
            Map.of(
                    "site", Map.of("northquay", "Northquay", "southquay", "Southquay"),
                    "route", Map.of("from-north", "From the north"),
                    "policy", Map.of("sailings", "Sailings")),
            List.of(KNOWN),
            Instant.parse("2026-11-28T12:00:00Z"));

    private final MemoryCatalog catalog = new MemoryCatalog();

    private ImportReport read(boolean whole, String... stated) throws IOException {
        FleetFileReader.read(new ByteArrayInputStream(KNOWN.getBytes(StandardCharsets.UTF_8)), "known", catalog);
        return STATED.read(nodes(stated), whole, "by hand", catalog);
    }

    private Database database(String id) {
        return catalog.databases().stream()
                .map(f -> f.database())
                .filter(d -> d.id().equals(id))
                .findFirst()
                .orElseThrow();
    }

    private static List<JsonNode> nodes(String... stated) throws IOException {
        List<JsonNode> out = new ArrayList<>();
        for (String s : stated) {
            out.add(Json.MAPPER.readTree(s.replace('\'', '"')));
        }
        return out;
    }

    @Test
    void whatWouldChangeIsSaidFieldByFieldAndNothingIsTaken() throws IOException {
        List<JsonNode> table = nodes(
                "{'name':'BOOKINGS','site':'Southquay','sizeBytes':40000000000}",
                "{'id':'bookings','name':'Bookings'}",
                "{'id':'fares','name':'fares','owner':'Sales'}",
                "{'id':'tides','name':'tides','site':'Westquay'}",
                "{'id':'fuel','name':'fuel','site':'Westquay','zone':'Atlantis/Deep'}",
                "{'id':'fog','name':'fog','zone':'Atlantis/Deep'}");
        List<StatedDatabases.Compared> found = STATED.compare(table);
        assertEquals(
                List.of(
                        new StatedDatabases.FieldChange("name", "Bookings", "BOOKINGS"),
                        new StatedDatabases.FieldChange("site", "northquay", "southquay"),
                        new StatedDatabases.FieldChange("sizeBytes", "", "40000000000")),
                found.get(0).changes());
        assertEquals(
                "7411", found.get(0).before().orElseThrow().path("identity").asText(), "whole, to be put back");
        assertEquals(List.of(), found.get(1).changes());
        assertTrue(found.get(1).before().isPresent());
        assertTrue(found.get(2).before().isEmpty());
        assertEquals("fares", found.get(2).id());
        assertEquals("site", found.get(3).bad().orElseThrow().field());
        assertEquals("zone", found.get(5).bad().orElseThrow().field());
        assertEquals(Map.of("site", Map.of("Westquay", 2)), STATED.unknownNames(table), "asked about once");
        assertEquals(0, catalog.databases().size());
    }

    @Test
    void aTableOfTwoColumnsChangesThoseTwo() throws IOException {
        assertEquals(
                1, read(false, "{'name':'bookings','engine':'PostgreSQL 16'}").updated());
        Database d = database("bookings");
        assertEquals(Optional.of("PostgreSQL 16"), d.engine());
        assertEquals(Optional.of("sailings"), d.policy());
        assertEquals(Optional.of("northquay"), d.site());
        assertEquals(Optional.of("from-north"), d.particulars().route());
        assertEquals(Optional.of("7411"), d.particulars().identity());
        assertEquals(Instant.parse("2026-01-01T00:00:00Z"), d.inServiceFrom());
        assertEquals(1, catalog.databases().size(), "its name, in another case, is no other database");
    }

    @Test
    void aColumnOfOneLabelLeavesTheOthers() throws IOException {
        read(false, "{'name':'bookings','labels':{'tier':'2','environment':'quay'}}");
        assertEquals(
                Map.of("class", "sailings", "tier", "2", "environment", "quay"),
                database("bookings").particulars().labels());
        read(true, "{'id':'bookings','name':'bookings','labels':{'tier':'3'}}");
        assertEquals(Map.of("tier", "3"), database("bookings").particulars().labels(), "said as a whole");
    }

    @Test
    void aNameThatIsNoIdBecomesOneOrIsRefused() throws IOException {
        ImportReport report = read(
                false,
                "{'id':'fares','name':'fares','site':'Southquay','route':'FROM-NORTH'}",
                "{'id':'tides','name':'tides','site':'Westquay'}",
                "{'id':'fuel','name':'fuel','policy':'Sailing'}",
                "{'id':'b2','name':'b2','standbyOf':'BOOKINGS'}");
        assertEquals(2, report.added());
        assertEquals(Optional.of("southquay"), database("fares").site());
        assertEquals(Optional.of("from-north"), database("fares").particulars().route());
        assertEquals(2, catalog.databases().size(), "one that stands by for another is that one");
        assertEquals(Instant.parse("2026-11-28T12:00:00Z"), database("fares").inServiceFrom());
        assertEquals(
                List.of(2L, 3L), report.rejected().stream().map(r -> r.line()).toList());
        assertEquals("site", report.rejected().get(0).field());
        assertTrue(report.rejected().get(0).reason().contains("northquay (Northquay), southquay (Southquay)"));
        assertEquals("policy", report.rejected().get(1).field());
    }

    @Test
    void aFormSaysItAsAWhole() throws IOException {
        read(true, "{'id':'bookings','name':'Bookings','inServiceFrom':'2026-01-01T00:00:00Z','site':'northquay'}");
        assertEquals(Optional.empty(), database("bookings").policy());
    }
}
