package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** A period is cut without a hole, and where it was cut before it moved on. */
class SlicesTest {

    private static final Instant NOW = Instant.parse("2026-11-23T09:12:07.123Z");

    private static Slices before(Instant end, Duration length) {
        return Slices.of(new Span(end.minus(length), end), 200, Duration.ofMillis(1));
    }

    private static Set<Instant> cuts(Slices s) {
        return IntStream.range(1, s.count()).mapToObj(s::from).collect(Collectors.toSet());
    }

    @Test
    void theyCoverThePeriodOneAfterTheOther() {
        Random random = new Random(7);
        for (int n = 0; n < 200; n++) {
            Duration length = Duration.ofMillis(1 + random.nextInt(1_000_000_000));
            Slices s = before(NOW.plusMillis(random.nextInt()), length);
            assertEquals(s.period().from(), s.from(0));
            assertEquals(s.period().to(), s.to(s.count() - 1));
            for (int i = 1; i < s.count(); i++) {
                assertEquals(s.to(i - 1), s.from(i));
                assertTrue(s.from(i).isBefore(s.to(i)));
            }
        }
    }

    @Test
    void theyAreCutWhereTheyWereWhileThePeriodMovesOn() {
        Duration month = Duration.ofDays(30);
        Set<Instant> once = cuts(before(NOW, month));
        Set<Instant> later = cuts(before(NOW.plusSeconds(60), month));
        later.removeAll(once);
        assertTrue(later.size() <= 1, "but for one that came into sight: " + later);
    }

    @Test
    void aStretchTouchesTheSlicesItHasAMomentOf() {
        Slices s = Slices.of(new Span(Instant.EPOCH, Instant.ofEpochSecond(100)), 10, Duration.ofMillis(1));
        assertEquals(10, s.count());
        assertEquals(2, s.begin(Instant.ofEpochSecond(20)));
        assertEquals(2, s.end(Instant.ofEpochSecond(20)), "its end is not of it");
        assertEquals(3, s.end(Instant.ofEpochMilli(20_001)));
        assertEquals(0, s.begin(Instant.ofEpochSecond(-50)));
        assertEquals(0, s.end(Instant.ofEpochSecond(-50)));
        assertEquals(10, s.begin(Instant.ofEpochSecond(500)));
        assertEquals(10, s.end(Instant.ofEpochSecond(500)));
    }

    @Test
    void theyAreNoShorterThanAllowedAndNoneOfNothing() {
        Span day = new Span(NOW.minus(Duration.ofDays(1)), NOW);
        assertEquals(25, Slices.of(day, 240, Duration.ofHours(1)).count());
        assertEquals(0, before(NOW, Duration.ZERO).count());
    }
}
