package firth.core;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Assignment;
import firth.core.model.CopiesRule;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hold;
import firth.core.model.Lineage;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.RungUnit;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which rules are in force when. */
class FleetTest {

    private static Instant day(int d) {
        return Instant.parse("2026-01-01T00:00:00Z").plusSeconds(86_400L * (d - 1));
    }

    private static PolicyVersion version(String id, int number, int from) {
        return new PolicyVersion(
                id, number, day(from), id, true, Objective.NONE, List.of(), List.of(), List.of(), CopiesRule.NONE);
    }

    private static Database database(Optional<String> policy, Assignment... assigned) {
        return new Database(
                "d",
                "d",
                Optional.empty(),
                Optional.empty(),
                ZoneId.of("UTC"),
                policy,
                List.of(assigned),
                day(1),
                List.of("main"),
                OptionalDouble.empty(),
                OptionalDouble.empty(),
                List.of(),
                List.of(Lineage.FIRST));
    }

    private final Fleet fleet = new Fleet(
            List.of(), List.of(version("p", 2, 10), version("p", 1, 5), version("q", 1, 1), version("p", 3, 10)));

    private String inForce(Database d, int day) {
        return fleet.versionAt(d, day(day)).map(v -> v.id() + v.version()).orElse("none");
    }

    @ParameterizedTest
    @CsvSource({"4, none", "5, p1", "9, p1", "10, p3", "99, p3"})
    void theVersionThatTookEffectLastIsInForceOfEqualsTheHighest(int day, String expected) {
        assertEquals(expected, inForce(database(Optional.of("p")), day));
    }

    @ParameterizedTest
    @CsvSource({"1, none", "2, q1", "6, p1", "7, none", "8, q1"})
    void datedAssignmentsWinOverThePolicyNamed(int day, String expected) {
        Database d = database(
                Optional.of("p"),
                new Assignment(Optional.of("p"), day(6)),
                new Assignment(Optional.of("q"), day(2)),
                new Assignment(Optional.empty(), day(7)),
                new Assignment(Optional.of("q"), day(8)));
        assertEquals(expected, inForce(d, day));
    }

    @Test
    void anUnknownPolicyAsksForNothing() {
        assertEquals("none", inForce(database(Optional.of("nobody")), 50));
        assertEquals("none", inForce(database(Optional.empty()), 50));
    }

    @Test
    void aHoldIsInForceFromItsBeginningUntilItsEnd() {
        Hold hold = new Hold(
                "h",
                Optional.of("b"),
                Optional.empty(),
                Optional.empty(),
                "",
                "",
                Optional.of(day(3)),
                Optional.of(day(5)));
        assertFalse(hold.inForceAt(day(2)));
        assertTrue(hold.inForceAt(day(3)));
        assertFalse(hold.inForceAt(day(5)));
    }

    @ParameterizedTest
    @CsvSource({
        "WEEK, 2025-12-29T10:00:00Z, 2026-01-04T23:00:00Z, true",
        "WEEK, 2026-01-04T23:00:00Z, 2026-01-05T00:00:00Z, false",
        "YEAR, 2025-12-31T23:00:00Z, 2026-01-01T00:00:00Z, false",
        "MONTH, 2026-01-01T00:00:00Z, 2026-01-31T23:59:59Z, true",
        "MONTH, 2025-01-05T00:00:00Z, 2026-01-05T00:00:00Z, false",
        "DAY, 2026-01-05T00:00:00Z, 2026-01-05T23:59:59Z, true",
    })
    void aRungIsOfACalendarUnit(RungUnit unit, String a, String b, boolean same) {
        ZoneId utc = ZoneId.of("UTC");
        assertEquals(
                same,
                unit.of(Instant.parse(a).atZone(utc))
                        == unit.of(Instant.parse(b).atZone(utc)));
    }

    @Test
    void aRungGoesBackOnTheClockOfTheDatabase() {
        ZonedDateTime march = ZonedDateTime.of(2026, 3, 31, 2, 30, 0, 0, ZoneId.of("Europe/Lisbon"));
        assertEquals(
                "2026-02-28T02:30Z[Europe/Lisbon]",
                RungUnit.MONTH.before(march, 1).toString());
        assertEquals(
                "2026-03-28T02:30Z[Europe/Lisbon]",
                RungUnit.DAY.before(march, 3).toString());
    }
}
