package firth.runner;

import java.util.OptionalDouble;
import java.util.function.LongSupplier;
import java.util.function.Supplier;

/** Holds whoever copies back to so many bytes a second. */
final class Throttle {

    /** What was not used for so long is not made up for. */
    private static final long WINDOW_NS = 1_000_000_000L;

    /** Waits. */
    interface Waiting {
        void sleep(long nanos) throws InterruptedException;
    }

    static final Throttle NONE = new Throttle(OptionalDouble::empty);

    private final Supplier<OptionalDouble> most;
    private final LongSupplier nanos;
    private final Waiting waiting;
    /** Until when what was copied so far ought to take. */
    private long until = Long.MIN_VALUE;

    /** @param most bytes a second, asked for again and again */
    Throttle(Supplier<OptionalDouble> most) {
        this(most, System::nanoTime, n -> Thread.sleep(n / 1_000_000, (int) (n % 1_000_000)));
    }

    Throttle(Supplier<OptionalDouble> most, LongSupplier nanos, Waiting waiting) {
        this.most = most;
        this.nanos = nanos;
        this.waiting = waiting;
    }

    /** Whether there is a limit now. */
    boolean holds() {
        return most.get().isPresent();
    }

    /** So much was copied; comes back when more may be. */
    void copied(long bytes) throws InterruptedException {
        OptionalDouble limit = most.get();
        long now = nanos.getAsLong();
        if (limit.isEmpty()) {
            until = now;
            return;
        }
        until = Math.max(until == Long.MIN_VALUE ? now : until, now - WINDOW_NS)
                + (long) (bytes / limit.getAsDouble() * 1e9);
        if (until > now) {
            waiting.sleep(until - now);
        }
    }
}
