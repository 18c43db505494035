package firth.engines.mariadb;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A place in the binary logs, {@code binlog.000003:4711}.
 *
 * @param base the name of the logs
 * @param file the number of the file
 * @param offset in bytes from its beginning
 */
public record Coordinate(String base, long file, long offset) {

    private static final Pattern NAME = Pattern.compile("(.+)\\.(\\d{6,})");
    private static final int OFFSET_BITS = 32;
    private static final long LARGEST_FILE = 1L << 31;

    /** Places in a file are below this; the engine writes them in as many bits. */
    static final long LARGEST_PLACE = (1L << OFFSET_BITS) - 1;

    public Coordinate {
        if (file < 0 || file >= LARGEST_FILE || offset < 0 || offset >= 1L << OFFSET_BITS) {
            throw new IllegalArgumentException("no place in a binary log: file " + file + ", offset " + offset);
        }
    }

    /** The beginning of a file, where its name is that of a binary log. */
    public static Optional<Coordinate> ofFile(String name) {
        Matcher m = NAME.matcher(name);
        return m.matches() && m.group(2).length() < 10
                ? Optional.of(new Coordinate(m.group(1), Long.parseLong(m.group(2)), 0))
                : Optional.empty();
    }

    Coordinate at(long place) {
        return new Coordinate(base, file, place);
    }

    /** The whole number Firth computes with: greater the later in the logs. */
    public long position() {
        return file << OFFSET_BITS | offset;
    }

    /** The position at which the next file begins. */
    long nextFile() {
        return file + 1 << OFFSET_BITS;
    }

    /** The place a whole number stands for in logs of a name. */
    public static Coordinate of(String base, long position) {
        return new Coordinate(base, position >>> OFFSET_BITS, position & (1L << OFFSET_BITS) - 1);
    }

    /** The name of the file. */
    public String name() {
        return String.format(Locale.ROOT, "%s.%06d", base, file);
    }

    @Override
    public String toString() {
        return name() + ":" + offset;
    }
}
