package firth.core.adherence;

import firth.core.model.OpenHours;
import firth.core.time.Spans;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;

/** When running data backups are welcome, on the clock of a place. */
public final class OpenTime {

    private static final int DAY = 24 * 60;

    private final List<OpenHours> hours;
    private final ZoneId zone;

    public OpenTime(List<OpenHours> hours, ZoneId zone) {
        this.hours = hours;
        this.zone = zone;
    }

    /** Whether a moment is one of them. */
    public boolean contains(Instant moment) {
        return outside(moment, moment.plusMillis(1)) == 0;
    }

    /** The longest stretch of a week without changes of the clock; a whole week where they never end. */
    public Duration longest() {
        Spans week = Spans.NONE;
        for (OpenHours h : hours) {
            for (DayOfWeek day : h.days()) {
                int from = (day.getValue() - 1) * DAY + h.fromMinute();
                int length = (h.toMinute() - h.fromMinute() + DAY - 1) % DAY + 1;
                for (int w = 0; w < 2; w++) {
                    week = week.or(Spans.of(from + w * 7L * DAY, from + w * 7L * DAY + length));
                }
            }
        }
        long longest = 0;
        for (int i = 0; i < week.count(); i++) {
            longest = Math.max(longest, week.to(i) - week.from(i));
        }
        return Duration.ofMinutes(hours.isEmpty() ? 7L * DAY : Math.min(longest, 7L * DAY));
    }

    /** The stretches of {@code [from, to)} that are welcome; all of it where no hours are stated. */
    public Spans within(Instant from, Instant to) {
        Spans asked = Spans.of(from.toEpochMilli(), to.toEpochMilli());
        return hours.isEmpty() ? asked : open(from, to).and(asked);
    }

    /** Milliseconds of {@code [from, to)} outside the open hours; none where no hours are stated. */
    long outside(Instant from, Instant to) {
        if (hours.isEmpty() || !to.isAfter(from)) {
            return 0;
        }
        Spans inside = within(from, to);
        long out = to.toEpochMilli() - from.toEpochMilli();
        for (int i = 0; i < inside.count(); i++) {
            out -= inside.to(i) - inside.from(i);
        }
        return out;
    }

    private Spans open(Instant from, Instant to) {
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
        return open;
    }

    private long at(LocalDate day, int minute) {
        return ZonedDateTime.of(day.plusDays(minute / DAY), LocalTime.ofSecondOfDay(minute % DAY * 60L), zone)
                .toInstant()
                .toEpochMilli();
    }
}
