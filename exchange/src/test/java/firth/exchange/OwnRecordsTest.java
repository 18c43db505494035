package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.history.Catalog;
import firth.core.model.Assigned;
import firth.core.model.Component;
import firth.core.model.Database;
import firth.core.model.Probe;
import firth.core.model.Route;
import firth.core.model.Sighting;
import firth.core.model.StandingRule;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The records that say who follows what and what was found on hosts. */
class OwnRecordsTest {

    private static final Instant AT = Instant.parse("2026-11-23T09:00:00Z");

    @Test
    void aProbeSaysWhatWasLookedAtAndNothingElse() {
        Probe bare = (Probe) FleetFileReader.recordOf("""
                {"type":"probe","id":"h:d","database":"d","source":"runner on h","at":"2026-11-23T09:00:00Z"}""");
        assertEquals(
                new Probe(
                        "h:d",
                        "d",
                        "runner on h",
                        AT,
                        Optional.empty(),
                        Optional.empty(),
                        Map.of(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        List.of(),
                        Optional.empty(),
                        Map.of(),
                        List.of(),
                        Map.of()),
                bare);
        assertFalse(bare.isJudgedBy());
        assertEquals("probe", bare.type());
    }

    @Test
    void aProbeSaysWhatADatabaseConsistsOf() {
        Probe probe = (Probe) FleetFileReader.recordOf("""
                {"type":"probe","id":"h:d","database":"d","source":"runner on h","at":"2026-11-23T09:00:00Z",\
                "components":[{"name":"freight","kind":"schema","bytes":4.1e9},{"name":"guests"}]}""");
        assertEquals(
                List.of(
                        new Component("freight", Optional.of("schema"), OptionalDouble.of(4.1e9)),
                        new Component("guests", Optional.empty(), OptionalDouble.empty())),
                probe.components());
    }

    @Test
    void aProbeHoldsEveryFieldOfItsPage() {
        Probe probe = (Probe) FleetFileReader.recordOf("""
                {"type":"probe","id":"h:d","database":"d","source":"runner on h","at":"2026-11-23T09:00:00Z",
                 "logs":"waiting-for-restart","rights":{"held":["read","read","drop"],"needed":[]},"processes":{"archiver":false,"writer":null},
                 "scheduler":false,"client":"15.4","server":"15.6","destinations":[{"store":"n1","reached":true,"written":false,"message":"quota","freeBytes":0,"host":"s1"},{"store":"n2"}],
                 "logDisk":{"freeBytes":5,"fillBytesPerSecond":0},"names":{"engine":"D"}}""");
        assertEquals(Optional.of(Probe.LogMode.WAITING_FOR_RESTART), probe.logs());
        assertEquals(
                new Probe.Rights(Set.of("read", "drop"), Set.of()),
                probe.rights().orElseThrow());
        assertEquals(Map.of("archiver", false), probe.processes(), "null says nothing");
        assertEquals(Optional.of(false), probe.scheduler());
        assertEquals(
                new Probe.Destination(
                        "n1",
                        Optional.of(true),
                        Optional.of(false),
                        Optional.of("quota"),
                        OptionalDouble.of(0),
                        Optional.of("s1")),
                probe.destinations().get(0));
        assertTrue(probe.destinations().get(1).written().isEmpty());
        assertEquals(OptionalDouble.empty(), probe.logDisk().orElseThrow().fillBytesPerSecond(), "0 says nothing");
        assertEquals(Map.of("engine", "D"), probe.names());
    }

    @Test
    void inMemoryToAnEarlierFindingNeverTakesThePlaceOfALater() throws IOException {
        MemoryCatalog catalog = new MemoryCatalog();
        String seen = "{\"type\":\"sighting\",\"id\":\"h:x\",\"database\":\"x\",\"host\":\"%s\",\"seen\":\"%s\"}\n";
        assertEquals(
                1, take(catalog, seen.formatted("h1", "2026-11-23T09:00:00Z")).added());
        assertEquals(
                1, take(catalog, seen.formatted("h0", "2026-11-22T09:00:00Z")).unchanged());
        assertEquals(
                1, take(catalog, seen.formatted("h2", "2026-11-24T09:00:00Z")).updated());
    }

    private static ImportReport take(Catalog catalog, String lines) throws IOException {
        return FleetFileReader.read(new ByteArrayInputStream(lines.getBytes(StandardCharsets.UTF_8)), "test", catalog);
    }

    @Test
    void anAssignmentMayEndTheFollowingAndLeaveTheRoute() {
        Assigned ends = (Assigned) FleetFileReader.recordOf("""
                {"type":"assignment","id":"a","database":"d","from":"2026-11-23T09:00:00Z"}""");
        assertEquals(Optional.empty(), ends.policy());
        assertEquals(Optional.empty(), ends.route());
        assertEquals("", ends.by());
        assertEquals("assignment", ends.type());
    }

    @Test
    void aStandingRuleGivesSomething() {
        StandingRule rule = (StandingRule) FleetFileReader.recordOf("""
                {"type":"standing","id":"s","order":3,"when":{"labels":{"class":"k"},"name":"kiosk-*"},"policy":"kiosks"}""");
        assertEquals(3, rule.order());
        assertEquals(Map.of("class", "k"), rule.labels());
        assertTrue(rule.enabled());
        BadField nothing = assertThrows(BadField.class, () -> FleetFileReader.recordOf("""
                {"type":"standing","id":"s","when":{"name":"x"}}"""));
        assertTrue(nothing.getMessage().contains("neither a policy nor a route"), nothing.getMessage());
        BadField when = assertThrows(BadField.class, () -> FleetFileReader.recordOf("""
                {"type":"standing","id":"s","policy":"p"}"""));
        assertTrue(when.getMessage().contains("which databases"), when.getMessage());
    }

    @Test
    void aRouteIsListsOfStoresInOrder() {
        Route route = (Route) FleetFileReader.recordOf("""
                {"type":"route","id":"r","data":["n1","n2"],"copies":["f1","d1"]}""");
        assertEquals("r", route.name(), "its id where it has no name");
        assertEquals(List.of("n1", "f1", "d1"), List.copyOf(route.dataStores()));
        assertEquals(route.dataStores(), route.logStores(), "logs go where data goes unless they have a place");
        Route apart = (Route) FleetFileReader.recordOf("""
                {"type":"route","id":"r","data":["n1"],"log":["n2","n1"],"copies":[]}""");
        assertEquals(Set.of("n2"), apart.logStores());
    }

    @ParameterizedTest
    @ValueSource(strings = {"identity", "host", "system", "owner", "standbyOf", "route"})
    void whatIsKnownBesideIsReadAndMayBeMissing(String field) {
        String database =
                "{\"type\":\"database\",\"id\":\"d\",\"zone\":\"UTC\",\"inServiceFrom\":\"2026-01-01T00:00:00Z\"%s}";
        Database bare = (Database) FleetFileReader.recordOf(database.formatted(""));
        Database known = (Database) FleetFileReader.recordOf(database.formatted(",\"" + field + "\":\"x\""));
        assertFalse(bare.particulars().toString().contains("Optional[x]"));
        assertTrue(
                known.particulars().toString().contains(field + "=Optional[x]"),
                known.particulars().toString());
    }

    @Test
    void aSightingNamesWhatTheEngineCallsItself() {
        Sighting sighting = (Sighting) FleetFileReader.recordOf("""
                {"type":"sighting","id":"s","database":"fares","identity":"77","seen":"2026-11-23T09:00:00Z"}""");
        assertEquals(Optional.of("77"), sighting.identity());
        assertEquals(AT, sighting.at());
    }
}
