package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.time.Recurrence;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Recurrences on the clock of a place, across changes of that clock. */
class RecurrencesTest {

    private static final ZoneId LONDON = ZoneId.of("Europe/London");
    private static final LocalDate START = LocalDate.parse("2026-03-01");

    private static List<String> between(Recurrence r, ZoneId zone, String from, String to) {
        return r.between(START, zone, Instant.parse(from), Instant.parse(to)).stream()
                .map(Instant::toString)
                .toList();
    }

    @ParameterizedTest
    @ValueSource(strings = {"FREQ=DAILY;BYHOUR=1;BYMINUTE=30", "cron 30 1 * * *"})
    void aTimeTheClockSkipsMovesForwardByTheJump(String text) {
        Recurrence r = text.startsWith("cron ") ? Recurrences.cron(text.substring(5)) : Recurrences.rule(text);
        assertEquals(
                List.of("2026-03-28T01:30:00Z", "2026-03-29T01:30:00Z", "2026-03-30T00:30:00Z"),
                between(r, LONDON, "2026-03-28T00:00:00Z", "2026-03-31T00:00:00Z"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"FREQ=DAILY;BYHOUR=1;BYMINUTE=30", "cron 30 1 * * *"})
    void aTimeThatOccursTwiceCountsOnce(String text) {
        Recurrence r = text.startsWith("cron ") ? Recurrences.cron(text.substring(5)) : Recurrences.rule(text);
        assertEquals(
                List.of("2026-10-25T00:30:00Z", "2026-10-26T01:30:00Z"),
                between(r, LONDON, "2026-10-25T00:00:00Z", "2026-10-27T00:00:00Z"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"FREQ=DAILY;INTERVAL=3;BYHOUR=1;BYMINUTE=30", "cron 30 1,23 * * 1-5"})
    void whatIsAskedAtOnceIsWhatIsAskedInParts(String text) {
        Recurrence r = text.startsWith("cron ") ? Recurrences.cron(text.substring(5)) : Recurrences.rule(text);
        Random random = new Random(5);
        for (int round = 0; round < 200; round++) {
            Instant from = Instant.parse("2026-03-01T00:00:00Z").plusSeconds(random.nextInt(20_000_000));
            Instant middle = from.plusSeconds(random.nextInt(10_000_000));
            Instant to = middle.plusSeconds(random.nextInt(10_000_000));
            List<Instant> parts = new ArrayList<>(r.between(START, LONDON, from, middle));
            parts.addAll(r.between(START, LONDON, middle, to));
            assertEquals(r.between(START, LONDON, from, to), parts);
            assertTrue(parts.stream().allMatch(t -> !t.isBefore(from) && t.isBefore(to)));
        }
        assertEquals(List.of(), r.between(START, LONDON, Instant.MAX, Instant.MIN));
    }

    @Test
    void occurrencesThatFallOnOneInstantAreOne() {
        Recurrence r = Recurrences.cron("30 1,2 29 3 *");
        assertEquals(
                List.of("2026-03-29T01:30:00Z"), between(r, LONDON, "2026-03-29T00:00:00Z", "2026-03-30T00:00:00Z"));
    }

    @Test
    void intervalsCountFromTheStart() {
        Recurrence r = Recurrences.rule("FREQ=DAILY;INTERVAL=3;BYHOUR=22;BYMINUTE=0");
        assertEquals(
                List.of("2026-03-10T22:00:00Z", "2026-03-13T22:00:00Z"),
                between(r, ZoneId.of("UTC"), "2026-03-08T00:00:00Z", "2026-03-15T00:00:00Z"));
    }

    @Test
    void eitherDayFieldOfACronLineFits() {
        Recurrence r = Recurrences.cron("0 4 13 * FRI");
        assertEquals(
                List.of("2026-03-06T04:00:00Z", "2026-03-13T04:00:00Z"),
                between(r, ZoneId.of("UTC"), "2026-03-05T00:00:00Z", "2026-03-20T00:00:00Z"));
        assertEquals(
                List.of("2026-04-10T04:00:00Z", "2026-04-13T04:00:00Z"),
                between(r, ZoneId.of("UTC"), "2026-04-09T00:00:00Z", "2026-04-14T00:00:00Z"));
    }

    @Test
    void aBoundBelongsToTheStretchItBegins() {
        Recurrence r = Recurrences.cron("0 4 * * *");
        assertEquals(
                List.of("2026-03-05T04:00:00Z"),
                between(r, ZoneId.of("UTC"), "2026-03-05T04:00:00Z", "2026-03-06T04:00:00Z"));
    }

    @Test
    void everyDayOfAWeekIsOfItsOwnMonth() {
        Recurrence r = Recurrences.rule("FREQ=WEEKLY;BYMONTH=6;BYDAY=MO,SA;BYHOUR=1;BYMINUTE=0;COUNT=5");
        List<Instant> found = r.between(
                LocalDate.of(2026, 5, 28),
                ZoneOffset.UTC,
                Instant.parse("2026-06-05T00:00:00Z"),
                Instant.parse("2026-08-01T00:00:00Z"));
        assertEquals(
                List.of("2026-06-06T01:00:00Z", "2026-06-08T01:00:00Z", "2026-06-13T01:00:00Z", "2026-06-15T01:00:00Z"),
                found.stream().map(Instant::toString).toList(),
                "the first of five was Monday, 1 June");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "FREQ=DAILY",
                "FREQ=DAILY;BYHOUR=2;COUNT=x",
                "FREQ=DAILY;BYHOUR=2;BYDAY=9XX",
                "BYHOUR=2",
                "FREQ=DAILY;BYHOUR=99",
                "FREQ=DAILY;BYHOUR=2;BYMINUTE=60"
            })
    void badRulesAreRefused(String rule) {
        assertThrows(IllegalArgumentException.class, () -> Recurrences.rule(rule));
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "* * * *", "61 1 * * *", "0 0 0 1 1 ?", "noon"})
    void badCronLinesAreRefused(String line) {
        assertThrows(IllegalArgumentException.class, () -> Recurrences.cron(line));
    }

    /** Working out one question may wait for threads that ask others: none of them may wait for it. */
    @Test
    void whileOneQuestionIsWorkedOutAnyOtherIsAnswered() throws Exception {
        CountDownLatch begun = new CountDownLatch(1);
        CountDownLatch others = new CountDownLatch(1);
        LocalDate slow = LocalDate.of(2026, 1, 1);
        Instant opens = Instant.parse("2026-11-01T00:00:00Z");
        Recurrence rule = new Recurrences.Written("rule", (start, zone, from, to) -> {
            if (start.equals(slow)) {
                begun.countDown();
                try {
                    assertTrue(others.await(30, TimeUnit.SECONDS), "the others were answered meanwhile");
                } catch (InterruptedException e) {
                    throw new AssertionError(e);
                }
            }
            return List.of(opens);
        });
        Instant to = opens.plusSeconds(3600);
        CompletableFuture<List<Instant>> waiting = CompletableFuture.supplyAsync(
                () -> rule.between(slow, ZoneOffset.UTC, opens, to), r -> new Thread(r).start());
        assertTrue(begun.await(30, TimeUnit.SECONDS));
        // As many as there are places in the map, so that one of them is sure to be beside the one that waits.
        CompletableFuture<Void> asking = CompletableFuture.runAsync(
                () -> {
                    for (int day = 1; day <= 30; day++) {
                        rule.between(slow.plusDays(day), ZoneOffset.UTC, opens, to);
                    }
                },
                r -> new Thread(r).start());
        asking.get(30, TimeUnit.SECONDS);
        others.countDown();
        assertEquals(List.of(opens), waiting.get(30, TimeUnit.SECONDS));
    }
}
