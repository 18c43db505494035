package firth.core.restore;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.evaluation.Evaluation;
import firth.core.findings.DrillFindings;
import firth.core.findings.Finding;
import firth.core.model.Drill;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class DrillChoiceTest {

    static LongStream seeds() {
        return Seeds.upTo(100);
    }

    private static Drill drill(Instant at, Optional<Boolean> ok, List<String> checks) {
        return new Drill(
                "q" + at,
                "d",
                Optional.of(at.minusSeconds(60)),
                Optional.of(at),
                Optional.of(at),
                Optional.of(at),
                Optional.empty(),
                ok,
                checks,
                "said");
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theMomentCanBeRestoredLiesWithinReachAndIsTheSameAgain(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Evaluation e = world.evaluate(world.backups, world.end);
        for (long chance = 0; chance < 20; chance++) {
            Optional<Instant> moment = DrillChoice.moment(e, List.of(), chance);
            assertEquals(moment, DrillChoice.moment(e, List.of(), chance));
            boolean any = e.mishap().restorable().stream()
                    .anyMatch(p -> e.reach().since().filter(p.to()::isBefore).isEmpty());
            assertEquals(any, moment.isPresent());
            moment.ifPresent(m -> {
                assertTrue(
                        e.mishap().restorable().stream().anyMatch(p -> !p.from().isAfter(m) && !p.to().isBefore(m)));
                // A whole second may begin a moment before the reach does.
                assertTrue(e.reach()
                        .since()
                        .filter(s -> m.isBefore(s.minusSeconds(1)))
                        .isEmpty());
            });
        }
    }

    @Test
    void whatWasProvedIsChosenLessOften() {
        RandomFleet world = new RandomFleet(2, true);
        Evaluation e = world.evaluate(world.backups, world.end);
        Set<Instant> all = new HashSet<>();
        for (long chance = 0; chance < 400; chance++) {
            DrillChoice.moment(e, List.of(), chance).ifPresent(all::add);
        }
        List<Drill> proved = all.stream()
                .limit(1)
                .map(m -> drill(m, Optional.of(true), List.of("counts")))
                .toList();
        Instant there = proved.get(0).reached().orElseThrow();
        assertTrue(near(e, there, proved) * 2 < near(e, there, List.of()), "ten times rarer by weight");
        assertEquals(
                near(e, there, List.of()),
                near(e, there, List.of(drill(there, Optional.of(true), List.of()))),
                "one without a check proves nothing");
    }

    private static long near(Evaluation e, Instant there, List<Drill> drills) {
        return Seeds.upTo(2_000)
                .mapToObj(c -> DrillChoice.moment(e, drills, c).orElseThrow())
                .filter(m -> Duration.between(m, there).abs().compareTo(Duration.ofMinutes(30)) < 0)
                .count();
    }

    @Test
    void aFailedDrillIsAFindingUntilOneProves() {
        RandomFleet world = new RandomFleet(2, true);
        Evaluation e = world.evaluate(world.backups, world.end);
        Drill failed = drill(world.end.minusSeconds(9_000), Optional.of(false), List.of());
        Drill unchecked = drill(world.end.minusSeconds(5_000), Optional.of(true), List.of());
        Drill proving = drill(world.end.minusSeconds(3_000), Optional.of(true), List.of("counts"));
        Drill later = drill(world.end.plusSeconds(3_000), Optional.of(true), List.of("counts"));
        assertEquals(List.of("drill-failed"), codes(e, List.of(failed, unchecked, later)));
        assertEquals(List.of(), codes(e, List.of(failed, unchecked, proving)));
        assertEquals(
                Optional.of(proving),
                DrillFindings.standing(e, List.of(later, proving, failed)).proved());
    }

    private static List<String> codes(Evaluation e, List<Drill> drills) {
        return DrillFindings.of(e, drills).stream().map(Finding::code).toList();
    }
}
