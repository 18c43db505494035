package firth.core.adherence;

import firth.core.fleet.OpenHours;
import firth.core.time.Spans;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;

/** When running data backups are welcome, on the clock of a place. */
final class OpenTime {

    private static final int DAY = 24 * 60;

    private final List<OpenHours> hours;
    private final ZoneId zone;

    OpenTime(List<OpenHours> hours, ZoneId zone) {
        this.hours = hours;
        this.zone = zone;
    }

    /** Milliseconds of {@code [from, to)} outside the open hours; none where no hours are stated. */
    long outside(Instant from, Instant to) {
        if (hours.isEmpty() || !to.isAfter(from)) {
            return 0;
        }
        Spans open = Spans.NONE;
        LocalDate last = to.atZone(zone).toLocalDate();
        for (LocalDate day = from.atZone(zone).toLocalDate().minusDays(1); !day.isAfter(last); day = day.plusDays(1)) {
            for (OpenHours h : hours) {
                if (h.days().contains(day.getDayOfWeek())) {
                    int end = h.toMinute() <= h.fromMinute() ? h.toMinute() + DAY : h.toMinute();
                    open = open.or(Spans.of(at(day, h.fromMinute()), at(day, end)));
                }
            }
        }
        Spans inside = open.and(Spans.of(from.toEpochMilli(), to.toEpochMilli()));
        long out = to.toEpochMilli() - from.toEpochMilli();
        for (int i = 0; i < inside.count(); i++) {
            out -= inside.to(i) - inside.from(i);
        }
        return out;
    }

    private long at(LocalDate day, int minute) {
        return ZonedDateTime.of(day.plusDays(minute / DAY), LocalTime.ofSecondOfDay(minute % DAY * 60L), zone)
                .toInstant()
                .toEpochMilli();
    }
}
