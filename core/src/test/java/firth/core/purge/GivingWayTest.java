package firth.core.purge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.model.BackupStore;
import firth.core.model.GivesWay;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class GivingWayTest {

    static LongStream seeds() {
        return Seeds.upTo(200);
    }

    private static BackupStore store(GivesWay way, Duration stay) {
        return new BackupStore(
                "n1",
                "n1",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                OptionalDouble.empty(),
                OptionalDouble.empty(),
                false,
                way,
                Optional.of(stay),
                Optional.empty());
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void nothingLockedHeldOrOfTheNewestWayBackEverDoes(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        Retention kept = e.retention();
        List<Integer> all = GivingWay.of(e, store(GivesWay.COPIED_ELSEWHERE_FIRST, Duration.ZERO));
        for (int k : all) {
            assertFalse(kept.has(k, Reason.LOCKED) || kept.has(k, Reason.HELD) || kept.has(k, Reason.FLOOR));
            assertEquals("n1", kept.store(k));
        }
        List<Integer> obsolete = GivingWay.of(e, store(GivesWay.OBSOLETE_FIRST, Duration.ZERO));
        assertTrue(obsolete.stream().allMatch(k -> kept.verdict(k) != Verdict.NEEDED));
        assertEquals(obsolete, all.subList(0, obsolete.size()), "what no rule needs goes first");
        assertEquals(List.of(), GivingWay.of(e, store(GivesWay.REFUSE_NEW, Duration.ZERO)));
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void theLongerCopiesHaveToStayTheFewerGiveWay(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        List<Integer> soon = GivingWay.of(e, store(GivesWay.COPIED_ELSEWHERE_FIRST, Duration.ofHours(20)));
        List<Integer> late = GivingWay.of(e, store(GivesWay.COPIED_ELSEWHERE_FIRST, Duration.ofHours(90)));
        assertTrue(soon.containsAll(late));
        for (int k : soon) {
            assertFalse(e.history().landedMs(e.retention().copy(k))
                    > e.asOf().minus(Duration.ofHours(20)).toEpochMilli());
        }
    }
}
