package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A second opinion on rules and cron lines: every day of the calendar is looked at, on machines of several languages. */
class RecurrencesWordByWordTest {

    private static final List<Locale> LANGUAGES =
            List.of(Locale.US, Locale.UK, new Locale("tr", "TR"), new Locale("ar", "SA"), Locale.ROOT);
    private static final List<ZoneId> ZONES =
            List.of(ZoneId.of("Europe/Lisbon"), ZoneId.of("Pacific/Apia"), ZoneId.of("America/New_York"));
    private static final LocalDate START = LocalDate.parse("2026-01-07");

    static LongStream seeds() {
        return LongStream.range(0, 150L * Integer.getInteger("firth.thorough", 1));
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void cronLinesFitTheDaysTheySay(long seed) {
        Random random = new Random(seed);
        Field days = Field.any(random, 1, 31);
        Field weekdays = Field.any(random, 0, 6);
        int hour = random.nextInt(24);
        String line = random.nextInt(60) + " " + hour + " " + days.text + " * " + weekdays.text;
        int minute = Integer.parseInt(line.split(" ")[0]);
        boolean either = !days.text.startsWith("*") && !weekdays.text.startsWith("*");
        inEveryLanguage(seed, Recurrences.cron(line), line, day -> {
            boolean byDate = days.fits.contains(day.getDayOfMonth());
            boolean byWeekday = weekdays.fits.contains(day.getDayOfWeek().getValue() % 7);
            return (either ? byDate || byWeekday : byDate && byWeekday)
                    ? List.of(LocalTime.of(hour, minute))
                    : List.of();
        });
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void weeksAreCountedFromTheStartAndBeginOnMonday(long seed) {
        Random random = new Random(seed);
        int interval = 1 + random.nextInt(4);
        int hour = random.nextInt(24);
        Set<DayOfWeek> days = new HashSet<>();
        while (days.isEmpty()) {
            for (DayOfWeek d : DayOfWeek.values()) {
                if (random.nextInt(3) == 0) {
                    days.add(d);
                }
            }
        }
        DayOfWeek begins = random.nextBoolean() ? DayOfWeek.MONDAY : DayOfWeek.of(1 + random.nextInt(7));
        StringBuilder rule =
                new StringBuilder("FREQ=WEEKLY;INTERVAL=" + interval + ";BYHOUR=" + hour + ";BYMINUTE=5;BYDAY=");
        List<String> names = new ArrayList<>();
        days.forEach(d -> names.add(d.name().substring(0, 2)));
        rule.append(String.join(",", names));
        if (begins != DayOfWeek.MONDAY) {
            rule.append(";WKST=").append(begins.name(), 0, 2);
        }
        LocalDate first = weekOf(START, begins);
        inEveryLanguage(seed, Recurrences.rule(rule.toString()), rule.toString(), day -> {
            long weeks = ChronoUnit.WEEKS.between(first, weekOf(day, begins));
            boolean fits = !day.isBefore(START) && weeks % interval == 0 && days.contains(day.getDayOfWeek());
            return fits ? List.of(LocalTime.of(hour, 5)) : List.of();
        });
    }

    private static LocalDate weekOf(LocalDate day, DayOfWeek begins) {
        LocalDate at = day;
        while (at.getDayOfWeek() != begins) {
            at = at.minusDays(1);
        }
        return at;
    }

    private interface Calendar {
        List<LocalTime> on(LocalDate day);
    }

    private void inEveryLanguage(long seed, Recurrence known, String written, Calendar calendar) {
        ZoneId zone = ZONES.get((int) (seed % ZONES.size()));
        Instant from = Instant.parse("2026-02-20T00:00:00Z");
        Instant to = from.plus(90, ChronoUnit.DAYS);
        TreeSet<Instant> expected = new TreeSet<>();
        for (LocalDate day = LocalDate.parse("2026-02-15");
                day.isBefore(LocalDate.parse("2026-06-01"));
                day = day.plusDays(1)) {
            for (LocalTime time : calendar.on(day)) {
                Instant at = LocalDateTime.of(day, time).atZone(zone).toInstant();
                if (!at.isBefore(from) && at.isBefore(to)) {
                    expected.add(at);
                }
            }
        }
        assertEquals(List.copyOf(expected), known.between(START, zone, from, to), written);
        Locale before = Locale.getDefault();
        try {
            Locale.setDefault(LANGUAGES.get((int) (seed % LANGUAGES.size())));
            Recurrence anew = written.startsWith("FREQ") ? Recurrences.rule(written) : Recurrences.cron(written);
            assertEquals(List.copyOf(expected), anew.between(START, zone, from, to), written);
        } finally {
            Locale.setDefault(before);
        }
    }

    /** A field of a cron line with what it stands for. */
    private record Field(String text, Set<Integer> fits) {

        static Field any(Random random, int least, int most) {
            Set<Integer> fits = new HashSet<>();
            int kind = random.nextInt(4);
            int step = kind == 1 || kind == 3 ? 2 + random.nextInt(5) : 1;
            int from = kind < 2 ? least : least + random.nextInt(most - least);
            int to = kind < 2 ? most : from + random.nextInt(most - from + 1);
            for (int n = from; n <= to; n += step) {
                fits.add(n);
            }
            return new Field(
                    switch (kind) {
                        case 0 -> "*";
                        case 1 -> "*/" + step;
                        case 2 -> from + "-" + to;
                        default -> from + "-" + to + "/" + step;
                    },
                    fits);
        }
    }
}
