package firth.core.objective;

import firth.core.cover.RecoveryTimeline;
import firth.core.time.RunningTime;
import firth.core.time.Spans;
import java.util.Arrays;

/**
 * The age of the recovery point over a period as pieces: in each it grows one second a second, stands still, or, where a
 * stopped database's logs are still being received, shrinks. Milliseconds throughout (docs/semantics.md, "Recovery point,
 * age, achieved RPO").
 */
public final class AgePieces {

    private final RunningTime clock;
    private final long inService;
    private final long end;
    private long[] from = new long[64];
    private long[] age = new long[64];
    private byte[] slope = new byte[64];
    private int size;
    private long[] cuts = new long[8];
    private int cut;

    private AgePieces(RunningTime clock, long inService, long end) {
        this.clock = clock;
        this.inService = inService;
        this.end = end;
    }

    /** The pieces over {@code [from, to)}; none where that is empty. */
    public static AgePieces of(RecoveryTimeline timeline, RunningTime clock, long inService, long from, long to) {
        AgePieces out = new AgePieces(clock, inService, to);
        int step = timeline.stepAt(from);
        for (long at = from; at < to; step++) {
            long next = step + 1 < timeline.steps() ? Math.min(timeline.atMs(step + 1), to) : to;
            out.addStep(timeline, step, at, next);
            at = next;
        }
        return out;
    }

    /** Adds the pieces of one step of the recovery point, or of the time before the first. */
    private void addStep(RecoveryTimeline timeline, int step, long from, long to) {
        boolean flows = step >= 0 && timeline.flows(step);
        cut = 0;
        cutAt(from, from, to);
        Spans stopped = clock.stopped();
        for (int s = stopped.firstEndingAfter(from); s < stopped.count() && stopped.from(s) < to; s++) {
            cutAt(stopped.from(s), from, to);
            cutAt(stopped.to(s), from, to);
        }
        if (flows) {
            long lag = timeline.lagMs(step);
            for (int s = stopped.firstEndingAfter(from - lag); s < stopped.count() && stopped.from(s) + lag < to; s++) {
                cutAt(stopped.from(s) + lag, from, to);
                if (stopped.to(s) != Spans.FOREVER) {
                    cutAt(stopped.to(s) + lag, from, to);
                }
            }
        } else if (step >= 0) {
            cutAt(timeline.latestMs(step, from), from, to);
        }
        if (cut > 1) {
            Arrays.sort(cuts, 0, cut);
        }
        for (int c = 0; c < cut; c++) {
            if (c == 0 || cuts[c] != cuts[c - 1]) {
                addPiece(timeline, step, flows, cuts[c]);
            }
        }
    }

    private void cutAt(long moment, long from, long to) {
        if (moment >= from && moment < to) {
            if (cut == cuts.length) {
                cuts = Arrays.copyOf(cuts, 2 * cut);
            }
            cuts[cut++] = moment;
        }
    }

    private void addPiece(RecoveryTimeline timeline, int step, boolean flows, long at) {
        long latest = step < 0 ? RecoveryTimeline.NOTHING : timeline.latestMs(step, at);
        int grows = latest <= at && !clock.stopped().contains(at) ? 1 : 0;
        if (flows && latest >= inService && !clock.stopped().contains(latest)) {
            grows--;
        }
        if (size == from.length) {
            from = Arrays.copyOf(from, 2 * size);
            age = Arrays.copyOf(age, 2 * size);
            slope = Arrays.copyOf(slope, 2 * size);
        }
        from[size] = at;
        age[size] = ageAt(at, latest, clock, inService);
        slope[size++] = (byte) grows;
    }

    /** The age at one moment, given the latest instant restorable then. */
    public static long ageAt(long at, long latest, RunningTime clock, long inService) {
        long point = Math.min(latest, at);
        return clock.between(point < inService ? inService : point, at);
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
        return age[i] + slope[i] * lengthMs(i);
    }

    /** By how many seconds the age changes in a second: 1, 0 or -1. */
    public int slope(int i) {
        return slope[i];
    }
}
