package firth.wording;

import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Log positions as engines write them, beside the whole numbers Firth computes with (docs/engines.md). */
public final class PositionWords {

    /** How positions may be written, for whoever wrote one that is none. */
    public static final String FORMS = "a whole number from 0 to 9223372036854775807, or as an engine writes it:"
            + " \"0/1A2B3C4D\", \"binlog.000003:4711\"";

    private static final Pattern NUMBER = Pattern.compile("\\d{1,19}");
    private static final Pattern HALVES = Pattern.compile("([0-9A-Fa-f]{1,8})/([0-9A-Fa-f]{1,8})");
    private static final Pattern PLACE = Pattern.compile("[^/]*\\.(\\d{6,9}):(\\d{1,10})");
    private static final int HALF = 32;
    private static final long LOW = 0xFFFFFFFFL;
    private static final int HEX = 16;

    private PositionWords() {}

    /** In the writing of an engine, {@code 0/1A2B3C4D} or {@code .000003:4711}; the number alone for others. */
    public static String written(Optional<String> engine, long position) {
        return switch (engine.orElse("")) {
            case "postgresql" -> String.format(Locale.ROOT, "%X/%X", position >>> HALF, position & LOW);
            case "mariadb", "mysql" -> String.format(Locale.ROOT, ".%06d:%d", position >>> HALF, position & LOW);
            default -> Long.toString(position);
        };
    }

    /** In the writing of an engine with the whole number beside it; the number alone for others. */
    public static String both(Optional<String> engine, long position) {
        String written = written(engine, position);
        String number = Long.toString(position);
        return written.equals(number) ? number : written + " (" + number + ")";
    }

    /** The whole number that is meant, in whichever writing; empty where it is no position. */
    public static OptionalLong meant(String written) {
        if (NUMBER.matcher(written).matches()) {
            try {
                return OptionalLong.of(Long.parseLong(written));
            } catch (NumberFormatException tooLarge) {
                return OptionalLong.empty();
            }
        }
        Matcher halves = HALVES.matcher(written);
        if (halves.matches()) {
            return whole(Long.parseLong(halves.group(1), HEX), Long.parseLong(halves.group(2), HEX));
        }
        Matcher place = PLACE.matcher(written);
        return place.matches()
                ? whole(Long.parseLong(place.group(1)), Long.parseLong(place.group(2)))
                : OptionalLong.empty();
    }

    private static OptionalLong whole(long high, long low) {
        return high > Integer.MAX_VALUE || low > LOW ? OptionalLong.empty() : OptionalLong.of(high << HALF | low);
    }
}
