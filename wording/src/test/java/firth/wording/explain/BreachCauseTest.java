package firth.wording.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.model.Hazard;
import firth.core.model.Outcome;
import firth.core.objective.Breach;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A cause is only named that the facts bear out. */
class BreachCauseTest {

    static LongStream seeds() {
        return Seeds.upTo(100);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatIsNamedIsThere(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Evaluation e = world.evaluate(world.backups, world.end);
        for (Hazard hazard : Hazard.values()) {
            for (Breach breach : e.under(hazard).breaches()) {
                String cause = BreachCause.of(e, hazard, breach);
                assertTrue(!cause.isBlank());
                if (cause.startsWith("a gap")) {
                    assertTrue(
                            e.gaps().stream()
                                    .anyMatch(
                                            g -> cause.contains(g.cause().word().replace('-', ' '))),
                            cause);
                }
                if (cause.contains("failed") && !cause.startsWith("a gap")) {
                    assertTrue(e.history().runs().stream().anyMatch(r -> r.outcome() == Outcome.FAILED), cause);
                }
                int by = cause.indexOf("; ended by the ");
                if (by >= 0) {
                    String id = cause.substring(cause.lastIndexOf(' ') + 1);
                    assertTrue(e.history().row(id).isPresent(), cause);
                } else {
                    assertEquals(-1, cause.indexOf("ended by"), cause);
                }
            }
        }
    }
}
