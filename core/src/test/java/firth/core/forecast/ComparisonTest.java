package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.forecast.Course.Point;
import firth.core.forecast.Course.Side;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class ComparisonTest {

    private static final ZoneId LISBON = ZoneId.of("Europe/Lisbon");
    /** A Monday, half past midnight in Lisbon in summer; still Sunday in UTC. */
    private static final Instant MONDAY = Instant.parse("2026-07-05T23:30:00Z");

    private static List<Instant> days(int count) {
        return IntStream.rangeClosed(1, count)
                .mapToObj(d -> MONDAY.minus(Duration.ofDays(d)))
                .toList();
    }

    private static Optional<Comparison> compare(double own, double... before) {
        List<Instant> at = days(before.length);
        return Comparison.like(MONDAY, at, t -> t, LISBON).compare(own, t -> before[at.indexOf(t)]);
    }

    @Test
    void likeOnesAreThoseOfItsLocalWeekdayWhereThereAreEnough() {
        Comparison.Like<Instant> few = Comparison.like(MONDAY, days(27), t -> t, LISBON);
        Comparison.Like<Instant> enough = Comparison.like(MONDAY, days(70), t -> t, LISBON);

        assertEquals(Optional.empty(), few.day());
        assertEquals(days(8), few.those());
        assertEquals(Optional.of(DayOfWeek.MONDAY), enough.day());
        assertEquals(8, enough.those().size());
        assertTrue(enough.those().stream().allMatch(t -> t.atZone(LISBON).getDayOfWeek() == DayOfWeek.MONDAY));
    }

    @Test
    void aFigureStandsBesideMedianAndSpreadOfThoseThatToldIt() {
        Comparison c = compare(30, 10, 0, 12, 14, 0, 20).orElseThrow();

        assertEquals(13, c.median());
        assertEquals(2, c.spread());
        assertEquals(4, c.of());
        assertTrue(c.unusual());
        assertEquals(30 / 13.0, c.times());
        assertTrue(compare(30, 10, 12, 0, 14).isEmpty(), "three are too few");
        assertTrue(compare(0, 10, 12, 14, 16).isEmpty(), "it did not tell its own");
    }

    @Test
    void whatIsOddMustBeFarInShareAndInSpreads() {
        assertFalse(compare(14.9, 10, 10, 10, 10).orElseThrow().unusual(), "not half as much again");
        assertTrue(compare(15.1, 10, 10, 10, 10).orElseThrow().unusual());
        assertFalse(compare(15.5, 9, 11, 9, 11).orElseThrow().unusual(), "not six spreads");
        assertTrue(compare(4.9, 10, 10, 10, 10).orElseThrow().unusual(), "far smaller is odd too");
    }

    private static final Instant START = Instant.parse("2026-11-20T22:40:00Z");

    private static Point at(int minute, double read, double written) {
        return new Point(START.plusSeconds(60L * minute), read, written);
    }

    private static List<Side> sides(OptionalDouble pace, Point... points) {
        return new Course(START, List.of(points))
                .stretches(OptionalDouble.of(10), (from, to) -> pace).stream()
                        .map(Course.Stretch::side)
                        .toList();
    }

    @Test
    void readingHoldsBackWhatIsWrittenAsItIsRead() {
        assertEquals(
                List.of(Side.READING, Side.READING), sides(OptionalDouble.of(0.1), at(1, 1200, 600), at(2, 1300, 650)));
    }

    @Test
    void whatIsReadAheadIsHeldBackByTheStoreWhereOthersAreSlowTooAndByTheWayThereWhereTheyAreNot() {
        Point[] stalled = {at(1, 1200, 600), at(2, 2000, 620), at(3, 2400, 1200)};

        assertEquals(List.of(Side.READING, Side.WRITING, Side.WRITING), sides(OptionalDouble.of(0.4), stalled));
        assertEquals(List.of(Side.READING, Side.TRANSPORT, Side.TRANSPORT), sides(OptionalDouble.of(0.9), stalled));
        assertEquals(List.of(Side.READING, Side.DELIVERY, Side.DELIVERY), sides(OptionalDouble.empty(), stalled));
    }

    @Test
    void aStretchIsSlowAgainstLikeRunsOnly() {
        Course course = new Course(START, List.of(at(1, 600, 600), at(1, 600, 600), at(3, 900, 900)));

        List<Course.Stretch> out = course.stretches(OptionalDouble.of(10), (a, b) -> OptionalDouble.empty());
        assertEquals(2, out.size(), "two reports of one moment are one point");
        assertEquals(OptionalDouble.of(1), out.get(0).share());
        assertFalse(out.get(0).slow());
        assertEquals(2.5, out.get(1).writtenPerSecond());
        assertTrue(out.get(1).slow());
        assertFalse(course.stretches(OptionalDouble.empty(), (a, b) -> OptionalDouble.empty())
                .get(1)
                .slow());
        assertEquals(
                List.of(),
                new Course(START, List.of()).stretches(OptionalDouble.of(1), (a, b) -> OptionalDouble.empty()));
    }
}
