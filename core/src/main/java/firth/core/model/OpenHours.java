package firth.core.model;

import java.time.DayOfWeek;
import java.util.Set;

/**
 * Weekly local hours in which running backups are welcome, as minutes of the day; {@code toMinute <= fromMinute} ends
 * the next day, 1440 is midnight at the end of the day.
 */
public record OpenHours(Set<DayOfWeek> days, int fromMinute, int toMinute) {
    public OpenHours {
        days = Set.copyOf(days);
    }
}
