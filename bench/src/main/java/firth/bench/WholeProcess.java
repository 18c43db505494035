package firth.bench;

import firth.core.DatabaseFacts;
import firth.core.Evaluation;
import java.time.Duration;

public final class WholeProcess {
    private WholeProcess() {}

    public static void main(String[] args) {
        int logs = Integer.parseInt(args[0]);
        Duration interval = Duration.ofDays(35).dividedBy(logs);
        DatabaseFacts facts = BenchFleet.facts("d", logs, interval, 1);
        for (int n = 0; n < 40; n++) {
            long t = System.nanoTime();
            Evaluation e = Evaluation.of(facts, BenchFleet.fleet(), BenchFleet.end(logs, interval), BenchFleet.period(logs, interval));
            if (n % 8 == 7) System.out.println((System.nanoTime() - t) / 1_000_000.0 + " ms " + e.grade() + " " + e.gaps().size() + " " + e.mishap().achieved());
        }
    }
}
