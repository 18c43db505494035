package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Rules as cron lines and timers, and the other way: the same moments, or a reason. */
class DatesAndTimesTest {

    private static final LocalDate FROM = LocalDate.of(2026, 1, 1);
    private static final LocalDate TO = LocalDate.of(2027, 7, 1);
    private static final Pattern EVENT =
            Pattern.compile("(?:(\\S+) )?\\*-([^-~]+)([-~])(\\S+) ([\\d,]+):([\\d,]+):00 UTC");

    private static Set<Instant> moments(Recurrence recurrence) {
        return new TreeSet<>(recurrence.between(
                FROM,
                ZoneOffset.UTC,
                FROM.atStartOfDay(ZoneOffset.UTC).toInstant(),
                TO.atStartOfDay(ZoneOffset.UTC).toInstant()));
    }

    private static Set<Integer> numbers(String list) {
        Set<Integer> out = new TreeSet<>();
        for (String part : list.split(",")) {
            String[] ends = part.split("\\.\\.");
            IntStream.rangeClosed(Integer.parseInt(ends[0]), Integer.parseInt(ends[ends.length - 1]))
                    .forEach(out::add);
        }
        return out;
    }

    /** Whether a calendar event, read by what systemd says of them, has a day. */
    private static boolean has(Matcher event, LocalDate day) {
        String week = day.getDayOfWeek().name().charAt(0)
                + day.getDayOfWeek().name().substring(1, 3).toLowerCase(java.util.Locale.ROOT);
        if (event.group(1) != null && !List.of(event.group(1).split(",")).contains(week)) {
            return false;
        }
        if (!event.group(2).equals("*") && !numbers(event.group(2)).contains(day.getMonthValue())) {
            return false;
        }
        String dates = event.group(4);
        int back = day.lengthOfMonth() - day.getDayOfMonth() + 1;
        if (event.group(3).equals("~")) {
            return dates.equals("07/1") ? back <= 7 : numbers(dates).contains(back);
        }
        return dates.equals("*") || numbers(dates).contains(day.getDayOfMonth());
    }

    private static Set<Instant> events(List<String> calendar) {
        Set<Instant> out = new TreeSet<>();
        for (String each : calendar) {
            Matcher event = EVENT.matcher(each);
            assertTrue(event.matches(), each);
            for (LocalDate day = FROM; day.isBefore(TO); day = day.plusDays(1)) {
                if (has(event, day)) {
                    for (int hour : numbers(event.group(5))) {
                        for (int minute : numbers(event.group(6))) {
                            out.add(ZonedDateTime.of(day, LocalTime.of(hour, minute), ZoneOffset.UTC)
                                    .toInstant());
                        }
                    }
                }
            }
        }
        return out;
    }

    private static String some(Random random, int least, int most, int atMost) {
        return IntStream.range(0, 1 + random.nextInt(atMost))
                .map(i -> least + random.nextInt(most - least + 1))
                .distinct()
                .sorted()
                .mapToObj(String::valueOf)
                .collect(Collectors.joining(","));
    }

    private static String rule(Random random) {
        List<String> parts = new ArrayList<>();
        String frequency = List.of("DAILY", "WEEKLY", "MONTHLY", "YEARLY").get(random.nextInt(4));
        parts.add("FREQ=" + frequency);
        if (random.nextInt(8) == 0) {
            parts.add("INTERVAL=" + (1 + random.nextInt(3)));
        }
        if (random.nextInt(3) == 0) {
            parts.add("BYMONTH=" + some(random, 1, 12, 4));
        }
        if (random.nextInt(2) == 0) {
            boolean numbered = frequency.equals("MONTHLY") && random.nextBoolean();
            parts.add("BYDAY="
                    + random.ints(1 + random.nextInt(3), 0, 7)
                            .distinct()
                            .mapToObj(d -> (numbered
                                            ? List.of("1", "2", "3", "4", "-1", "-2")
                                                    .get(random.nextInt(6))
                                            : "")
                                    + DayOfWeek.of(d + 1).name().substring(0, 2))
                            .collect(Collectors.joining(",")));
        } else if (random.nextInt(2) == 0 && !frequency.equals("WEEKLY")) {
            parts.add("BYMONTHDAY=" + some(random, 1, 31, 4) + (random.nextInt(3) == 0 ? ",-1" : ""));
        }
        parts.add("BYHOUR=" + some(random, 0, 23, 3));
        parts.add("BYMINUTE=" + some(random, 0, 59, 2));
        return String.join(";", parts);
    }

    @Test
    void rulesComeOutAsTheyWentIn() {
        Random random = new Random(20_261_201);
        int lines = 0;
        int timers = 0;
        for (int n = 0; n < 500; n++) {
            String rule = rule(random);
            Recurrence recurrence = Recurrences.rule(rule);
            Set<Instant> expected = moments(recurrence);
            try {
                String line = DatesAndTimes.of(recurrence).cron();
                assertEquals(expected, moments(Recurrences.cron(line)), rule + " as " + line);
                lines++;
            } catch (DatesAndTimes.CannotSay e) {
                assertTrue(e.why().length() > 10, rule);
            }
            try {
                List<String> calendar = DatesAndTimes.of(recurrence).calendar(ZoneId.of("UTC"));
                assertEquals(expected, events(calendar), rule + " as " + calendar);
                timers++;
            } catch (DatesAndTimes.CannotSay e) {
                assertTrue(e.why().length() > 10, rule);
            }
        }
        assertTrue(lines > 150, lines + " cron lines");
        assertTrue(timers > lines, timers + " timers");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "0 23 1 * *|[*-*-01 23:00:00 UTC]",
                "30 1 * * 1-5|[Mon,Tue,Wed,Thu,Fri *-*-* 01:30:00 UTC]",
                "0 3 1,15 * 0|[*-*-01,15 03:00:00 UTC, Sun *-*-* 03:00:00 UTC]",
                "0 3 */2 JAN,jul sun|[Sun *-01,07-01,03,05,07,09,11,13,15,17,19,21,23,25,27,29,31 03:00:00 UTC]",
                "0 */6 * * 0-7|[*-*-* 00,06,12,18:00:00 UTC]",
            })
    void cronLinesAreTimers(String line, String calendar) throws DatesAndTimes.CannotSay {
        Recurrence recurrence = Recurrences.cron(line);
        List<String> written = DatesAndTimes.of(recurrence).calendar(ZoneId.of("UTC"));
        assertEquals(calendar, written.toString());
        assertEquals(moments(recurrence), events(written));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "FREQ=MONTHLY;BYMONTHDAY=1;BYHOUR=23|0 23 1 * *",
                "FREQ=YEARLY;BYMONTH=1,7;BYMONTHDAY=1;BYHOUR=3;BYMINUTE=30|30 3 1 1,7 *",
                "FREQ=WEEKLY;BYDAY=MO,SU;BYHOUR=6,18|0 6,18 * * 1,0",
            })
    void rulesAreCronLines(String rule, String line) throws DatesAndTimes.CannotSay {
        assertEquals(line, DatesAndTimes.of(Recurrences.rule(rule)).cron());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;BYHOUR=1|it leaves some out by counting from a date",
                "FREQ=DAILY;BYHOUR=1;COUNT=3|it comes to an end",
                "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=1|cron counts no weekdays of a month",
                "FREQ=MONTHLY;BYMONTHDAY=-1;BYHOUR=1|cron counts no days from the end of a month",
                "FREQ=MONTHLY;BYDAY=MO,TU;BYSETPOS=1;BYHOUR=1|it takes one of several days",
                "FREQ=WEEKLY;BYHOUR=1|its day is that of the date it begins at",
                "FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13;BYHOUR=1|cron takes days of the month and of the week for either, not for both",
            })
    void whatNoLineSaysHasAReason(String rule, String why) {
        DatesAndTimes.CannotSay e = assertThrows(
                DatesAndTimes.CannotSay.class,
                () -> DatesAndTimes.of(Recurrences.rule(rule)).cron());
        assertEquals(why, e.why());
    }
}
