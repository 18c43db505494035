package firth.exchange;

import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import net.fortuna.ical4j.model.Recur;
import net.fortuna.ical4j.model.WeekDay;

/** A recurrence that is no more than some days of every week at one time: what every way of starting things can express. */
record PlainWeek(Set<DayOfWeek> days, LocalTime time) {

    private static final Pattern CRON = Pattern.compile("(\\d{1,2}) (\\d{1,2}) \\* \\* ([0-7,*-]+)");

    private static final Map<WeekDay.Day, DayOfWeek> DAYS = Map.of(
            WeekDay.Day.MO, DayOfWeek.MONDAY,
            WeekDay.Day.TU, DayOfWeek.TUESDAY,
            WeekDay.Day.WE, DayOfWeek.WEDNESDAY,
            WeekDay.Day.TH, DayOfWeek.THURSDAY,
            WeekDay.Day.FR, DayOfWeek.FRIDAY,
            WeekDay.Day.SA, DayOfWeek.SATURDAY,
            WeekDay.Day.SU, DayOfWeek.SUNDAY);

    static DayOfWeek day(WeekDay day) {
        return Objects.requireNonNull(DAYS.get(day.getDay()));
    }

    /** Empty where the recurrence says more than that. */
    static Optional<PlainWeek> of(Recurrence recurrence) {
        String written = recurrence.written().strip().replaceAll("\\s+", " ");
        return written.toUpperCase(Locale.ROOT).contains("FREQ=") ? ofRule(written) : ofCron(written);
    }

    private static Optional<PlainWeek> ofRule(String rule) {
        Recur<LocalDateTime> recur = new Recur<>(rule);
        boolean plain = recur.getInterval() <= 1
                && recur.getCount() < 1
                && recur.getUntil() == null
                && recur.getMonthList().isEmpty()
                && recur.getMonthDayList().isEmpty()
                && recur.getSetPosList().isEmpty()
                && recur.getYearDayList().isEmpty()
                && recur.getWeekNoList().isEmpty()
                && recur.getHourList().size() == 1
                && recur.getMinuteList().size() <= 1
                && (recur.getSecondList().isEmpty() || recur.getSecondList().equals(List.of(0)));
        boolean daily = recur.getFrequency().name().equals("DAILY");
        boolean weekly = recur.getFrequency().name().equals("WEEKLY")
                && !recur.getDayList().isEmpty();
        if (!plain || !daily && !weekly) {
            return Optional.empty();
        }
        Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
        for (WeekDay day : recur.getDayList()) {
            if (day.getOffset() != 0) {
                return Optional.empty();
            }
            days.add(day(day));
        }
        int minute = recur.getMinuteList().isEmpty() ? 0 : recur.getMinuteList().get(0);
        return Optional.of(new PlainWeek(
                days.isEmpty() ? EnumSet.allOf(DayOfWeek.class) : days,
                LocalTime.of(recur.getHourList().get(0), minute)));
    }

    private static Optional<PlainWeek> ofCron(String line) {
        Matcher m = CRON.matcher(line);
        if (!m.matches()) {
            return Optional.empty();
        }
        Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
        for (String part :
                m.group(3).equals("*") ? List.of("0-6") : List.of(m.group(3).split(","))) {
            String[] ends = part.split("-");
            for (int d = Integer.parseInt(ends[0]); d <= Integer.parseInt(ends[ends.length - 1]); d++) {
                days.add(DayOfWeek.of((d + 6) % 7 + 1));
            }
        }
        return Optional.of(
                new PlainWeek(days, LocalTime.of(Integer.parseInt(m.group(2)), Integer.parseInt(m.group(1)))));
    }

    /** The same as a rule of RFC 5545. */
    String rule() {
        String on = days.size() == DayOfWeek.values().length
                ? "FREQ=DAILY"
                : "FREQ=WEEKLY;BYDAY="
                        + days.stream().map(d -> d.name().substring(0, 2)).collect(Collectors.joining(","));
        return on + ";BYHOUR=" + time.getHour() + ";BYMINUTE=" + time.getMinute();
    }
}
