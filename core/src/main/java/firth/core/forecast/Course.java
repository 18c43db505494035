package firth.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;

/**
 * How one run went over time: how much it had read and written when it said so (docs/semantics.md, "The course of a run").
 *
 * @param started when it began, with nothing read or written
 * @param points in the order of time, none before it began
 */
public record Course(Instant started, List<Point> points) {

    /** Read ahead by more than this share of everything, what comes after reading cannot keep up. */
    private static final double AHEAD = 0.02;

    /** A stretch slower than this share of the usual rate is slow. */
    public static final double SLOW = 0.8;

    public Course {
        points = List.copyOf(points);
    }

    /** What had been read from the database and written to the store by a moment, in bytes. */
    public record Point(Instant at, double readBytes, double writtenBytes) {}

    /** The side that held a stretch back. */
    public enum Side {
        /** All that was read was written at once: more could not be read. */
        READING,
        /** More had been read than was written, while others wrote to the same store as fast as ever. */
        TRANSPORT,
        /** More had been read than was written, and others were slow to write to the same store too. */
        WRITING,
        /** More had been read than was written, and nobody else wrote to the same store then. */
        DELIVERY
    }

    /** How fast others wrote to the same store in a stretch, as a share of their usual rate; empty where none did. */
    public interface Others {
        OptionalDouble pace(Instant from, Instant to);
    }

    /**
     * A stretch between two points, or several in which one side held it back.
     *
     * @param readPerSecond bytes read a second
     * @param writtenPerSecond bytes written a second
     * @param share of the usual rate of writing; empty where none is known
     */
    public record Stretch(
            Instant from, Instant to, double readPerSecond, double writtenPerSecond, OptionalDouble share, Side side) {

        public boolean slow() {
            return share.isPresent() && share.getAsDouble() < SLOW;
        }
    }

    /**
     * Its stretches.
     *
     * @param usual bytes written a second by like runs, the median; empty where too few are known
     */
    public List<Stretch> stretches(OptionalDouble usual, Others others) {
        if (points.isEmpty()) {
            return List.of();
        }
        Point last = points.get(points.size() - 1);
        double perWritten = last.writtenBytes() > 0 ? last.readBytes() / last.writtenBytes() : 1;
        List<Stretch> out = new ArrayList<>();
        Point before = new Point(started, 0, 0);
        for (Point point : points) {
            double seconds = Duration.between(before.at, point.at).toMillis() / 1000.0;
            if (seconds > 0) {
                double ahead = ahead(before, point, perWritten);
                double written = (point.writtenBytes - before.writtenBytes) / seconds;
                out.add(new Stretch(
                        before.at,
                        point.at,
                        (point.readBytes - before.readBytes) / seconds,
                        written,
                        usual.isPresent() && usual.getAsDouble() > 0
                                ? OptionalDouble.of(written / usual.getAsDouble())
                                : OptionalDouble.empty(),
                        ahead > AHEAD * last.readBytes() ? delivery(others.pace(before.at, point.at)) : Side.READING));
                before = point;
            }
        }
        return out;
    }

    /** What had been read and not been written on the way, in bytes read: the most of the two ends. */
    private static double ahead(Point from, Point to, double perWritten) {
        return Math.max(from.readBytes - from.writtenBytes * perWritten, to.readBytes - to.writtenBytes * perWritten);
    }

    private static Side delivery(OptionalDouble pace) {
        if (pace.isEmpty()) {
            return Side.DELIVERY;
        }
        return pace.getAsDouble() < SLOW ? Side.WRITING : Side.TRANSPORT;
    }
}
