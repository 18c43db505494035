package firth.core.model;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.forecast.Regular;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Who falls under which rule, and what was stated of a database apart from it. */
class StandingRuleTest {

    private static Database database(String name, String engine, Map<String, String> labels) {
        Database d = new Regular(0).database;
        return new Database(
                name,
                name,
                Optional.ofNullable(engine),
                Optional.of("north"),
                d.zone(),
                Optional.empty(),
                List.of(),
                d.inServiceFrom(),
                d.streams(),
                d.sizeBytes(),
                d.replayBytesPerSecond(),
                List.of(),
                d.lineages(),
                new Particulars(
                        Optional.empty(),
                        Optional.of("h1"),
                        Optional.of("gates"),
                        Optional.empty(),
                        labels,
                        Optional.empty(),
                        Optional.of("r0"),
                        Optional.empty(),
                        List.of()));
    }

    private static StandingRule rule(String id, int order, String name, String engine, Map<String, String> labels) {
        return new StandingRule(
                id,
                order,
                labels,
                Optional.ofNullable(engine),
                Optional.empty(),
                Optional.empty(),
                Optional.ofNullable(name),
                Optional.of("p-" + id),
                Optional.empty(),
                true);
    }

    @ParameterizedTest
    @CsvSource({
        "kiosk-*, kiosk-north, true",
        "kiosk-*, kiosk-, true",
        "kiosk-*, Kiosk-north, false",
        "kiosk-?, kiosk-1, true",
        "kiosk-?, kiosk-10, false",
        "*.prod, fares.prod, true",
        "*.prod, faresXprod, false",
        "fares, fares2, false",
    })
    void aPatternMatchesTheWholeName(String pattern, String name, boolean matches) {
        assertEquals(matches, rule("a", 1, pattern, null, Map.of()).holdsFor(database(name, null, Map.of())));
    }

    @Test
    void everythingStatedMustHold() {
        StandingRule both = rule("a", 1, "kiosk-*", "SQLite", Map.of("class", "k"));
        assertTrue(both.holdsFor(database("kiosk-1", "SQLite 3", Map.of("class", "k", "tier", "1"))));
        assertFalse(both.holdsFor(database("kiosk-1", "SQLite 3", Map.of("class", "x"))));
        assertFalse(both.holdsFor(database("kiosk-1", "SQLiteX", Map.of("class", "k"))), "another engine");
        assertFalse(both.holdsFor(database("kiosk-1", null, Map.of("class", "k"))), "no engine stated");
        assertFalse(rule("b", 1, null, null, Map.of()).holdsFor(database("x", null, Map.of())), "states nothing");
    }

    @Test
    void theLeastOrderCountsAndTiesGoById() {
        List<StandingRule> rules = List.of(
                rule("c", 2, "x*", null, Map.of()),
                rule("b", 1, "*", null, Map.of()),
                rule("a", 2, "*", null, Map.of()));
        assertEquals(
                List.of("b", "a", "c"),
                StandingRule.of(database("xy", null, Map.of()), rules).stream()
                        .map(StandingRule::id)
                        .toList());
    }

    private static Assigned stated(String id, String policy, String route, Instant from) {
        return new Assigned(
                id, "d", Optional.ofNullable(policy), Optional.ofNullable(route), from, "Maren", "for the test");
    }

    @Test
    void whatIsStatedApartBeginsAtItsMomentAndLosesNothingBefore() {
        Database d = new Regular(0).database;
        Instant later = d.inServiceFrom().plus(Duration.ofDays(9));
        Database out = d.assigned(
                List.of(stated("2", null, null, later.plus(Duration.ofDays(9))), stated("1", "q", "r1", later)));
        assertEquals(Optional.of("p"), out.policyAt(later.minusMillis(1)), "what always applied");
        assertEquals(Optional.of("q"), out.policyAt(later));
        assertEquals(Optional.empty(), out.policyAt(later.plus(Duration.ofDays(9))), "taken away");
        assertEquals(Optional.of("r1"), out.particulars().route(), "a statement without a route leaves the one before");
        assertEquals(d, d.assigned(List.of()));
    }

    @Test
    void retiredIsFromTheMomentOn() {
        Database d = database("x", null, Map.of());
        assertFalse(d.retiredAt(Instant.MAX), "never stated");
    }
}
