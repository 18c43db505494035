package firth.exchange;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Instants and durations as the exchange writes them. */
public final class Texts {

    static final Instant EARLIEST = Instant.parse("1970-01-01T00:00:00Z");
    static final Instant LATEST = Instant.parse("2200-01-01T00:00:00Z");

    private static final long SECONDS_A_DAY = 86_400;

    private static final Pattern RFC3339 =
            Pattern.compile("\\d{4}-\\d\\d-\\d\\d[Tt ]\\d\\d:\\d\\d:\\d\\d(\\.\\d{1,9})?([Zz]|[+-]\\d\\d:\\d\\d)");
    private static final Pattern DAYS_AND_MORE =
            Pattern.compile("(-?)P(?:(\\d+)Y)?(?:(\\d+)M)?(?:(\\d+)W)?(?:(\\d+)D)?(T.+)?");
    /** What each of the leading groups is worth: never less than the calendar's, so that nothing promised falls short. */
    private static final int[] DAYS = {366, 31, 7, 1};

    private Texts() {}

    /** An RFC 3339 instant, held to the millisecond; finer digits are cut off. */
    public static Optional<Instant> instant(String text) {
        return exactInstant(text).map(t -> t.truncatedTo(ChronoUnit.MILLIS));
    }

    /** An RFC 3339 instant with all of its digits, as an engine is told it. */
    static Optional<Instant> exactInstant(String text) {
        try {
            if (isPlain(text)) {
                return Optional.of(plain(text));
            }
            if (text.length() >= 20 && !isTimeOfDay(text)) {
                return Optional.empty();
            }
            if (text.length() >= 20 && text.charAt(4) == '-' && text.endsWith("Z")) {
                return Optional.of(Instant.parse(text));
            }
            if (!RFC3339.matcher(text).matches()) {
                return Optional.empty();
            }
            return Optional.of(OffsetDateTime.parse(text.replace(' ', 'T'), DateTimeFormatter.ISO_OFFSET_DATE_TIME)
                    .toInstant());
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** The usual writing, to the second in UTC: most of what a fleet file has, so it is read without a formatter. */
    private static final String PLAIN = "0000-00-00T00:00:00Z";

    private static boolean isPlain(String text) {
        if (text.length() != PLAIN.length()) {
            return false;
        }
        for (int i = 0; i < PLAIN.length(); i++) {
            char c = text.charAt(i);
            if (PLAIN.charAt(i) == '0' ? c < '0' || c > '9' : c != PLAIN.charAt(i)) {
                return false;
            }
        }
        return true;
    }

    /** @throws DateTimeException where there is no such day or time of day */
    private static Instant plain(String text) {
        long day = LocalDate.of(digits(text, 0, 4), digits(text, 5, 7), digits(text, 8, 10))
                .toEpochDay();
        int second = LocalTime.of(digits(text, 11, 13), digits(text, 14, 16), digits(text, 17, 19))
                .toSecondOfDay();
        return Instant.ofEpochSecond(day * SECONDS_A_DAY + second);
    }

    private static int digits(String text, int from, int to) {
        return Integer.parseInt(text, from, to, 10);
    }

    /** A leap second and the end of a day as 24:00 name no moment of their own. */
    private static boolean isTimeOfDay(String text) {
        return !text.startsWith("24", 11) && !text.startsWith("60", 17);
    }

    /** An ISO 8601 duration; a day has 24 h, a week 7 days, a month 31 and a year 366. */
    public static Optional<Duration> duration(String text) {
        Matcher m = DAYS_AND_MORE.matcher(text);
        if (!m.matches() || text.endsWith("P")) {
            return Optional.empty();
        }
        try {
            long days = 0;
            for (int unit = 0; unit < DAYS.length; unit++) {
                days = Math.addExact(days, Math.multiplyExact(DAYS[unit], number(m.group(unit + 2))));
            }
            Duration d = Duration.ofDays(days);
            if (m.group(6) != null) {
                d = d.plus(Duration.parse("P" + m.group(6)));
            }
            long unused = d.toMillis();
            return Optional.of(m.group(1).isEmpty() ? d : d.negated());
        } catch (DateTimeException | ArithmeticException | NumberFormatException e) {
            return Optional.empty();
        }
    }

    private static long number(String digits) {
        return digits == null ? 0 : Long.parseLong(digits);
    }
}
