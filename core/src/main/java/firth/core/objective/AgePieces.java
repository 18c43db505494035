package firth.core.objective;

import firth.core.cover.RecoveryTimeline;
import firth.core.history.LandingAges;
import firth.core.time.RunningTime;
import firth.core.time.Spans;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The age of the recovery point over a period as pieces: in each it grows one second a second, stands still, or, where a
 * stopped database's logs are still being received, shrinks. Milliseconds throughout (docs/semantics.md, "Recovery point,
 * age, achieved RPO").
 */
public final class AgePieces {

    private final RunningTime clock;
    private final long inService;
    private final long end;

    @SuppressWarnings("NullAway.Init")
    private long[] from;

    @SuppressWarnings("NullAway.Init")
    private long[] age;

    @SuppressWarnings("NullAway.Init")
    private byte[] slope;

    private int size;

    @SuppressWarnings("NullAway.Init")
    private long[] cuts;

    private int cut;
    /** Set where each piece is a step of the recovery point as it is: the ages are then read off the steps. */
    private @Nullable RecoveryTimeline steps;

    private int firstStep;
    private long begin;
    /** Blocks of pieces: the first piece of each, the greatest age in it, once known, and what else is known beforehand. */
    private int[] blockFirst = new int[8];

    private long[] worst = new long[8];
    private @Nullable LandingAges[] known = new LandingAges[8];
    private int blocks;

    private AgePieces(RunningTime clock, long inService, long end) {
        this.clock = clock;
        this.inService = inService;
        this.end = end;
    }

    /** The pieces over {@code [from, to)}; none where that is empty. */
    public static AgePieces of(RecoveryTimeline timeline, RunningTime clock, long inService, long from, long to) {
        AgePieces out = new AgePieces(clock, inService, to);
        int step = timeline.stepAt(from);
        if (from >= to || clock.stopped().isEmpty() && timeline.onlyLooksBack()) {
            out.follow(timeline, step, from);
        } else {
            out.cut(timeline, step, from);
            out.divide(0, out.size);
        }
        return out;
    }

    /** The database never stops, and what can be restored is never ahead of the moment: the age grows from step to step. */
    private void follow(RecoveryTimeline timeline, int step, long from) {
        steps = timeline;
        firstStep = step;
        begin = from;
        size = from < end ? timeline.stepAt(end - 1) - step + 1 : 0;
        if (size > 0) {
            // The first piece is a block of its own: it may begin after its step does, or be the time before the first
            // step.
            divide(0, 1);
            timeline.eachRun(step + 1, step + size, (firstStep, endStep, ages) -> {
                if (ages == null || pointMs(firstStep - step) > timeline.latestMs(firstStep)) {
                    divide(firstStep - step, endStep - step);
                } else {
                    block(firstStep - step, ages.mostMs(), ages);
                }
            });
        }
    }

    /** Makes blocks of pieces of which nothing is known yet. */
    private void divide(int first, int after) {
        for (int i = first; i < after; i += LandingAges.ROOM) {
            block(i, Long.MAX_VALUE, null);
        }
    }

    private void block(int first, long worstMs, @Nullable LandingAges ages) {
        if (blocks == blockFirst.length) {
            blockFirst = Arrays.copyOf(blockFirst, 2 * blocks);
            worst = Arrays.copyOf(worst, 2 * blocks);
            known = Arrays.copyOf(known, 2 * blocks);
        }
        blockFirst[blocks] = first;
        worst[blocks] = worstMs;
        known[blocks++] = ages;
    }

    private void cut(RecoveryTimeline timeline, int first, long begin) {
        from = new long[64];
        age = new long[64];
        slope = new byte[64];
        cuts = new long[8];
        int step = first;
        for (long at = begin; at < end; step++) {
            long next = step + 1 < timeline.steps() ? Math.min(timeline.atMs(step + 1), end) : end;
            addStep(timeline, step, at, next);
            at = next;
        }
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

    /** Pieces read off at once, as columns. */
    static final class Block {
        /** When each begins, and, behind the last, when that ends. */
        final long[] from = new long[LandingAges.ROOM + 1];
        /** The ages where pieces begin, and just before they end. */
        final long[] age = new long[LandingAges.ROOM];

        final long[] ageAtEnd = new long[LandingAges.ROOM];
        int size;

        /** The ages added up over the time they lasted, in square milliseconds. */
        double area() {
            double twice = 0;
            for (int i = 0; i < size; i++) {
                twice += (double) (age[i] + ageAtEnd[i]) * (from[i + 1] - from[i]);
            }
            return twice / 2;
        }
    }

    /** How many blocks the pieces fill. */
    int blocks() {
        return blocks;
    }

    /** The number of a block's first piece. */
    int firstOf(int block) {
        return block < blocks ? blockFirst[block] : size;
    }

    /** What is known of a block's ages without reading it; null where nothing is. */
    LandingAges known(int block) {
        return known[block];
    }

    /** Whether a block may hold an age greater than this; known beforehand or once it was read. */
    boolean mayExceed(int block, long ageMs) {
        return worst[block] > ageMs;
    }

    /** The greatest age of all, once every block was read of which it is not known. */
    long mostMs() {
        long most = 0;
        for (int b = 0; b < blocks; b++) {
            most = Math.max(most, worst[b]);
        }
        return most;
    }

    /** Reads a block off. */
    void read(int block, Block into) {
        int first = firstOf(block);
        into.size = firstOf(block + 1) - first;
        into.from[into.size] = toMs(first + into.size - 1);
        worst[block] = steps == null ? readPieces(first, into) : readSteps(first, into);
    }

    private long readPieces(int first, Block into) {
        long most = 0;
        for (int i = 0; i < into.size; i++) {
            into.from[i] = from[first + i];
            into.age[i] = age[first + i];
            into.ageAtEnd[i] = ageAtEndMs(first + i);
            most = Math.max(most, Math.max(into.age[i], into.ageAtEnd[i]));
        }
        return most;
    }

    private long readSteps(int first, Block into) {
        long[] from = into.from;
        long[] age = into.age;
        long[] ageAtEnd = into.ageAtEnd;
        int n = into.size;
        if (first == 0) {
            from[0] = begin;
            age[0] = pointMs(0);
        } else {
            steps().read(firstStep + first, n, from, age);
        }
        long most = 0;
        long begins = from[0];
        for (int i = 0; i < n; i++) {
            long point = Math.max(age[i], inService);
            long ends = from[i + 1];
            age[i] = begins - point;
            ageAtEnd[i] = ends - point;
            most = Math.max(most, ends - point);
            begins = ends;
        }
        return most;
    }

    public int size() {
        return size;
    }

    public long fromMs(int i) {
        return steps == null ? from[i] : i == 0 ? begin : steps.atMs(firstStep + i);
    }

    public long toMs(int i) {
        return i + 1 < size ? fromMs(i + 1) : end;
    }

    public long lengthMs(int i) {
        return toMs(i) - fromMs(i);
    }

    /** The age where the piece begins. */
    public long ageMs(int i) {
        return steps == null ? age[i] : fromMs(i) - pointMs(i);
    }

    private RecoveryTimeline steps() {
        return Objects.requireNonNull(steps);
    }

    /** The recovery point in a piece that is a step; the in-service moment where nothing can be restored. */
    private long pointMs(int i) {
        return firstStep + i < 0 ? inService : Math.max(steps().latestMs(firstStep + i), inService);
    }

    /** The age just before the piece ends. */
    public long ageAtEndMs(int i) {
        return steps == null ? age[i] + slope[i] * lengthMs(i) : toMs(i) - pointMs(i);
    }

    /** By how many seconds the age changes in a second: 1, 0 or -1. */
    public int slope(int i) {
        return steps == null ? slope[i] : 1;
    }
}
