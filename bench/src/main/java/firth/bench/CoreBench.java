package firth.bench;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Fleet;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.TimeUnit;
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

/** How long one database takes to evaluate, all of it: cover under three hazards, age, gaps, retention, cadence. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 4, time = 2)
@Measurement(iterations = 5, time = 2)
@Fork(
        value = 1,
        jvmArgsAppend = {"-XX:+UseParallelGC", "-Xmx2g"})
public class CoreBench {

    /** Over ever the same 35 days. */
    @Param({"3360", "50000", "100000", "200000"})
    public int logs;

    /** To how many milliseconds it is said when a log landed. */
    @Param({"1000", "1"})
    public int grain;

    private final Fleet fleet = BenchFleet.fleet();
    private DatabaseFacts facts;
    private Instant now;
    private Span period;

    @Setup
    public void make() {
        Duration interval = Duration.ofDays(35).dividedBy(logs);
        facts = BenchFleet.facts("d", logs, interval, 0, Duration.ofMillis(grain));
        now = BenchFleet.end(logs, interval);
        period = BenchFleet.period(logs, interval);
    }

    @Benchmark
    public Evaluation evaluate() {
        return Evaluation.of(facts, fleet, now, period);
    }
}
