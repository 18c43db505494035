package firth.core.forecast;

import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Kind;
import java.time.Duration;
import java.util.Arrays;

/** What the logs of a database have lately been like, over the last week in which there were any. */
public final class LogHabit {

    private final History history;
    private final int[] newest;
    private final double bytesPerMs;
    private final double[] positionsPerMs;
    private final long[] lastTo;
    private final long[] lastToTime;
    private final boolean streamed;

    private LogHabit(History history, int streams, int[] newest) {
        this.history = history;
        this.newest = newest;
        this.positionsPerMs = new double[streams];
        this.lastTo = new long[streams];
        this.lastToTime = new long[streams];
        Arrays.fill(lastTo, -1);
        this.streamed = newest.length > 0 && Arrays.stream(newest).allMatch(history::streamed);
        double bytes = 0;
        for (int s = 0; s < streams; s++) {
            bytes += measure(s);
        }
        this.bytesPerMs = bytes;
    }

    /** Looks at the logs of the newest lineage that ended within {@code spanMs} of the newest of them. */
    static LogHabit of(Database database, History history, long now, long spanMs) {
        int lineage = -1;
        long last = Long.MIN_VALUE;
        for (int i = 0; i < history.size(); i++) {
            if (counts(history, i, now)) {
                lineage = Math.max(lineage, history.lineage(i));
            }
        }
        for (int i = 0; i < history.size(); i++) {
            if (counts(history, i, now) && history.lineage(i) == lineage) {
                last = Math.max(last, history.toTimeMs(i));
            }
        }
        int[] rows = new int[64];
        int n = 0;
        for (int i = 0; i < history.size(); i++) {
            if (counts(history, i, now) && history.lineage(i) == lineage && history.toTimeMs(i) >= last - spanMs) {
                rows = n == rows.length ? Arrays.copyOf(rows, 2 * n) : rows;
                rows[n++] = i;
            }
        }
        return new LogHabit(history, database.streams().size(), Arrays.copyOf(rows, n));
    }

    private static boolean counts(History history, int i, long now) {
        return history.kind(i) == Kind.LOG && history.endedMs(i) <= now && history.toTimeMs(i) <= now;
    }

    /** Notes rate and end of a stream; gives bytes a millisecond. */
    private double measure(int stream) {
        long low = Long.MAX_VALUE;
        long from = Long.MAX_VALUE;
        double bytes = 0;
        for (int i : newest) {
            if (history.stream(i) == stream) {
                low = Math.min(low, history.logFrom(i));
                from = Math.min(from, history.fromTimeMs(i));
                bytes += Habits.bytes(history, i);
                if (history.logTo(i) >= lastTo[stream]) {
                    lastTo[stream] = history.logTo(i);
                    lastToTime[stream] = Math.max(lastToTime[stream], history.toTimeMs(i));
                }
            }
        }
        long time = lastTo[stream] < 0 ? 0 : lastToTime[stream] - from;
        positionsPerMs[stream] = time <= 0 ? 0 : (double) (lastTo[stream] - low) / time;
        return time <= 0 ? 0 : bytes / time;
    }

    /** Whether there is any log to go by. */
    public boolean known() {
        return newest.length > 0;
    }

    /** Whether they come continuously rather than at an interval. */
    public boolean streamed() {
        return streamed;
    }

    /** How many milliseconds behind they were received; 0 where they were not received as they were written. */
    long lag() {
        return Math.round(Trend.median(Arrays.stream(newest)
                .filter(history::streamed)
                .mapToDouble(history::lagMs)
                .toArray()));
    }

    /** The rows looked at. */
    int[] newest() {
        return newest;
    }

    /** Bytes of log a millisecond, all streams together; 0 where not known. */
    public double bytesPerMs() {
        return bytesPerMs;
    }

    /** The furthest position of a stream, -1 where none is known. */
    public long lastTo(int stream) {
        return lastTo[stream];
    }

    /** The position a stream will have reached if it goes on as it has, -1 where none is known. */
    public long positionAt(int stream, long atMs) {
        return lastTo[stream] < 0
                ? -1
                : lastTo[stream] + Math.round(positionsPerMs[stream] * Math.max(0, atMs - lastToTime[stream]));
    }

    /** When the last log of a stream ended. */
    public long lastToTimeMs(int stream) {
        return lastToTime[stream];
    }

    /** Which lineage they are of, 0 where there are none. */
    public int lineage() {
        return newest.length == 0 ? 0 : history.lineage(newest[0]);
    }

    /** How long after its end a log usually first lies anywhere; zero where there are none. */
    public Duration delay() {
        double[] delays = Arrays.stream(newest)
                .filter(i -> history.firstCopy(i) < history.firstCopy(i + 1))
                .mapToDouble(i -> {
                    long first = Long.MAX_VALUE;
                    for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                        first = Math.min(first, history.landedMs(c));
                    }
                    return Math.max(0, first - history.toTimeMs(i));
                })
                .toArray();
        return Duration.ofMillis(Math.round(Trend.median(delays)));
    }
}
