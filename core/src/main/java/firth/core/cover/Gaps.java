package firth.core.cover;

import firth.core.fleet.Database;
import firth.core.history.History;
import firth.core.history.Run;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Finds the holes in a database's logs as of now (docs/semantics.md, "Log gaps"). */
public final class Gaps {

    /** Ids of lost logs and failed runs named per gap; the rest is counted by the cause alone. */
    private static final int NAMED = 50;

    private final Database database;
    private final History history;
    private final PositionLine line;
    private final Availability availability;
    private final HazardCover cover;
    private final long now;

    private Gaps(Database database, History history, PositionLine line, Availability availability, HazardCover cover) {
        this.database = database;
        this.history = history;
        this.line = line;
        this.availability = availability;
        this.cover = cover;
        this.now = availability.nowMs();
    }

    public static List<Gap> of(
            Database database, History history, PositionLine line, Availability availability, HazardCover mishap) {
        return new Gaps(database, history, line, availability, mishap).find();
    }

    private List<Gap> find() {
        int[] logs = line.logsByStart();
        boolean[] available = new boolean[logs.length];
        long last = -1;
        long firstLog = -1;
        for (int r = 0; r < logs.length; r++) {
            available[r] = availability.ofBackup(logs[r], Hazard.MISHAP).contains(now);
            if (available[r]) {
                firstLog = firstLog < 0 ? history.from(logs[r]) : firstLog;
                last = Math.max(last, history.to(logs[r]));
            }
        }
        if (last < 0) {
            return List.of();
        }
        List<long[]> holes = holes(Math.max(0, leastStart().orElse(firstLog)), last, logs, available);
        return holes.isEmpty() ? List.of() : describe(holes, logs, available);
    }

    private Optional<Long> leastStart() {
        long least = Long.MAX_VALUE;
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData() && history.positioned(i) && cover.usable(i)) {
                least = Math.min(least, history.start(i));
            }
        }
        return least == Long.MAX_VALUE ? Optional.empty() : Optional.of(least);
    }

    private List<long[]> holes(long from, long to, int[] logs, boolean[] available) {
        List<long[]> out = new ArrayList<>();
        long reached = from;
        for (int r = 0; r < logs.length && reached < to; r++) {
            int i = logs[r];
            if (available[r] && history.from(i) < history.to(i)) {
                if (history.from(i) > reached) {
                    out.add(new long[] {reached, history.from(i)});
                }
                reached = Math.max(reached, history.to(i));
            }
        }
        if (reached < to) {
            out.add(new long[] {reached, to});
        }
        return out;
    }

    private List<Gap> describe(List<long[]> holes, int[] logs, boolean[] available) {
        int n = holes.size();
        long[] after = new long[n];
        long[] before = new long[n];
        Arrays.fill(after, Long.MIN_VALUE);
        Arrays.fill(before, Long.MAX_VALUE);
        Lost[] lost = new Lost[n];
        for (int g = 0; g < n; g++) {
            lost[g] = new Lost();
        }
        for (int r = 0; r < logs.length; r++) {
            int i = logs[r];
            if (available[r]) {
                int firstAtOrAfterEnd = firstHole(holes, h -> h[0] >= history.to(i));
                if (firstAtOrAfterEnd < n) {
                    after[firstAtOrAfterEnd] = Math.max(after[firstAtOrAfterEnd], history.toTimeMs(i));
                }
                int lastBeforeStart = firstHole(holes, h -> h[1] > history.from(i)) - 1;
                if (lastBeforeStart >= 0) {
                    before[lastBeforeStart] = Math.min(before[lastBeforeStart], history.fromTimeMs(i));
                }
            } else {
                for (int g = firstHole(holes, h -> h[1] > history.from(i));
                        g < n && holes.get(g)[0] < history.to(i);
                        g++) {
                    lost[g].add(i);
                }
            }
        }
        for (int g = 1; g < n; g++) {
            after[g] = Math.max(after[g], after[g - 1]);
        }
        for (int g = n - 2; g >= 0; g--) {
            before[g] = Math.min(before[g], before[g + 1]);
        }
        List<Integer> data = restorableByPosition();
        List<Gap> out = new ArrayList<>();
        for (int g = 0; g < n; g++) {
            out.add(gap(holes.get(g), after[g], before[g], lost[g], data));
        }
        return out;
    }

    private Gap gap(long[] hole, long afterLog, long beforeMs, Lost lost, List<Integer> restorable) {
        Optional<Instant> after = afterLog > Long.MIN_VALUE
                ? Optional.of(Instant.ofEpochMilli(afterLog))
                : newestUsableEndingBy(hole[1]).map(Instant::ofEpochMilli);
        Optional<Instant> before =
                beforeMs < Long.MAX_VALUE ? Optional.of(Instant.ofEpochMilli(beforeMs)) : Optional.empty();
        Optional<Integer> bridge = restorable.stream()
                .filter(i -> history.to(i) >= hole[1])
                .min(Comparator.<Integer>comparingLong(history::consistentAtMs).thenComparing(history::id));
        List<String> failed = failedBetween(after, before);
        Gap.Cause cause = lost.purged
                ? Gap.Cause.PURGED
                : lost.spoiled ? Gap.Cause.SPOILED : failed.isEmpty() ? Gap.Cause.NEVER_BACKED_UP : Gap.Cause.FAILED;
        return new Gap(
                database.lineages().get(0).id(),
                database.streams().get(0),
                hole[0],
                hole[1],
                after,
                before,
                bridge.map(history::id),
                cause,
                List.copyOf(lost.ids),
                failed);
    }

    private Optional<Long> newestUsableEndingBy(long position) {
        Optional<Long> newest = Optional.empty();
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData() && history.positioned(i) && history.to(i) <= position && cover.usable(i)) {
                long at = history.consistentAtMs(i);
                newest = newest.filter(x -> x >= at).or(() -> Optional.of(at));
            }
        }
        return newest;
    }

    private List<Integer> restorableByPosition() {
        List<Integer> out = new ArrayList<>();
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData() && history.positioned(i) && cover.restorable(i)) {
                out.add(i);
            }
        }
        return out;
    }

    private List<String> failedBetween(Optional<Instant> after, Optional<Instant> before) {
        return history.failedLogRuns().stream()
                .filter(r -> r.ended().map(e -> e.toEpochMilli() <= now).orElse(true))
                .filter(r -> r.started().toEpochMilli() <= now)
                .filter(r -> after.map(a -> !r.started().isBefore(a)).orElse(true))
                .filter(r -> before.map(b -> !r.started().isAfter(b)).orElse(true))
                .map(Run::id)
                .limit(NAMED)
                .toList();
    }

    private static int firstHole(List<long[]> holes, java.util.function.Predicate<long[]> isIt) {
        int low = 0;
        int high = holes.size();
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (isIt.test(holes.get(middle))) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        return low;
    }

    /** What became of logs that held positions of a hole. */
    private final class Lost {
        private boolean purged;
        private boolean spoiled;
        private final List<String> ids = new ArrayList<>();

        private void add(int i) {
            boolean named = false;
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (availability.landed(c)) {
                    purged |= availability.gone(c);
                    spoiled |= availability.foundSpoiled(c);
                    named |= availability.gone(c) || availability.foundSpoiled(c);
                }
            }
            if (named && ids.size() < NAMED) {
                ids.add(history.id(i));
            }
        }
    }
}
