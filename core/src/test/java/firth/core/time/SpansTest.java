package firth.core.time;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class SpansTest {

    @Test
    void aStretchHoldsItsBeginningAndNotItsEnd() {
        Spans s = Spans.of(10, 20);
        assertFalse(s.contains(9));
        assertTrue(s.contains(10));
        assertTrue(s.contains(19));
        assertFalse(s.contains(20));
    }

    @Test
    void whatTouchesIsOne() {
        assertEquals(Spans.of(10, 30), Spans.of(10, 20).or(Spans.of(20, 30)));
        assertEquals(2, Spans.of(10, 20).or(Spans.of(21, 30)).count());
    }

    @Test
    void anEmptyOrBackwardStretchIsNone() {
        assertSame(Spans.NONE, Spans.of(5, 5));
        assertSame(Spans.NONE, Spans.of(6, 5));
        assertTrue(Spans.of(1, 2).and(Spans.of(2, 3)).isEmpty());
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void unionAndIntersectionAgreeWithMembershipAtEveryMoment(long seed) {
        Random random = new Random(seed);
        Spans a = any(random);
        Spans b = any(random);
        for (long t = -1; t <= 101; t++) {
            assertEquals(a.contains(t) || b.contains(t), a.or(b).contains(t), "or at " + t + ", seed " + seed);
            assertEquals(a.contains(t) && b.contains(t), a.and(b).contains(t), "and at " + t + ", seed " + seed);
        }
        assertEquals(a.or(b), b.or(a));
        assertEquals(a, a.or(a.and(b)));
    }

    private static Spans any(Random random) {
        Spans out = Spans.NONE;
        for (int i = 0; i < 6; i++) {
            long from = random.nextInt(100);
            out = out.or(Spans.of(from, from + random.nextInt(15)));
        }
        return out;
    }

    @Test
    void aSpanRefusesToEndBeforeItBegins() {
        Instant t = Instant.parse("2026-11-23T00:00:00Z");
        assertThrows(IllegalArgumentException.class, () -> new Span(t, t.minusSeconds(1)));
    }
}
