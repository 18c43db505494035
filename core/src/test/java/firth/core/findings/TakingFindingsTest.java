package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.evaluation.Evaluation;
import firth.core.findings.TakingFindings.Paced;
import firth.core.findings.TakingFindings.PieceWritten;
import firth.core.forecast.Regular;
import firth.core.history.History;
import firth.core.model.CopiesRule;
import firth.core.model.Demands;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Probe;
import firth.core.model.RateLimit;
import firth.core.model.Taking;
import firth.core.time.Spans;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Runs that were too fast, and logs that left their source too early. */
class TakingFindingsTest {

    private static final Regular REGULAR = new Regular(0);
    private static final Instant NOW = Regular.day(10);

    private static Evaluation limited(boolean enabled) {
        RateLimit limit =
                new RateLimit(1e6, RateLimit.Hours.ALWAYS, Optional.empty(), Optional.of("near"), Optional.empty());
        return REGULAR.evaluate(
                10,
                Regular.fleet(new PolicyVersion(
                        "p",
                        1,
                        Regular.START,
                        "P",
                        enabled,
                        Objective.NONE,
                        List.of(),
                        List.of(),
                        List.of(),
                        CopiesRule.NONE,
                        Demands.NONE,
                        new Taking(List.of(limit), Optional.empty(), List.of(), List.of()))));
    }

    private static Paced run(String store, double... megabytesAMinute) {
        Instant from = NOW.minusSeconds(3600);
        List<PieceWritten> pieces = new java.util.ArrayList<>();
        for (double mega : megabytesAMinute) {
            pieces.add(new PieceWritten(from, from.plusSeconds(60), mega * 1e6));
            from = from.plusSeconds(60);
        }
        return new Paced("r", Kind.FULL, Optional.of(store), pieces);
    }

    @Test
    void theFastestPieceIsTold() {
        List<Finding> found = TakingFindings.tooFast(limited(true), List.of(run("near", 50, 120, 60, 90)));
        assertEquals(
                List.of(new Detail.TooFast(
                        Kind.FULL,
                        NOW.minusSeconds(3540),
                        NOW.minusSeconds(3480),
                        2e6,
                        1e6,
                        Optional.of("near"),
                        Regular.LISBON)),
                found.stream().map(Finding::detail).toList());
        assertEquals(List.of("r"), found.get(0).facts());
    }

    @Test
    void whatKeepsItsLimitOrHasNoneIsNotTold() {
        assertEquals(List.of(), TakingFindings.tooFast(limited(true), List.of(run("near", 50, 66, 60))));
        assertEquals(List.of(), TakingFindings.tooFast(limited(true), List.of(run("far", 5_000))));
        assertEquals(List.of(), TakingFindings.tooFast(limited(false), List.of(run("near", 5_000))));
    }

    static LongStream seeds() {
        return LongStream.range(0, 200);
    }

    private static int arrived(History h, int i, Instant by) {
        Set<String> stores = new HashSet<>();
        for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
            if (h.landedMs(c) <= by.toEpochMilli()) {
                stores.add(h.store(c));
            }
        }
        return stores.size();
    }

    /** Log by log, against the stretches they are kept as. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aLogMustStayUntilItHasComeToAsManyStores(long seed) {
        RandomFleet world = new RandomFleet(seed, false);
        Evaluation e = world.evaluate(world.backups, world.end);
        Optional<SourceLogsLeft> left = SourceLogsLeft.of(e);
        PolicyVersion version = e.version().orElseThrow();
        assertEquals(version.taking().sourceLogs().isPresent(), left.isPresent());
        if (left.isEmpty()) {
            return;
        }
        History h = e.history();
        int copies = left.get().copies();
        int last = e.database().lineages().size() - 1;
        while (e.database()
                .lineages()
                .get(last)
                .openedAt()
                .filter(world.end::isBefore)
                .isPresent()) {
            last--;
        }
        for (String stream : e.database().streams()) {
            Spans lacking = Spans.NONE;
            long lowest = Long.MAX_VALUE;
            long reached = -1;
            for (int i = 0; i < h.size(); i++) {
                if (h.kind(i) != Kind.LOG
                        || h.lineage(i) != last
                        || h.endedMs(i) > world.end.toEpochMilli()
                        || !e.database().streams().get(h.stream(i)).equals(stream)) {
                    continue;
                }
                reached = Math.max(reached, h.logTo(i));
                if (arrived(h, i, world.end) < copies
                        && h.toTimeMs(i) >= version.effectiveFrom().toEpochMilli()) {
                    lacking = lacking.or(Spans.of(h.logFrom(i), h.logTo(i)));
                    lowest = Math.min(lowest, h.logFrom(i));
                }
            }
            Spans kept = Spans.NONE;
            for (SourceLogsLeft.LogStretch s : left.get().stretches()) {
                if (s.stream().equals(stream)) {
                    kept = kept.or(Spans.of(s.from(), s.to()));
                }
            }
            assertTrue(kept.without(lacking).isEmpty() && lacking.without(kept).isEmpty(), stream);
            for (long from : new long[] {0, lowest, lowest + 1, reached, reached + 1}) {
                boolean early = lowest < from || reached >= 0 && reached < from;
                assertEquals(
                        early && from >= 0,
                        left.get()
                                .gone(e.database(), List.of(probe(e.database().id(), stream, from)))
                                .isPresent(),
                        stream + " from " + from + ", lacking from " + lowest + ", known up to " + reached);
            }
        }
    }

    private static Probe probe(String database, String stream, long from) {
        return new Probe(
                "x",
                database,
                "runner",
                NOW,
                Optional.empty(),
                Optional.empty(),
                Map.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Optional.empty(),
                Map.of(),
                List.of(),
                Map.of(stream, from));
    }
}
