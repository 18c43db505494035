package firth.bench;

import firth.core.evaluation.Evaluation;
import firth.core.forecast.Forecast;
import firth.core.forecast.Foresight;
import firth.core.forecast.Surplus;
import firth.core.forecast.Unkept;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/** How long other rules of a policy take to be replayed over all who follow it and run forward, against evaluating them anew. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 3, time = 4)
@Measurement(iterations = 4, time = 4)
@Fork(
        value = 1,
        jvmArgsAppend = {"-Xmx2g", "-XX:+UseParallelGC"})
public class ReplayBench {

    private static final Duration EVERY = Duration.ofMinutes(10);
    private static final int LOGS = 30 * 144;

    /** Databases that follow the policy, each with 30 days of 10-minute logs. */
    @Param({"500"})
    public int followers;

    private final Instant now = BenchFleet.end(LOGS, EVERY);
    private final Span period = BenchFleet.period(LOGS, EVERY);
    private final Fleet fleet = BenchFleet.fleet();
    private Fleet other;
    private List<DatabaseFacts> facts;
    private List<Evaluation> known;
    private List<Forecast> rooms = List.of();
    private List<Forecast.Basis> bases;

    @Setup
    public void make() {
        PolicyVersion rules = fleet.versions("sailings").get(0);
        other = fleet.replaying(rules.with(new Objective(
                        rules.objective().rpo(), rules.objective().reach().map(r -> r.minusDays(4))))
                .withRetain(rules.retain().stream()
                        .map(r -> r.withReach(r.reach().map(d -> d.minusDays(4))))
                        .toList()));
        facts = IntStream.range(0, followers)
                .mapToObj(i -> BenchFleet.facts("d" + i, LOGS, EVERY, i))
                .toList();
        known = evaluate();
        bases = facts.parallelStream()
                .map(f -> new Forecast.Basis(f, fleet, now))
                .toList();
        rooms = lookAhead();
    }

    @Benchmark
    public List<Evaluation> evaluate() {
        return facts.parallelStream()
                .map(f -> Evaluation.of(f, fleet, now, period))
                .toList();
    }

    @Benchmark
    public List<Forecast> lookAhead() {
        return bases.parallelStream().map(b -> Forecast.of(b, other, 60)).toList();
    }

    /** How each will fare over 30 days. */
    @Benchmark
    public List<Optional<Foresight>> foresee() {
        return IntStream.range(0, followers)
                .parallel()
                .mapToObj(i -> Foresight.of(bases.get(i), other, rooms.get(i)))
                .toList();
    }

    /** What the rules lose of what can be restored now. */
    @Benchmark
    public List<Spans> lose() {
        return facts.parallelStream().map(f -> Unkept.of(f, other, now)).toList();
    }

    @Benchmark
    public List<Surplus> replay() {
        return IntStream.range(0, followers)
                .parallel()
                .mapToObj(i -> Surplus.of(known.get(i).judgedBy(facts.get(i), other)))
                .toList();
    }
}
