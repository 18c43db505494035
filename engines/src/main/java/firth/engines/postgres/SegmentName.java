package firth.engines.postgres;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The name of a file of the write-ahead log: timeline, then the number of the segment in two halves.
 *
 * @param partial whether it is not full: it is being received, or the server was promoted before it was
 */
record SegmentName(int timeline, long high, long low, boolean partial) {

    private static final Pattern NAME = Pattern.compile("([0-9A-F]{8})([0-9A-F]{8})([0-9A-F]{8})(\\.partial)?");

    static Optional<SegmentName> parse(String name) {
        Matcher m = NAME.matcher(name);
        if (!m.matches()) {
            return Optional.empty();
        }
        int timeline = Integer.parseUnsignedInt(m.group(1), 16);
        return timeline <= 0
                ? Optional.empty()
                : Optional.of(new SegmentName(
                        timeline, Long.parseLong(m.group(2), 16), Long.parseLong(m.group(3), 16), m.group(4) != null));
    }

    /** The position at which it begins. */
    long start(int segmentSize) {
        return (high << 32) + low * segmentSize;
    }

    /** The name of the segment that holds a position. */
    static String holding(int timeline, long position, int segmentSize) {
        long within = position & 0xFFFFFFFFL;
        return String.format(Locale.ROOT, "%08X%08X%08X", timeline, position >>> 32, within / segmentSize);
    }

    /** The same of the whole segment, as it is called once it is full. */
    String whole() {
        return String.format(Locale.ROOT, "%08X%08X%08X", timeline, high, low);
    }

    @Override
    public String toString() {
        return whole() + (partial ? ".partial" : "");
    }
}
