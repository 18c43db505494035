package firth.engines.postgres;

import java.util.Locale;

/** A log sequence number as the engine writes it, {@code 0/1A2B3C4D}: two halves of a whole number in hexadecimal digits. */
public final class Lsn {

    private static final int HALF = 32;

    private Lsn() {}

    public static String of(long position) {
        return String.format(Locale.ROOT, "%X/%X", position >>> HALF, position & 0xFFFFFFFFL);
    }

    /** @throws IllegalArgumentException where it is not written so */
    public static long parse(String written) {
        int slash = written.indexOf('/');
        try {
            if (slash > 0) {
                long high = Long.parseLong(written.substring(0, slash), 16);
                long low = Long.parseLong(written.substring(slash + 1), 16);
                if (high >= 0 && high < 1L << (HALF - 1) && low >= 0 && low < 1L << HALF) {
                    return high << HALF | low;
                }
            }
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException(written + " is no log sequence number such as 0/1A2B3C4D", e);
        }
        throw new IllegalArgumentException(written + " is no log sequence number such as 0/1A2B3C4D");
    }
}
