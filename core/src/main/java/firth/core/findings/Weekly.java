package firth.core.findings;

import firth.core.time.Recurrence;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Some days of every week at a local time: what is offered where a schedule is lacking. */
record Weekly(List<DayOfWeek> days, int hour, int minute) implements Recurrence {

    @Override
    public List<Instant> between(LocalDate start, ZoneId zone, Instant from, Instant to) {
        List<Instant> out = new ArrayList<>();
        LocalDate last = to.atZone(zone).toLocalDate();
        LocalDate day = from.atZone(zone).toLocalDate();
        for (day = day.isBefore(start) ? start : day; !day.isAfter(last); day = day.plusDays(1)) {
            Instant at = ZonedDateTime.of(day, LocalTime.of(hour, minute), zone).toInstant();
            if (days.contains(day.getDayOfWeek()) && !at.isBefore(from) && at.isBefore(to)) {
                out.add(at);
            }
        }
        return out;
    }

    @Override
    public String written() {
        String byDay = days.stream().map(d -> d.name().substring(0, 2)).collect(Collectors.joining(","));
        return "FREQ=WEEKLY;BYDAY=" + byDay + ";BYHOUR=" + hour + ";BYMINUTE=" + minute;
    }
}
