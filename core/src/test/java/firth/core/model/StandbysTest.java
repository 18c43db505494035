package firth.core.model;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import firth.core.RandomFleet;
import firth.core.forecast.Regular;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** Two machines, one database. */
class StandbysTest {

    private static Database following(Database d, String id, String primary) {
        Particulars known = new Particulars(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Map.of(),
                Optional.ofNullable(primary),
                Optional.empty(),
                Optional.empty(),
                List.of());
        return Regular.like(d, id, known);
    }

    @Test
    void aLineIsFollowedToItsEndAndOneThatLeadsBackIsNone() {
        Database any = new RandomFleet(1).database;
        Standbys standbys = Standbys.of(List.of(
                following(any, "a", null),
                following(any, "b", "a"),
                following(any, "c", "b"),
                following(any, "x", "y"),
                following(any, "y", "x"),
                following(any, "self", "self"),
                following(any, "lost", "nobody-knows")));
        assertEquals(List.of("a", "b", "c"), standbys.membersOf("a"));
        assertEquals("a", standbys.primaryOf("c"));
        assertFalse(standbys.isStandby("a"));
        for (String own : List.of("x", "y", "self", "lost", "never-heard-of")) {
            assertFalse(standbys.isStandby(own), own);
            assertEquals(List.of(own), standbys.membersOf(own));
        }
    }
}
