package firth.core.forecast;

import static firth.core.forecast.Regular.day;
import static firth.core.forecast.Regular.fleet;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.evaluation.Evaluation;
import firth.core.history.BackupRow;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.Role;
import firth.core.model.Run;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class HabitsTest {

    private static Habits habits(double growth, double days) {
        Regular regular = new Regular(growth);
        return Habits.of(regular.database, regular.facts(days).history(), day(days));
    }

    @Test
    void tellsMedianAndLongestOfTheLastEight() {
        Usual full = habits(0.01, 80).usual(Kind.FULL).orElseThrow();
        assertEquals(8, full.runs());
        assertTrue(full.longest().compareTo(full.median()) > 0);
        Usual incr = habits(0, 80).usual(Kind.INCR, DayOfWeek.TUESDAY).orElseThrow();
        assertEquals(Duration.ofSeconds(500), incr.median());
        assertEquals(5e9, incr.bytes());
    }

    @Test
    void aWeekdayWithTooFewRunsTakesThoseOfAllDays() {
        Habits habits = habits(0, 30);
        assertEquals(habits.usual(Kind.FULL), habits.usual(Kind.FULL, DayOfWeek.MONDAY));
    }

    @Test
    void knowsWhereCopiesComeToLieAndHowLate() {
        List<Landing> logs = habits(0, 20).landings(Kind.LOG);
        assertEquals(List.of("far", "near"), logs.stream().map(Landing::store).toList());
        assertEquals(Duration.ofMinutes(30), logs.get(0).after());
        assertEquals(Duration.ofMinutes(1), logs.get(1).after());
        assertEquals(Duration.ofMinutes(1), habits(0, 20).logs().delay());
    }

    @Test
    void tellsGrowthFromAnOddValue() {
        long[] at = new long[20];
        double[] values = new double[20];
        for (int i = 0; i < 20; i++) {
            at[i] = i * 86_400_000L;
            values[i] = 100 + 2 * i;
        }
        values[7] = 10_000;
        Trend trend = Trend.through(at, values);
        assertEquals(2, trend.perDay(), 1e-9);
        assertEquals(158, trend.at(29 * 86_400_000L), 1e-6);
    }

    @Test
    void fewMeasurementsSayNothingOfGrowth() {
        Trend trend = Trend.through(new long[] {0, 86_400_000L, 2 * 86_400_000L}, new double[] {1, 2, 9});
        assertEquals(0, trend.perDay());
        assertEquals(2, trend.at(1_000 * 86_400_000L));
    }

    @Test
    void nothingKnownGivesNothing() {
        Habits habits = habits(0, 0.01);
        assertTrue(habits.usual(Kind.FULL).isEmpty());
        assertEquals(List.of(), habits.landings(Kind.FULL));
        assertEquals(0, habits.growthPerDay());
        assertEquals(200e9, habits.expectedBytes(Kind.FULL, 0, 0), "as large as the database");
    }

    @Test
    void theQuietMomentWaitsForTheWindowThatClosesLast() {
        Regular regular = new Regular(0);
        var fleet = fleet(Regular.policy(firth.core.model.Objective.NONE, List.of()));
        Instant inWindow =
                Regular.BEGIN.plusDays(1).atTime(23, 30).atZone(Regular.LISBON).toInstant();
        var histories = Map.of(regular.database, regular.facts(1.9).history());
        QuietMoment quiet =
                QuietMoment.from(inWindow, histories, fleet, List.of()).orElseThrow();
        assertEquals(
                Regular.BEGIN.plusDays(2).atTime(2, 0).atZone(Regular.LISBON).toInstant(), quiet.at());
        assertEquals("berths", quiet.waitsFor().orElseThrow());
        assertEquals("nightly", quiet.schedule().orElseThrow());
        Instant noon =
                Regular.BEGIN.plusDays(1).atTime(12, 0).atZone(Regular.LISBON).toInstant();
        assertEquals(
                noon,
                QuietMoment.from(noon, histories, fleet, List.of())
                        .orElseThrow()
                        .at());
        Instant justBefore =
                Regular.BEGIN.plusDays(1).atTime(21, 50).atZone(Regular.LISBON).toInstant();
        assertTrue(
                QuietMoment.from(justBefore, histories, fleet, List.of())
                        .orElseThrow()
                        .at()
                        .isAfter(justBefore),
                "the grace before a window counts as inside");
    }

    @Test
    void theQuietMomentWaitsForARunForAsLongAsItsKindTakes() {
        Regular regular = new Regular(0);
        var fleet =
                fleet(Regular.policy(firth.core.model.Objective.NONE, List.of()).withSchedules(List.of()));
        Instant started =
                Regular.BEGIN.plusDays(20).atTime(9, 0).atZone(Regular.LISBON).toInstant();
        HistoryBuilder history = History.of(regular.database);
        long[] took = {30, 50, 40};
        for (int n = 0; n < took.length; n++) {
            long at = Regular.day(n + 1).toEpochMilli();
            history.add(BackupRow.data("f" + n, Kind.FULL, at, at + took[n] * 60_000)
                    .consistent(at)
                    .alone()
                    .between(1, 1));
        }
        history.add(new Run(
                "r",
                "d",
                Kind.FULL,
                started,
                Optional.empty(),
                firth.core.model.Outcome.RUNNING,
                Optional.empty(),
                ""));
        var histories = Map.of(regular.database, history.build());
        Instant now = started.plusSeconds(600);
        QuietMoment quiet = QuietMoment.from(now, histories, fleet, List.of()).orElseThrow();
        assertEquals(started.plusSeconds(50 * 60), quiet.at());
        assertEquals(Optional.of("berths"), quiet.waitsFor());
        Instant overdue = started.plusSeconds(100 * 60);
        assertEquals(
                overdue.plusSeconds(601),
                QuietMoment.from(overdue, histories, fleet, List.of())
                        .orElseThrow()
                        .at());
    }

    @Test
    void anOutcomeThatIsTheSameIsNotWorse() {
        Regular regular = new Regular(0);
        Evaluation e =
                regular.evaluate(20, fleet(Regular.policy(Objective.NONE, List.of(Regular.keeping(Role.NEAR, 5, 1)))));
        Fare outcome = Fare.of(e);
        assertEquals(List.of(), outcome.worseThan(outcome));
        assertEquals(outcome.slotsAsked(), outcome.slotsKept());
        assertTrue(outcome.slotsAsked() >= 18, "a slot a night");
        assertTrue(Surplus.of(e).obsolete().copies() > 0);
    }
}
