package firth.core.history;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.model.Backup;
import firth.core.model.Run;
import java.time.Instant;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Stepping on and back passes every moment at which anything happened, and no other. */
class HappeningTest {

    static LongStream seeds() {
        return Seeds.upTo(40);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void stepsPassEveryMoment(long seed) {
        RandomFleet world = new RandomFleet(seed);
        world.backups.removeIf(Backup::streamed);
        History history = world.facts().history();
        NavigableSet<Instant> moments = moments(history);
        Instant at = moments.first().minusMillis(1);
        for (Instant expected : moments) {
            Happening next = Happening.after(history, at, moments.last()).orElseThrow();
            assertEquals(expected, next.at());
            assertTrue(next.store().isPresent() == next.what().compareTo(Happening.What.LANDED) >= 0);
            at = next.at();
        }
        assertEquals(Optional.empty(), Happening.after(history, at, Instant.parse("2100-01-01T00:00:00Z")));
        assertEquals(Optional.empty(), Happening.after(history, moments.first(), moments.first()));
        for (Instant expected : moments.headSet(at, false).descendingSet()) {
            at = Happening.before(history, at).orElseThrow().at();
            assertEquals(expected, at);
        }
        assertEquals(Optional.empty(), Happening.before(history, at));
    }

    private static NavigableSet<Instant> moments(History history) {
        TreeSet<Instant> out = new TreeSet<>();
        for (int i = 0; i < history.size(); i++) {
            out.add(Instant.ofEpochMilli(history.startedMs(i)));
            out.add(Instant.ofEpochMilli(history.endedMs(i)));
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                for (long ms : new long[] {history.landedMs(c), history.goneMs(c), history.foundMs(c)}) {
                    if (ms != History.NEVER) {
                        out.add(Instant.ofEpochMilli(ms));
                    }
                }
            }
        }
        for (Run run : history.runs()) {
            out.add(run.started());
            run.ended().ifPresent(out::add);
        }
        return out;
    }
}
