package firth.core.time;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class RunningTimeTest {

    private final RunningTime clock = new RunningTime(Spans.of(100, 200).or(Spans.of(300, Spans.FOREVER)));

    @Test
    void standsStillWhileStopped() {
        assertEquals(50, clock.between(50, 150));
        assertEquals(60, clock.between(90, 250));
        assertEquals(100, clock.between(200, 5_000));
        assertEquals(0, clock.between(400, 900));
        assertEquals(0, clock.between(10, 5));
    }

    @Test
    void goesBackToTheLatestMomentWithThatMuchRunningTime() {
        assertEquals(200, clock.before(250, 50));
        assertEquals(99, clock.before(250, 51));
        assertEquals(900, clock.before(900, 0), "nothing has to run: now itself");
        assertEquals(299, clock.before(900, 1));
    }

    @Test
    void goesOnToTheFirstMomentWithThatMuchRunningTime() {
        assertEquals(90, clock.after(50, 40));
        assertEquals(100, clock.after(50, 50), "it has run so long when it stops");
        assertEquals(201, clock.after(50, 51));
        assertEquals(300, clock.after(150, 100));
        assertEquals(Spans.FOREVER, clock.after(150, 101), "it never runs again");
        assertEquals(Spans.FOREVER, new RunningTime(Spans.NONE).after(50, Long.MAX_VALUE));
        assertEquals(50, clock.after(50, 0));
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6})
    void agreesWithCountingMomentByMoment(long seed) {
        Random random = new Random(seed);
        Spans stopped = Spans.NONE;
        for (int i = 0; i < 4; i++) {
            int from = random.nextInt(80);
            stopped = stopped.or(Spans.of(from, from + random.nextInt(12)));
        }
        RunningTime running = new RunningTime(stopped);
        for (int from = 0; from < 100; from += 3) {
            for (int to = from; to < 100; to += 7) {
                long counted = 0;
                for (int t = from; t < to; t++) {
                    counted += stopped.contains(t) ? 0 : 1;
                }
                assertEquals(counted, running.between(from, to), from + " to " + to + ", seed " + seed);
                long back = running.before(to, counted);
                assertEquals(counted, running.between(back, to), "before " + to + ", seed " + seed);
                long on = running.after(from, counted);
                assertEquals(counted, running.between(from, on), "after " + from + ", seed " + seed);
                assertEquals(true, on <= to, "the earliest such moment, seed " + seed);
                assertEquals(true, back >= from, "the latest such moment, seed " + seed);
            }
        }
    }
}
