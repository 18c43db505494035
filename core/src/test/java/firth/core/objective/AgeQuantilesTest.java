package firth.core.objective;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Positions;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

/** A quantile is the least age that was not exceeded for so much of the time: no less will do, and it does. */
class AgeQuantilesTest {

    static LongStream seeds() {
        return Seeds.upTo(300);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void isTheLeastAgeNotExceededForLongEnough(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        for (Hazard hazard : Hazard.values()) {
            check(e.under(hazard).ages(), e.under(hazard).achieved());
        }
    }

    /**
     * Logs each minute that land half an hour later, give or take: nearly all ages lie close together. Where they land on whole
     * seconds there are few different ones, and they are known beforehand.
     */
    @ParameterizedTest(name = "jitter of {0} s in steps of {1} ms")
    @CsvSource({"1,1", "7,1", "60,1", "900,1", "1,1000", "7,1000", "60,1000", "900,1000", "20,500"})
    void soWhereNearlyAllAgesLieCloseTogether(int jitter, int grain) {
        for (boolean stops : new boolean[] {true, false}) {
            RandomFleet world = LongStream.iterate(1, n -> n + 1)
                    .mapToObj(n -> new RandomFleet(n, true, RandomFleet.Shape.BEHAVED))
                    .filter(w -> w.database.clock().stopped().isEmpty() != stops)
                    .findFirst()
                    .orElseThrow();
            check(world, stops, jitter, grain);
        }
    }

    private static void check(RandomFleet world, boolean stops, int jitter, int grain) {
        Random random = new Random(jitter);
        List<Backup> backups = new ArrayList<>();
        Instant begin = world.database.inServiceFrom();
        backups.add(backup("full", Kind.FULL, begin, begin, 0, 0, begin.plusSeconds(60)));
        for (int n = 0; n < 6_000; n++) {
            Instant from = begin.plusSeconds(60L * n);
            Instant to = from.plusSeconds(60);
            backups.add(backup(
                    "log-" + n,
                    Kind.LOG,
                    from,
                    to,
                    n,
                    n + 1,
                    to.plusSeconds(1_800).plusMillis((long) random.nextInt(1_000 * jitter) / grain * grain)));
        }
        // Whatever pieces the first and the last block are cut to.
        for (int hours : new int[] {1, 35, 62, 90}) {
            Evaluation e = world.evaluate(backups, begin.plus(Duration.ofHours(hours)));
            check(e.mishap().ages(), e.mishap().achieved());
        }
        AgePieces ages = world.evaluate(backups, begin.plus(Duration.ofHours(90)))
                .mishap()
                .ages();
        assertTrue(ages.size() > 1_000, ages.size() + " pieces");
        long known = IntStream.range(0, ages.blocks())
                .filter(b -> ages.known(b) != null && ages.known(b).exact())
                .count();
        assertEquals(!stops && jitter <= 60 && grain > 1, known > ages.blocks() / 2, known + " of " + ages.blocks());
    }

    private static Backup backup(String id, Kind kind, Instant from, Instant to, long first, long end, Instant landed) {
        boolean log = kind == Kind.LOG;
        return new Backup(
                id,
                "d",
                kind,
                Optional.empty(),
                Optional.empty(),
                to,
                to,
                OptionalDouble.of(1),
                Optional.empty(),
                Map.of("main", new Positions(first, end)),
                log ? Optional.of(new Backup.LogTimes(from, to)) : Optional.empty(),
                to,
                true,
                false,
                Duration.ZERO,
                Optional.empty(),
                List.of(new Copy(
                        "n1",
                        landed,
                        true,
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        OptionalDouble.empty(),
                        "")),
                "");
    }

    private static void check(AgePieces ages, Achieved achieved) {
        double total = spent(ages, Double.MAX_VALUE);
        check(ages, achieved.p50(), 0.5 * total);
        check(ages, achieved.p95(), 0.95 * total);
        check(ages, achieved.p99(), 0.99 * total);
        if (total > 0) {
            double most = 0;
            double area = 0;
            for (int i = 0; i < ages.size(); i++) {
                most = Math.max(most, (double) Math.max(ages.ageMs(i), ages.ageAtEndMs(i)));
                area += (ages.ageMs(i) + ages.ageAtEndMs(i)) / 2.0 * (double) ages.lengthMs(i);
            }
            assertEquals(most, achieved.max());
            assertEquals(area / total, achieved.mean(), 1e-6 * (1 + area / total));
        }
    }

    private static void check(AgePieces ages, double quantile, double time) {
        assertTrue(spent(ages, quantile) >= time - 1e-3, quantile + " is too little");
        assertTrue(quantile == 0 || spent(ages, quantile - 1e-3) < time + 1e-3, quantile + " is too much");
    }

    /** How long the age was at most so much. */
    private static double spent(AgePieces ages, double age) {
        double out = 0;
        for (int i = 0; i < ages.size(); i++) {
            double low = Math.min(ages.ageMs(i), ages.ageAtEndMs(i));
            double high = Math.max(ages.ageMs(i), ages.ageAtEndMs(i));
            out += low == high ? low <= age ? ages.lengthMs(i) : 0 : Math.max(0, Math.min(age, high) - low);
        }
        return out;
    }
}
