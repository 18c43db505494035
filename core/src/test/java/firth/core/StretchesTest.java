package firth.core;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.history.Stretches;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.objective.AgePieces;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Logs that behave are answered for by stretches, which form where they are taken in one after another. Taken in any other order
 * there are none, and every log is looked at by itself: the answers are the same.
 */
class StretchesTest {

    static LongStream seeds() {
        return Seeds.upTo(600);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theOrderInWhichBackupsComeInChangesNothing(long seed) {
        RandomFleet world = regular(seed);
        List<Backup> shuffled = new ArrayList<>(world.backups);
        Collections.shuffle(shuffled, new Random(seed));
        for (int n = 0; n < 4; n++) {
            Instant asOf = n == 0 ? world.end : world.anyMoment();
            Evaluation one = world.evaluate(world.backups, asOf);
            Evaluation other = world.evaluate(shuffled, asOf);
            assertEquals(CoverPropertiesTest.described(other), CoverPropertiesTest.described(one), "as of " + asOf);
            assertEquals(pauses(other), pauses(one));
            assertEquals(other.slots(), one.slots());
            for (Hazard hazard : Hazard.values()) {
                assertEquals(
                        steps(other.under(hazard).ages()),
                        steps(one.under(hazard).ages()));
            }
        }
    }

    /** Without the logs they lie between: of several that landed at one moment any is named. */
    private static List<String> pauses(Evaluation e) {
        return e.cadence().stream()
                .map(c -> c.schedule() + " " + c.stream() + " " + c.from() + " " + c.to() + " " + c.missed())
                .toList();
    }

    private static List<String> steps(AgePieces ages) {
        List<String> out = new ArrayList<>();
        for (int i = 0; i < ages.size(); i++) {
            out.add(ages.fromMs(i) + " to " + ages.toMs(i) + ": " + ages.ageMs(i) + " to " + ages.ageAtEndMs(i));
        }
        return out;
    }

    /** Most logs of such a history have a copy near and a locked one afar, and some are as they come. */
    private static RandomFleet regular(long seed) {
        RandomFleet.Shape[] shapes = {
            RandomFleet.Shape.BEHAVED, RandomFleet.Shape.PLAIN, RandomFleet.Shape.LINEAGES, RandomFleet.Shape.STREAMS
        };
        RandomFleet world = new RandomFleet(seed, seed % 5 > 0, shapes[(int) (seed % shapes.length)]);
        Random random = new Random(seed + 1);
        boolean goes = random.nextBoolean();
        boolean locked = random.nextInt(3) > 0;
        int strange = 4 + random.nextInt(30);
        int kept = 20 + random.nextInt(90);
        world.backups = new ArrayList<>(world.backups.stream()
                .map(b -> b.kind() != Kind.LOG || random.nextInt(strange) == 0
                        ? b
                        : b.withCopies(List.of(
                                copy("n1", b.ended(), 7, goes ? kept : 0, 0),
                                copy("f1", b.ended(), 50, 0, locked ? 2 * kept : 0))))
                .toList());
        return world;
    }

    private static Copy copy(String store, Instant ended, int minutes, int goneAfterHours, int lockedHours) {
        Instant landed = ended.plus(Duration.ofMinutes(minutes));
        return new Copy(
                store,
                landed,
                true,
                lockedHours > 0 ? Optional.of(landed.plus(Duration.ofHours(lockedHours))) : Optional.empty(),
                goneAfterHours > 0 ? Optional.of(landed.plus(Duration.ofHours(goneAfterHours))) : Optional.empty(),
                Optional.empty(),
                OptionalDouble.empty(),
                "");
    }

    @Test
    void mostSuchHistoriesHaveStretchesAndShuffledOnesHardlyAny() {
        int rows = 0;
        int inStretches = 0;
        int shuffledInStretches = 0;
        for (long seed = 0; seed < 100; seed++) {
            RandomFleet world = regular(seed);
            Stretches stretches = world.facts().history().stretches();
            rows += world.backups.size();
            inStretches += world.backups.size() - stretches.looseRows();
            Collections.shuffle(world.backups, new Random(seed));
            shuffledInStretches +=
                    world.backups.size() - world.facts().history().stretches().looseRows();
        }
        assertTrue(inStretches > rows / 3, inStretches + " of " + rows);
        assertTrue(shuffledInStretches < rows / 100, shuffledInStretches + " of " + rows);
    }
}
