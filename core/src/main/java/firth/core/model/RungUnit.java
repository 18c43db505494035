package firth.core.model;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.time.temporal.TemporalAdjusters;

/** A calendar unit of which the first full is kept. */
public enum RungUnit implements Worded {
    DAY(ChronoUnit.DAYS),
    WEEK(ChronoUnit.WEEKS),
    MONTH(ChronoUnit.MONTHS),
    YEAR(ChronoUnit.YEARS);

    private final ChronoUnit unit;

    RungUnit(ChronoUnit unit) {
        this.unit = unit;
    }

    /** A number that two local times share exactly when they fall in the same unit (weeks are ISO weeks). */
    public long of(ZonedDateTime local) {
        return switch (this) {
            case DAY -> local.toLocalDate().toEpochDay();
            case WEEK -> local.get(IsoFields.WEEK_BASED_YEAR) * 100L + local.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR);
            case MONTH -> local.getYear() * 12L + local.getMonthValue();
            case YEAR -> local.getYear();
        };
    }

    /** How many days a unit has at the least. */
    public int days() {
        return switch (this) {
            case DAY -> 1;
            case WEEK -> 7;
            case MONTH -> 28;
            case YEAR -> 365;
        };
    }

    /** The first day of the unit a day falls in. */
    public LocalDate begin(LocalDate day) {
        return switch (this) {
            case DAY -> day;
            case WEEK -> day.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
            case MONTH -> day.withDayOfMonth(1);
            case YEAR -> day.withDayOfYear(1);
        };
    }

    /** The first day of the unit after the one that begins on a day. */
    public LocalDate next(LocalDate begin) {
        return begin.plus(1, unit);
    }

    /** The same local clock time {@code count} units earlier, the day clamped to the month's end; the first of a time that occurs twice. */
    public ZonedDateTime before(ZonedDateTime local, long count) {
        return local.minus(count, unit).withEarlierOffsetAtOverlap();
    }
}
