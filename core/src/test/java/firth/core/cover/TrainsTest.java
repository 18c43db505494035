package firth.core.cover;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.time.Spans;
import java.time.Instant;
import java.util.Map;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** The quick way through a history and the way that takes any history give the same answers. */
class TrainsTest {

    static LongStream seeds() {
        // In the last three an empty log ends a train and comes long after the logs that follow it.
        return LongStream.concat(Seeds.upTo(300), LongStream.of(545, 1001, 1372))
                .distinct();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void agreesWithTheWayThatTakesAnyHistory(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 3 > 0, RandomFleet.Shape.BEHAVED);
        History history = world.facts().history();
        Instant asOf = world.anyMoment();
        long now = asOf.toEpochMilli();
        Availability availability = new Availability(world.database, world.fleet, history, now);
        Lines lines = new Lines(history, availability);
        for (Hazard hazard : Hazard.values()) {
            Map<Integer, Spans> usable = availability.usable(hazard);
            Trains trains =
                    Trains.of(history, lines, availability.windows(hazard), now).orElseThrow();
            RecoveryTimeline quick = new RecoveryTimeline(history);
            trains.run(usable, now, quick);
            Sweep sweep = new Sweep(history, lines, now);
            CoverState any = sweep.anyHistory(availability, hazard);
            RecoveryTimeline slow = sweep.timeline();
            for (long t = world.database.inServiceFrom().toEpochMilli(); t <= now; t += 600_000) {
                assertEquals(at(slow, t), at(quick, t), hazard + " at " + Instant.ofEpochMilli(t));
            }
            for (int b : lines.dataByAge(0)) {
                assertEquals(any.usable(b), trains.usable(b));
                assertEquals(any.torn(b, now), trains.torn(b, now));
                assertEquals(any.restoresUpTo(b, now), trains.restoresUpTo(b, now), history.id(b));
                if (history.positioned(b, 0)) {
                    assertEquals(any.extendsTo(0, 0, history.to(b, 0)), trains.extendsTo(0, 0, history.to(b, 0)));
                }
            }
        }
    }

    private static long at(RecoveryTimeline timeline, long moment) {
        int step = timeline.stepAt(moment);
        return step < 0 ? RecoveryTimeline.NOTHING : timeline.latestMs(step, moment);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void leavesAloneWhatDoesNotBehave(long seed) {
        RandomFleet world = new RandomFleet(seed, true, RandomFleet.Shape.EVERYTHING);
        History history = world.facts().history();
        Availability availability = new Availability(world.database, world.fleet, history, world.end.toEpochMilli());
        Lines lines = new Lines(history, availability);
        assertTrue(lines.lineages().count() == 1
                || Trains.of(history, lines, availability.windows(Hazard.MISHAP), world.end.toEpochMilli())
                        .isEmpty());
    }
}
