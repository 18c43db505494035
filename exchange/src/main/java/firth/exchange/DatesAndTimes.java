package firth.exchange;

import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.stream.Collectors;
import net.fortuna.ical4j.model.Recur;
import net.fortuna.ical4j.model.WeekDay;

/**
 * A recurrence in the terms of what starts programs: on some months, days of the month and days of the week, at some hours and
 * minutes. Empty months, dates or days are all of them; where dates and days are both said a day fits that is both.
 *
 * @param dates from 1, or from -1 counted from the last day backwards
 * @param nth weekdays of the month by their number, from the front or, below 0, from the back
 * @param either whether a day fits that is one of the dates or of the days: so cron lines mean it
 */
record DatesAndTimes(
        SortedSet<Integer> months,
        SortedSet<Integer> dates,
        SortedSet<DayOfWeek> days,
        List<Nth> nth,
        SortedSet<Integer> hours,
        SortedSet<Integer> minutes,
        boolean either) {

    private static final int DAYS_OF_WEEK = 7;

    /** A weekday of a month, such as its first Sunday. */
    record Nth(int number, DayOfWeek day) {}

    /** Why a recurrence cannot be said in some way, as the end of a sentence that begins with its rule. */
    static final class CannotSay extends Exception {

        CannotSay(String why) {
            super(why, null, false, false);
        }

        String why() {
            return String.valueOf(getMessage());
        }
    }

    /** @throws CannotSay where it says more than that */
    static DatesAndTimes of(Recurrence recurrence) throws CannotSay {
        String written = recurrence.written().strip();
        return written.toUpperCase(Locale.ROOT).contains("FREQ=") ? ofRule(written) : ofCron(written);
    }

    private static DatesAndTimes ofRule(String rule) throws CannotSay {
        Recur<LocalDateTime> recur = new Recur<>(rule);
        String frequency = recur.getFrequency().name();
        if (recur.getInterval() > 1) {
            throw new CannotSay("it leaves some out by counting from a date");
        }
        if (recur.getCount() > 0 || recur.getUntil() != null) {
            throw new CannotSay("it comes to an end");
        }
        if (!recur.getYearDayList().isEmpty() || !recur.getWeekNoList().isEmpty()) {
            throw new CannotSay("it goes by days or weeks of the year");
        }
        if (!recur.getSetPosList().isEmpty()) {
            throw new CannotSay("it takes one of several days");
        }
        boolean seconds =
                !recur.getSecondList().isEmpty() && !recur.getSecondList().equals(List.of(0));
        if (seconds || !Set.of("DAILY", "WEEKLY", "MONTHLY", "YEARLY").contains(frequency)) {
            throw new CannotSay("it goes by less than days and minutes");
        }
        SortedSet<Integer> months = new TreeSet<>();
        recur.getMonthList().forEach(m -> months.add(m.getMonthOfYear()));
        SortedSet<Integer> dates = new TreeSet<>(recur.getMonthDayList());
        SortedSet<DayOfWeek> days = new TreeSet<>();
        List<Nth> nth = new ArrayList<>();
        for (WeekDay day : recur.getDayList()) {
            DayOfWeek of = PlainWeek.day(day);
            if (day.getOffset() == 0) {
                days.add(of);
            } else {
                nth.add(new Nth(day.getOffset(), of));
            }
        }
        boolean named = !days.isEmpty() || !nth.isEmpty() || !dates.isEmpty();
        if (!frequency.equals("DAILY") && !named) {
            throw new CannotSay("its day is that of the date it begins at");
        }
        if (frequency.equals("YEARLY") && months.isEmpty()) {
            throw new CannotSay("it goes by days or weeks of the year");
        }
        if (!nth.isEmpty() && (!dates.isEmpty() || !days.isEmpty())) {
            throw new CannotSay("it takes days of several sorts at once");
        }
        return new DatesAndTimes(
                months,
                dates,
                days,
                nth,
                new TreeSet<>(recur.getHourList()),
                recur.getMinuteList().isEmpty() ? new TreeSet<>(Set.of(0)) : new TreeSet<>(recur.getMinuteList()),
                false);
    }

    private static DatesAndTimes ofCron(String line) throws CannotSay {
        String[] fields = line.split("\\s+");
        SortedSet<DayOfWeek> days = new TreeSet<>();
        for (int d : CronField.WEEKDAY.numbers(fields[4])) {
            days.add(DayOfWeek.of((d + DAYS_OF_WEEK - 1) % DAYS_OF_WEEK + 1));
        }
        SortedSet<Integer> dates = CronField.DATE.numbers(fields[2]);
        boolean either = !fields[2].startsWith("*") && !fields[4].startsWith("*");
        return new DatesAndTimes(
                fields[3].equals("*") ? new TreeSet<>() : CronField.MONTH.numbers(fields[3]),
                fields[2].equals("*") ? new TreeSet<>() : dates,
                fields[4].equals("*") ? new TreeSet<>() : days,
                List.of(),
                CronField.HOUR.numbers(fields[1]),
                CronField.MINUTE.numbers(fields[0]),
                either);
    }

    /**
     * The same as a cron line.
     *
     * @throws CannotSay where cron knows no such day
     */
    String cron() throws CannotSay {
        if (!nth.isEmpty()) {
            throw new CannotSay("cron counts no weekdays of a month");
        }
        if (!dates.isEmpty() && dates.first() < 0) {
            throw new CannotSay("cron counts no days from the end of a month");
        }
        if (!dates.isEmpty() && !days.isEmpty() && !either) {
            throw new CannotSay("cron takes days of the month and of the week for either, not for both");
        }
        return String.join(
                " ",
                list(minutes),
                list(hours),
                dates.isEmpty() ? "*" : list(dates),
                months.isEmpty() ? "*" : list(months),
                days.isEmpty() || days.size() == DAYS_OF_WEEK
                        ? "*"
                        : days.stream()
                                .map(d -> String.valueOf(d.getValue() % DAYS_OF_WEEK))
                                .collect(Collectors.joining(",")));
    }

    private static String list(SortedSet<Integer> numbers) {
        return numbers.stream().map(String::valueOf).collect(Collectors.joining(","));
    }

    /**
     * The same as calendar events of a systemd timer, of which any makes it elapse.
     *
     * @throws CannotSay where such an event knows no such day
     */
    List<String> calendar(ZoneId zone) throws CannotSay {
        String month = "*-" + (months.isEmpty() ? "*" : padded(months));
        String times = padded(hours) + ":" + padded(minutes) + ":00 " + zone.getId();
        String week = days.isEmpty() || days.size() == DAYS_OF_WEEK
                ? ""
                : days.stream().map(DatesAndTimes::shortName).collect(Collectors.joining(",")) + " ";
        List<String> out = new ArrayList<>();
        for (Nth each : nth) {
            out.add(shortName(each.day) + " " + month + stretch(each.number) + " " + times);
        }
        if (either) {
            out.add(month + "-" + padded(dates) + " " + times);
            out.add(week + month + "-* " + times);
            return out;
        }
        SortedSet<Integer> front = dates.tailSet(1);
        SortedSet<Integer> back = new TreeSet<>();
        dates.headSet(0).forEach(d -> back.add(-d));
        if (!front.isEmpty()) {
            out.add(week + month + "-" + padded(front) + " " + times);
        }
        if (!back.isEmpty()) {
            out.add(week + month + "~" + padded(back) + " " + times);
        }
        if (out.isEmpty()) {
            out.add(week + month + "-* " + times);
        }
        return out;
    }

    /** The days of a month among which a weekday of some number is. */
    private static String stretch(int number) throws CannotSay {
        if (number > 0 && number <= 5) {
            int first = (number - 1) * DAYS_OF_WEEK + 1;
            return number == 5 ? "-29..31" : "-" + two(first) + ".." + two(first + DAYS_OF_WEEK - 1);
        }
        if (number == -1) {
            return "~07/1";
        }
        throw new CannotSay("a timer counts only the last weekday from the end of a month");
    }

    private static String padded(SortedSet<Integer> numbers) {
        return numbers.stream().map(DatesAndTimes::two).collect(Collectors.joining(","));
    }

    private static String two(int number) {
        return String.format(Locale.ROOT, "%02d", number);
    }

    private static String shortName(DayOfWeek day) {
        return day.name().charAt(0) + day.name().substring(1, 3).toLowerCase(Locale.ROOT);
    }

    /**
     * A field of a cron line.
     *
     * @param names of its numbers, from the least on; empty where they have none
     */
    private record CronField(int least, int most, List<String> names) {

        static final CronField MINUTE = new CronField(0, 59, List.of());
        static final CronField HOUR = new CronField(0, 23, List.of());
        static final CronField DATE = new CronField(1, 31, List.of());
        static final CronField MONTH = new CronField(
                1, 12, List.of("JAN", "FEB", "MAR", "APR", "MAY", "JUN", "JUL", "AUG", "SEP", "OCT", "NOV", "DEC"));
        static final CronField WEEKDAY =
                new CronField(0, DAYS_OF_WEEK, List.of("SUN", "MON", "TUE", "WED", "THU", "FRI", "SAT"));

        /** @throws CannotSay where it holds signs that are not of every cron */
        SortedSet<Integer> numbers(String field) throws CannotSay {
            SortedSet<Integer> out = new TreeSet<>();
            for (String part : field.split(",")) {
                String[] steps = part.split("/");
                String[] ends = steps[0].equals("*")
                        ? new String[] {String.valueOf(least), String.valueOf(most)}
                        : steps[0].split("-");
                int from = number(ends[0]);
                int to = ends.length > 1 ? number(ends[1]) : steps.length > 1 ? most : from;
                int by = steps.length > 1 ? number(steps[1]) : 1;
                for (int n = from; n <= to; n += by) {
                    out.add(n);
                }
            }
            return out;
        }

        private int number(String text) throws CannotSay {
            int named = names.indexOf(text.toUpperCase(Locale.ROOT));
            if (named >= 0) {
                return named + least;
            }
            return Optional.of(text)
                    .filter(t -> t.matches("\\d{1,2}"))
                    .map(Integer::parseInt)
                    .filter(n -> n >= 0)
                    .orElseThrow(() -> new CannotSay("it holds signs that are not of every cron: " + text));
        }
    }
}
