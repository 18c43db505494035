package firth.core.objective;

import firth.core.cover.RecoveryTimeline;
import firth.core.time.RunningTime;
import java.util.Arrays;

/**
 * The age of the recovery point over a period as pieces: in each it either grows one second a second or stands still.
 * Milliseconds throughout (docs/semantics.md, "Recovery point, age, achieved RPO").
 */
public final class AgePieces {

    private long[] from = new long[64];
    private long[] age = new long[64];
    private boolean[] grows = new boolean[64];
    private int size;
    private final long end;

    private AgePieces(long end) {
        this.end = end;
    }

    /** The pieces over {@code [from, to)}; none where that is empty. */
    public static AgePieces of(RecoveryTimeline timeline, RunningTime clock, long inService, long from, long to) {
        AgePieces out = new AgePieces(to);
        long[] cuts = cuts(timeline, clock, from, to);
        int step = timeline.stepAt(from);
        for (int c = 0; c < cuts.length && from < to; c++) {
            long at = cuts[c];
            while (step + 1 < timeline.steps() && timeline.atMs(step + 1) <= at) {
                step++;
            }
            long latest = step < 0 ? RecoveryTimeline.NOTHING : timeline.latestMs(step);
            out.add(
                    at,
                    ageAt(at, latest, clock, inService),
                    latest <= at && !clock.stopped().contains(at));
        }
        return out;
    }

    /** The age at one moment, given the latest instant restorable then. */
    public static long ageAt(long at, long latest, RunningTime clock, long inService) {
        long point = Math.min(latest, at);
        return clock.between(point < inService ? inService : point, at);
    }

    private static long[] cuts(RecoveryTimeline timeline, RunningTime clock, long from, long to) {
        long[] found = new long[2 * timeline.steps() + 2 * clock.stopped().count() + 1];
        int n = 0;
        found[n++] = from;
        for (int s = Math.max(0, timeline.stepAt(from)); s < timeline.steps() && timeline.atMs(s) < to; s++) {
            found[n++] = timeline.atMs(s);
            found[n++] = timeline.latestMs(s);
        }
        for (int s = 0; s < clock.stopped().count(); s++) {
            found[n++] = clock.stopped().from(s);
            found[n++] = clock.stopped().to(s);
        }
        Arrays.sort(found, 0, n);
        int kept = 0;
        for (int i = 0; i < n; i++) {
            if (found[i] >= from && found[i] < to && (kept == 0 || found[kept - 1] != found[i])) {
                found[kept++] = found[i];
            }
        }
        return Arrays.copyOf(found, kept);
    }

    private void add(long at, long ageMs, boolean isGrowing) {
        if (size == from.length) {
            from = Arrays.copyOf(from, 2 * size);
            age = Arrays.copyOf(age, 2 * size);
            grows = Arrays.copyOf(grows, 2 * size);
        }
        from[size] = at;
        age[size] = ageMs;
        grows[size++] = isGrowing;
    }

    public int size() {
        return size;
    }

    public long fromMs(int i) {
        return from[i];
    }

    public long toMs(int i) {
        return i + 1 < size ? from[i + 1] : end;
    }

    public long lengthMs(int i) {
        return toMs(i) - from[i];
    }

    /** The age where the piece begins. */
    public long ageMs(int i) {
        return age[i];
    }

    /** The age just before the piece ends. */
    public long ageAtEndMs(int i) {
        return grows[i] ? age[i] + lengthMs(i) : age[i];
    }

    public boolean grows(int i) {
        return grows[i];
    }
}
