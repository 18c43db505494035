package firth.core.time;

/**
 * A database's own clock: it stands still while the database is stopped. Moments are milliseconds since the epoch
 * (docs/semantics.md, "Recovery point, age, achieved RPO").
 */
public final class RunningTime {

    private final Spans stopped;
    private final long[] stoppedBefore;

    public RunningTime(Spans stopped) {
        this.stopped = stopped;
        this.stoppedBefore = new long[stopped.count() + 1];
        for (int i = 0; i < stopped.count(); i++) {
            stoppedBefore[i + 1] =
                    stoppedBefore[i] + (stopped.to(i) == Spans.FOREVER ? 0 : stopped.to(i) - stopped.from(i));
        }
    }

    public Spans stopped() {
        return stopped;
    }

    /** Milliseconds the database ran between two moments; 0 when {@code to} is not after {@code from}. */
    public long between(long from, long to) {
        return to <= from ? 0 : to - from - (stoppedUntil(to) - stoppedUntil(from));
    }

    /** The latest moment with {@code running} milliseconds of running time between it and {@code now}. */
    public long before(long now, long running) {
        long left = running;
        long at = now;
        for (int i = countBegunBy(now) - 1; i >= 0; i--) {
            long end = Math.min(stopped.to(i), now);
            if (at - end >= left) {
                break;
            }
            left -= at - end;
            at = stopped.from(i);
        }
        return at - left;
    }

    /**
     * The earliest moment with {@code running} milliseconds of running time between {@code from} and it; {@link Spans#FOREVER} where
     * the clock never comes so far.
     */
    public long after(long from, long running) {
        long left = running;
        long at = from;
        for (int i = 0; i < stopped.count(); i++) {
            if (stopped.to(i) <= at) {
                continue;
            }
            long runs = Math.max(0, stopped.from(i) - at);
            if (runs >= left) {
                break;
            }
            left -= runs;
            at = stopped.to(i);
            if (at == Spans.FOREVER) {
                return Spans.FOREVER;
            }
        }
        return at > Spans.FOREVER - left ? Spans.FOREVER : at + left;
    }

    private long stoppedUntil(long moment) {
        int begun = countBegunBy(moment);
        return begun == 0
                ? 0
                : stoppedBefore[begun - 1] + Math.min(moment, stopped.to(begun - 1)) - stopped.from(begun - 1);
    }

    private int countBegunBy(long moment) {
        int low = 0;
        int high = stopped.count();
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (stopped.from(middle) <= moment) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
