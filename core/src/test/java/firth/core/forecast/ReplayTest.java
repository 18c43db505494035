package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Judging known facts by other rules is the same as evaluating them under those rules. */
class ReplayTest {

    static LongStream seeds() {
        return Seeds.upTo(150);
    }

    private static List<Object> said(Evaluation e) {
        List<Object> out = new ArrayList<>(List.of(
                e.grade(),
                e.pointsOnly(),
                e.version(),
                e.reach(),
                e.gaps(),
                e.slots(),
                e.cadence(),
                e.contradictions()));
        for (Hazard hazard : Hazard.values()) {
            var h = e.under(hazard);
            out.add(List.of(h.recoveryPoint(), h.age(), h.objective(), h.achieved(), h.breaches(), h.restorable()));
        }
        for (int k = 0; k < e.retention().size(); k++) {
            out.add(List.of(
                    e.history().id(e.retention().backup(k)),
                    e.retention().store(k),
                    e.retention().verdict(k),
                    e.retention().reasons(k)));
        }
        return out;
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void judgingAgainIsEvaluating(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        DatabaseFacts facts = world.facts(world.knownBy(now));
        Span period = new Span(RandomFleet.BEGIN, now);
        Evaluation known = Evaluation.of(facts, world.fleet, now, period);
        PolicyVersion other = new RandomFleet(seed + 5_000).fleet.versions("p").get(0);
        Fleet replayed = world.fleet.replaying(other);
        assertEquals(said(Evaluation.of(facts, replayed, now, period)), said(known.judgedBy(facts, replayed)));
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void replayingAnUnchangedPolicyChangesNothing(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Evaluation known = world.evaluate(world.backups, world.end);
        DatabaseFacts same = new DatabaseFacts(world.database.following("p"), known.history(), world.holds, List.of());
        Fleet replayed = world.fleet.replaying(world.fleet.versions("p").get(0));
        assertEquals(said(known), said(known.judgedBy(same, replayed)));
    }
}
