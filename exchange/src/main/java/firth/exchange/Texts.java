package firth.exchange;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
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

    private static final Pattern RFC3339 =
            Pattern.compile("\\d{4}-\\d\\d-\\d\\d[Tt ]\\d\\d:\\d\\d:\\d\\d(\\.\\d{1,9})?([Zz]|[+-]\\d\\d:\\d\\d)");
    private static final Pattern WEEKS_AND_DAYS = Pattern.compile("(-?)P(?:(\\d+)W)?(?:(\\d+)D)?(T.+)?");

    private Texts() {}

    /** An RFC 3339 instant, held to the millisecond; finer digits are cut off. */
    public static Optional<Instant> instant(String text) {
        try {
            if (text.length() >= 20 && text.charAt(4) == '-' && text.endsWith("Z")) {
                return Optional.of(Instant.parse(text).truncatedTo(ChronoUnit.MILLIS));
            }
            if (!RFC3339.matcher(text).matches()) {
                return Optional.empty();
            }
            return Optional.of(OffsetDateTime.parse(text.replace(' ', 'T'), DateTimeFormatter.ISO_OFFSET_DATE_TIME)
                    .toInstant()
                    .truncatedTo(ChronoUnit.MILLIS));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** An ISO 8601 duration without months and years; a day has 24 h, a week 7 days. */
    public static Optional<Duration> duration(String text) {
        Matcher m = WEEKS_AND_DAYS.matcher(text);
        if (!m.matches() || m.group(2) == null && m.group(3) == null && m.group(4) == null) {
            return Optional.empty();
        }
        try {
            Duration d = Duration.ofDays(Math.addExact(Math.multiplyExact(7, number(m.group(2))), number(m.group(3))));
            if (m.group(4) != null) {
                d = d.plus(Duration.parse("P" + m.group(4)));
            }
            d.toMillis();
            return Optional.of(m.group(1).isEmpty() ? d : d.negated());
        } catch (DateTimeException | ArithmeticException | NumberFormatException e) {
            return Optional.empty();
        }
    }

    private static long number(String digits) {
        return digits == null ? 0 : Long.parseLong(digits);
    }
}
