package firth.core.forecast;

import static firth.core.forecast.Regular.day;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import firth.core.adherence.OpenTime;
import firth.core.history.DatabaseFacts;
import firth.core.model.Closure;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Objective;
import firth.core.model.OpenHours;
import firth.core.model.PolicyVersion;
import firth.core.time.Span;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

/** Slots to come with how they usually go, and where several are too much for a store. */
class ExpectedTest {

    private static final Regular REGULAR = new Regular(0);
    private static final PolicyVersion POLICY = Regular.policy(Objective.NONE, List.of());

    private static List<Expected> week(PolicyVersion version, List<Closure> closures) {
        DatabaseFacts facts = REGULAR.facts(40);
        return Expected.of(
                new DatabaseFacts(facts.database(), facts.history(), List.of(), closures),
                Regular.fleet(version),
                Habits.of(REGULAR.database, facts.history(), day(40)),
                day(40),
                new Span(day(40), day(47)));
    }

    @Test
    void aWeekHasAFullAndSixIncrementalsAsLongAsUsual() {
        List<Expected> week = week(POLICY, List.of());
        assertEquals(7, week.size());
        assertTrue(week.stream().allMatch(Expected::runs));
        Expected full = week.stream()
                .filter(e -> e.slot().kind() == Kind.FULL)
                .findFirst()
                .orElseThrow();
        assertEquals(Duration.ofSeconds(10_000), full.usual().orElseThrow().median());
        assertEquals(full.slot().open().plusSeconds(10_000), full.ends().orElseThrow());
        assertEquals(Optional.of("near"), full.store());
        assertEquals(1e7, full.writing("d").orElseThrow().bytesPerSecond());
        assertEquals(Duration.ZERO, full.overrun());
    }

    @Test
    void whatIsSwitchedOffIsThereAndWillNotRun() {
        PolicyVersion off = POLICY.withSchedules(POLICY.schedules().stream()
                .map(s -> s.with(!s.id().equals("weekly")))
                .toList());
        List<Expected> week = week(off, List.of());
        assertEquals(1, week.stream().filter(Expected::off).count());
        assertTrue(week.stream().filter(Expected::off).noneMatch(Expected::runs));
        assertEquals(
                7,
                week(POLICY.with(false), List.of()).stream()
                        .filter(Expected::off)
                        .count());
    }

    @Test
    void aClosureOverTheWholeWindowExcuses() {
        List<Closure> all =
                List.of(new Closure("c", Optional.of("p"), Optional.empty(), new Span(day(39), day(60)), "port works"));
        assertTrue(week(POLICY, all).stream().noneMatch(Expected::runs));
    }

    @Test
    void anOverrunIsTheTimePastAWindowItMustFinishIn() {
        PolicyVersion tight = POLICY.withSchedules(POLICY.schedules().stream()
                .map(s -> s.id().equals("weekly") ? s.withWithin(Duration.ofHours(2)) : s)
                .toList());
        Expected full = week(tight, List.of()).stream()
                .filter(e -> e.slot().kind() == Kind.FULL)
                .findFirst()
                .orElseThrow();
        assertEquals(Duration.ofSeconds(10_000 - 7_200), full.overrun());
    }

    private static Writing writing(String store, String who, int from, int to, double rate) {
        return new Writing(store, who, day(0).plusSeconds(from), day(0).plusSeconds(to), rate);
    }

    @Test
    void aCollisionIsMoreAtOnceThanAStoreHasShown() {
        Map<String, Double> shown = Writing.shown(
                List.of(writing("n", "a", 0, 10, 5), writing("n", "b", 5, 15, 4), writing("m", "c", 0, 9, 7)));
        assertEquals(Map.of("n", 9.0, "m", 7.0), shown);
        List<Writing.Collision> found = Writing.collisions(
                List.of(writing("n", "a", 0, 10, 5), writing("n", "b", 4, 12, 5), writing("n", "c", 8, 9, 1)), shown);
        assertEquals(1, found.size(), "touching stretches are one");
        assertEquals(day(0).plusSeconds(4), found.get(0).from());
        assertEquals(day(0).plusSeconds(10), found.get(0).to());
        assertEquals(List.of("a", "b", "c"), found.get(0).who());
        assertEquals(11, found.get(0).bytesPerSecond());
        assertEquals(List.of(), Writing.collisions(List.of(writing("n", "a", 0, 10, 99)), shown), "one alone is none");
        assertEquals(
                List.of(),
                Writing.collisions(List.of(writing("x", "a", 0, 9, 9), writing("x", "b", 0, 9, 9)), shown),
                "of a store never seen nothing is known");
        assertEquals(
                List.of(),
                Writing.collisions(List.of(writing("n", "a", 0, 10, 9), writing("n", "b", 10, 20, 9)), shown),
                "one after the other is none");
    }

    static LongStream seeds() {
        return Seeds.upTo(60);
    }

    /** Second by second: what is shown is the greatest sum of rates at any second. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatAStoreHasShownIsTheGreatestSumOfASecond(long seed) {
        Random random = new Random(seed);
        List<Writing> all = new ArrayList<>();
        for (int n = random.nextInt(12); n >= 0; n--) {
            int from = random.nextInt(50);
            all.add(writing("n", "w" + n, from, from + random.nextInt(20), 1 + random.nextInt(9)));
        }
        double greatest = 0;
        for (int s = 0; s < 80; s++) {
            Instant at = day(0).plusSeconds(s);
            greatest = Math.max(
                    greatest,
                    all.stream()
                            .filter(w -> !w.from().isAfter(at) && w.to().isAfter(at))
                            .mapToDouble(Writing::bytesPerSecond)
                            .sum());
        }
        assertEquals(greatest, Writing.shown(all).getOrDefault("n", 0.0));
    }

    @ParameterizedTest
    @CsvSource({
        // days, from, to, hours of the longest stretch
        "ALL, 1320, 360, 8",
        "ALL, 0, 1440, 168",
        "MONDAY, 600, 660, 1",
        "MONDAY, 600, 600, 24",
        "WEEKEND, 0, 1440, 48",
    })
    void theLongestOpenStretchGoesOverMidnightAndTheWeeksEnd(String days, int from, int to, int hours) {
        Set<DayOfWeek> which = days.equals("ALL")
                ? EnumSet.allOf(DayOfWeek.class)
                : days.equals("WEEKEND")
                        ? EnumSet.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY)
                        : EnumSet.of(DayOfWeek.valueOf(days));
        OpenTime open = new OpenTime(List.of(new OpenHours(which, from, to)), Regular.LISBON);
        assertEquals(Duration.ofHours(hours), open.longest());
    }

    @Test
    void withoutAPolicyNothingIsExpected() {
        DatabaseFacts facts = REGULAR.facts(5);
        Fleet none = Regular.fleet();
        assertEquals(
                List.of(),
                Expected.of(
                        facts,
                        none,
                        Habits.of(REGULAR.database, facts.history(), day(5)),
                        day(5),
                        new Span(day(5), day(12))));
    }
}
