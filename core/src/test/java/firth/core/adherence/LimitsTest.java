package firth.core.adherence;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.forecast.Regular;
import firth.core.model.CopiesRule;
import firth.core.model.Demands;
import firth.core.model.Objective;
import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.model.RateLimit;
import firth.core.model.RateLimit.Hours;
import firth.core.model.Taking;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** How fast runs may go. */
class LimitsTest {

    private static final OpenHours NIGHTS = new OpenHours(EnumSet.allOf(DayOfWeek.class), 22 * 60, 6 * 60);
    private static final Instant BEGIN = Instant.parse("2026-10-24T00:00:00Z");

    private static Limits limits(RateLimit... limits) {
        return new Limits(
                new PolicyVersion(
                        "p",
                        1,
                        Regular.START,
                        "P",
                        true,
                        Objective.NONE,
                        List.of(),
                        List.of(NIGHTS),
                        List.of(),
                        CopiesRule.NONE,
                        Demands.NONE,
                        new Taking(List.of(limits), Optional.empty(), List.of(), List.of())),
                Regular.LISBON);
    }

    private static RateLimit limit(double rate, Hours hours) {
        return new RateLimit(rate, hours, Optional.empty(), Optional.empty(), Optional.empty());
    }

    @Test
    void theClocksOfTheDatabaseDecide() {
        // On 25 October the clocks of Lisbon go back at 01:00 UTC: that night is nine hours long.
        Limits limits = limits(limit(100, Hours.OPEN));
        Instant opens = Instant.parse("2026-10-24T21:00:00Z");
        Instant ends = opens.plus(Duration.ofHours(9));
        assertEquals(OptionalDouble.empty(), limits.at(opens.minusMillis(1), Optional.empty(), Optional.empty()));
        assertEquals(OptionalDouble.of(100), limits.at(opens, Optional.empty(), Optional.empty()));
        assertEquals(OptionalDouble.of(100), limits.at(ends.minusMillis(1), Optional.empty(), Optional.empty()));
        assertEquals(OptionalDouble.empty(), limits.at(ends, Optional.empty(), Optional.empty()));
        assertEquals(OptionalDouble.of(100), limits.most(opens, ends, Optional.empty(), Optional.empty()));
        assertEquals(
                OptionalDouble.empty(), limits.most(opens, ends.plusMillis(1), Optional.empty(), Optional.empty()));
        assertEquals(OptionalDouble.empty(), limits.most(opens, opens, Optional.empty(), Optional.empty()));
    }

    @Test
    void whatIsAskedOfAStoreOrAHostIsAskedOfNoOther() {
        Limits limits = limits(
                new RateLimit(5, Hours.ALWAYS, Optional.empty(), Optional.of("far"), Optional.empty()),
                new RateLimit(6, Hours.ALWAYS, Optional.empty(), Optional.empty(), Optional.of("quay")));
        assertEquals(OptionalDouble.empty(), limits.at(BEGIN, Optional.of("near"), Optional.of("pier")));
        assertEquals(OptionalDouble.of(5), limits.at(BEGIN, Optional.of("far"), Optional.of("pier")));
        assertEquals(OptionalDouble.of(6), limits.at(BEGIN, Optional.of("near"), Optional.of("quay")));
        assertEquals(OptionalDouble.of(5), limits.at(BEGIN, Optional.of("far"), Optional.of("quay")));
        assertEquals(OptionalDouble.empty(), limits.at(BEGIN, Optional.empty(), Optional.empty()), "nobody says where");
    }

    @Test
    void aLittleMoreIsNotTooFast() {
        Limits limits = limits(limit(1000, Hours.ALWAYS));
        Instant end = BEGIN.plusSeconds(99);
        assertFalse(limits.isTooFast(110_000, BEGIN, end, Optional.empty(), Optional.empty()));
        assertTrue(limits.isTooFast(110_001, BEGIN, end, Optional.empty(), Optional.empty()));
        assertFalse(limits().isTooFast(1e18, BEGIN, end, Optional.empty(), Optional.empty()), "no limit");
    }

    static LongStream seeds() {
        return LongStream.range(0, 40);
    }

    /** Minute by minute, every limit looked at: hours begin and end at whole minutes. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theMeanIsThatOfItsMinutes(long seed) {
        Random random = new Random(seed);
        List<RateLimit> some = new ArrayList<>();
        for (int n = 0; n <= random.nextInt(4); n++) {
            EnumSet<DayOfWeek> days = EnumSet.allOf(DayOfWeek.class);
            days.removeIf(d -> random.nextInt(3) == 0);
            Optional<OpenHours> at = random.nextBoolean() || days.isEmpty()
                    ? Optional.empty()
                    : Optional.of(new OpenHours(days, random.nextInt(1440), 1 + random.nextInt(1440)));
            some.add(new RateLimit(
                    1 + random.nextInt(9), Hours.values()[random.nextInt(3)], at, Optional.empty(), Optional.empty()));
        }
        Limits limits = limits(some.toArray(RateLimit[]::new));
        for (int look = 0; look < 10; look++) {
            Instant from = BEGIN.plus(Duration.ofMinutes(random.nextInt(3 * 1440)));
            int minutes = 1 + random.nextInt(600);
            double sum = 0;
            boolean free = false;
            for (int m = 0; m < minutes; m++) {
                OptionalDouble at = limits.at(from.plus(Duration.ofMinutes(m)), Optional.empty(), Optional.empty());
                free |= at.isEmpty();
                sum += at.orElse(0);
            }
            OptionalDouble most =
                    limits.most(from, from.plus(Duration.ofMinutes(minutes)), Optional.empty(), Optional.empty());
            assertEquals(free, most.isEmpty());
            assertEquals(free ? 0 : sum / minutes, most.orElse(0), 1e-9);
        }
    }
}
