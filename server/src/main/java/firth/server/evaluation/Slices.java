package firth.server.evaluation;

import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;

/**
 * A period cut where every other of its length is cut, too, so that moments at which something changed stay where they are while the
 * period moves on. The first and the last slice end with the period.
 *
 * @param ms how long a slice is
 * @param first the number of the first slice, counted from the epoch
 * @param count how many there are, one more than asked for where the period begins inside one
 */
public record Slices(Span period, long ms, long first, int count) {

    /** @param least no slice is shorter, so that there may be fewer of them */
    public static Slices of(Span period, int most, Duration least) {
        long ms = Math.max(least.toMillis(), period.length().toMillis() / most);
        long first = Math.floorDiv(period.from().toEpochMilli(), ms);
        long end = Math.floorDiv(period.to().toEpochMilli() - 1, ms) + 1;
        return new Slices(period, ms, first, (int) Math.max(0, end - first));
    }

    /** The first slice that a stretch from a moment on touches, {@link #count} where that lies after the period. */
    public int begin(Instant from) {
        return clamped(Math.floorDiv(from.toEpochMilli(), ms) - first);
    }

    /** The slice after the last that a stretch up to a moment touches, 0 where that lies before the period. */
    public int end(Instant to) {
        return clamped(Math.floorDiv(to.toEpochMilli() - 1, ms) - first + 1);
    }

    private int clamped(long slice) {
        return (int) Math.max(0, Math.min(count, slice));
    }

    public Instant from(int slice) {
        Instant at = Instant.ofEpochMilli((first + slice) * ms);
        return at.isBefore(period.from()) ? period.from() : at;
    }

    public Instant to(int slice) {
        Instant at = Instant.ofEpochMilli((first + slice + 1) * ms);
        return at.isAfter(period.to()) ? period.to() : at;
    }
}
