package firth.bench;

import firth.core.cover.Losses;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.restore.LossRehearsal;
import firth.core.restore.Planning;
import firth.core.restore.RestorePlan;
import firth.core.restore.RestoreSchedule;
import firth.core.restore.Restoring;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/** How long a plan takes for a database with 100 000 logs, a rehearsal over 5 000 databases, and their order. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 3, time = 2)
@Measurement(iterations = 4, time = 2)
@Fork(
        value = 1,
        jvmArgsAppend = {"-XX:+UseParallelGC", "-Xmx3g"})
public class RestoreBench {

    private static final int LOGS = 100_000;
    private static final int DATABASES = 5_000;
    private static final int FEW_LOGS = 3_360;

    private final Fleet fleet = BenchFleet.fleet();
    private DatabaseFacts large;
    private DatabaseFacts usual;
    private Instant largeNow;
    private Instant usualNow;
    private Instant moment;
    private List<Restoring> restores;

    @Setup
    public void make() {
        Duration interval = Duration.ofDays(35).dividedBy(LOGS);
        large = BenchFleet.facts("d", LOGS, interval, 0, Duration.ofSeconds(1));
        largeNow = BenchFleet.end(LOGS, interval);
        moment = largeNow.minus(Duration.ofDays(3)).plusSeconds(17);
        Duration few = Duration.ofDays(35).dividedBy(FEW_LOGS);
        usual = BenchFleet.facts("e", FEW_LOGS, few, 0, Duration.ofSeconds(1));
        usualNow = BenchFleet.end(FEW_LOGS, few);
        Random random = new Random(7);
        restores = new ArrayList<>();
        for (int k = 0; k < DATABASES; k++) {
            restores.add(new Restoring(
                    "d" + k,
                    List.of(
                            new Restoring.Part("s" + random.nextInt(4), random.nextDouble() * 1e12, Duration.ZERO),
                            new Restoring.Part(
                                    "s" + random.nextInt(4), random.nextDouble() * 1e10, Duration.ofMinutes(9))),
                    random.nextBoolean() ? Optional.of(Duration.ofHours(2 + random.nextInt(40))) : Optional.empty()));
        }
    }

    /** All ways back to a moment, and the steps of the best. */
    @Benchmark
    public int plan() {
        RestorePlan plan = new Planning(large, fleet, largeNow, Hazard.MISHAP, Losses.NONE).to(moment);
        return plan.ways().get(0).steps().size();
    }

    /** Five thousand databases judged as if a store were gone, on all cores; their facts are in memory. */
    @Benchmark
    public long rehearsal() {
        Losses losses = new Losses(Set.of("n1"), Set.of());
        return IntStream.range(0, DATABASES)
                .parallel()
                .filter(k -> LossRehearsal.of(usual, fleet, usualNow, Hazard.MISHAP, losses)
                        .reached()
                        .isPresent())
                .count();
    }

    /** The order of five thousand restores, eight side by side. */
    @Benchmark
    public RestoreSchedule order() {
        return RestoreSchedule.of(restores, Map.of("s0", 2e8, "s1", 2e8, "s2", 5e8, "s3", 1e9), 8);
    }
}
