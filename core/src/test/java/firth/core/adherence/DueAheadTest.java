package firth.core.adherence;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.history.DatabaseFacts;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Nothing becomes due before the moment that is foreseen, so that nobody need look before. */
class DueAheadTest {

    private static final Duration FAR = Duration.ofDays(2);

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void nothingIsDueBeforeTheMomentForeseen(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        for (int n = 0; n < 6; n++) {
            Instant now = world.anyMoment();
            DatabaseFacts facts = n % 2 == 0 ? world.facts() : world.facts(world.knownBy(now));
            Instant until = Due.quietUntil(facts, world.fleet, now, FAR);
            if (until.equals(now)) {
                assertFalse(Due.of(facts, world.fleet, now).isEmpty(), "something is due now");
                continue;
            }
            assertTrue(until.isAfter(now) && !until.isAfter(now.plus(FAR)), until + " is ahead of " + now);
            long between = Duration.between(now, until).toMillis();
            for (int look = 0; look < 12; look++) {
                Instant then = look == 0
                        ? until.minusMillis(1)
                        : now.plusMillis((long) (world.random().nextDouble() * between));
                assertEquals(List.of(), Due.of(facts, world.fleet, then), now + " to " + until + ", at " + then);
            }
        }
    }
}
