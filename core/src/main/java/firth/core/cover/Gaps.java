package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.model.Database;
import firth.core.model.Hazard;
import firth.core.model.Run;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/** Finds the holes in a database's logs as of now, per lineage and stream (docs/semantics.md, "Log gaps"). */
public final class Gaps {

    /** Ids of lost logs and failed runs named per gap; the rest is counted by the cause alone. */
    private static final int NAMED = 50;

    private final Database database;
    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final Availability availability;
    private final HazardCover cover;
    private final Hazard hazard;
    private final long now;

    private Gaps(Database database, History history, Availability availability, HazardCover cover, Hazard hazard) {
        this.database = database;
        this.history = history;
        this.lines = cover.lines();
        this.lineages = lines.lineages();
        this.availability = availability;
        this.cover = cover;
        this.hazard = hazard;
        this.now = availability.nowMs();
    }

    /** @param cover what the hazard leaves of the same availability */
    public static List<Gap> of(
            Database database, History history, Availability availability, HazardCover cover, Hazard hazard) {
        Gaps gaps = new Gaps(database, history, availability, cover, hazard);
        List<Gap> out = new ArrayList<>();
        for (int l = 0; l < gaps.lineages.count(); l++) {
            for (int s = 0; s < gaps.lines.streams(); s++) {
                gaps.find(l, s, out);
            }
        }
        return out;
    }

    private void find(int lineage, int stream, List<Gap> out) {
        Left left = new Left(lines.line(lineage, stream));
        if (left.last < 0) {
            return;
        }
        List<long[]> holes = holes(required(lineage, stream, left.firstLog), left);
        if (!holes.isEmpty()) {
            describe(lineage, stream, holes, left, out);
        }
    }

    /**
     * Logs that follow each other and are there now, or the part of one that another lineage lends.
     *
     * @param first their first row, {@link #LENT} where they are lent
     */
    private record There(long from, long to, int first, int last) {}

    private static final int LENT = -1;

    /** Which rows of each block of a line are there now: those that came and did not go, which lie next to each other. */
    private final class Left {
        private final PositionLine line;
        private final int[] low;
        private final int[] high;
        private final List<There> there = new ArrayList<>();
        private long last = -1;
        private long firstLog = -1;

        Left(PositionLine line) {
            this.line = line;
            low = new int[line.blocks()];
            high = new int[line.blocks()];
            for (int b = 0; b < low.length; b++) {
                Availability.Rows rows = availability.partsNow(line.first(b), line.end(b), hazard);
                low[b] = rows.first();
                high[b] = rows.end();
                if (low[b] < high[b]) {
                    add(history.logFrom(low[b]), history.logTo(high[b] - 1), low[b], high[b] - 1);
                }
            }
            int own = there.size();
            line.eachLent((log, end) -> {
                if (availability.partAvailableNow(log, hazard)) {
                    add(history.logFrom(log), end, LENT, LENT);
                }
            });
            if (there.size() > own) {
                there.sort(Comparator.comparingLong(There::from));
            }
        }

        private void add(long from, long to, int firstRow, int lastRow) {
            there.add(new There(from, to, firstRow, lastRow));
            firstLog = firstLog < 0 ? from : Math.min(firstLog, from);
            last = Math.max(last, to);
        }

        /** Calls with each block that is there in part: its first row there and its last. */
        void each(BlockAction action) {
            there.stream().filter(t -> t.first != LENT).forEach(t -> action.accept(t.first, t.last));
        }

        /** Calls with the rows that are not there, block by block. */
        void eachLost(BlockAction action) {
            for (int b = 0; b < low.length; b++) {
                int lostBefore = Math.min(low[b], high[b]) - 1;
                if (line.first(b) <= lostBefore) {
                    action.accept(line.first(b), lostBefore);
                }
                int lostFrom = low[b] < high[b] ? high[b] : lostBefore + 1;
                if (lostFrom < line.end(b)) {
                    action.accept(lostFrom, line.end(b) - 1);
                }
            }
            line.eachLent((log, end) -> {
                if (!availability.partAvailableNow(log, hazard)) {
                    action.accept(log, log);
                }
            });
        }
    }

    /** Called with the first and the last of rows that follow each other. */
    private interface BlockAction {
        void accept(int first, int last);
    }

    /** The position from which on logs are required. */
    private long required(int lineage, int stream, long firstLog) {
        long fork = lineages.isChild(lineage) ? lineages.fork(lineage, stream) : Lineages.UNKNOWN;
        if (lineages.isChild(lineage) && carriedInto(lineage)) {
            return fork;
        }
        long least = Long.MAX_VALUE;
        for (int i : lines.dataByAge(lineage)) {
            if (history.positioned(i, stream) && cover.usable(i)) {
                least = Math.min(least, history.start(i, stream));
            }
        }
        if (least < Long.MAX_VALUE) {
            return Math.max(least, fork);
        }
        return fork >= 0 ? fork : firstLog;
    }

    private boolean carriedInto(int lineage) {
        for (int at = lineages.parent(lineage); at >= 0; at = lineages.parent(at)) {
            for (int i : lines.dataByAge(at)) {
                if (cover.leadsInto(i, lineage) && cover.restorable(i)) {
                    return true;
                }
            }
        }
        return false;
    }

    private List<long[]> holes(long from, Left left) {
        List<long[]> out = new ArrayList<>();
        long[] reached = {from};
        left.there.forEach(t -> {
            if (t.from < t.to && reached[0] < left.last) {
                if (t.from > reached[0]) {
                    out.add(new long[] {reached[0], t.from});
                }
                reached[0] = Math.max(reached[0], t.to);
            }
        });
        if (reached[0] < left.last) {
            out.add(new long[] {reached[0], left.last});
        }
        return out;
    }

    private void describe(int lineage, int stream, List<long[]> holes, Left left, List<Gap> out) {
        int n = holes.size();
        long[] after = new long[n];
        long[] before = new long[n];
        Arrays.fill(after, Long.MIN_VALUE);
        Arrays.fill(before, Long.MAX_VALUE);
        Lost[] lost = new Lost[n];
        for (int g = 0; g < n; g++) {
            lost[g] = new Lost();
        }
        left.each((first, last) -> bounds(holes, first, last, after, before));
        left.eachLost((first, last) -> {
            long end = left.line.to(last);
            for (int g = firstHole(holes, h -> h[1] > history.logFrom(first)); g < n && holes.get(g)[0] < end; g++) {
                long[] hole = holes.get(g);
                int row = Stretches.firstWhere(first, last, i -> history.logTo(i) > hole[0]);
                for (; row <= last && history.logFrom(row) < hole[1] && lost[g].wants(); row++) {
                    lost[g].add(row);
                }
            }
        });
        for (int g = 1; g < n; g++) {
            after[g] = Math.max(after[g], after[g - 1]);
        }
        for (int g = n - 2; g >= 0; g--) {
            before[g] = Math.min(before[g], before[g + 1]);
        }
        Bridges bridges = new Bridges(lineage, stream);
        FailedRuns failed = new FailedRuns();
        for (int g = 0; g < n; g++) {
            long[] hole = holes.get(g);
            Optional<Instant> from = after[g] > Long.MIN_VALUE
                    ? Optional.of(Instant.ofEpochMilli(after[g]))
                    : newestUsableEndingBy(lineage, stream, hole[1]).map(Instant::ofEpochMilli);
            Optional<Instant> to =
                    before[g] < Long.MAX_VALUE ? Optional.of(Instant.ofEpochMilli(before[g])) : Optional.empty();
            List<String> runs = failed.between(from, to);
            out.add(new Gap(
                    lineages.id(lineage),
                    database.streams().get(stream),
                    hole[0],
                    hole[1],
                    from,
                    to,
                    bridges.first(hole[1]),
                    lost[g].cause(runs),
                    List.copyOf(lost[g].ids),
                    runs));
        }
    }

    /** Moves what each hole lies after and before by rows that are there, which follow each other and reach ever later. */
    private void bounds(List<long[]> holes, int first, int last, long[] after, long[] before) {
        int one = firstHole(holes, h -> h[0] >= history.logTo(first));
        for (int g = one; g < holes.size(); g++) {
            long end = holes.get(g)[0];
            int by = Stretches.firstWhere(first, last + 1, i -> history.logTo(i) > end) - 1;
            after[g] = Math.max(after[g], history.toTimeMs(by));
            if (by == last) {
                break;
            }
        }
        for (int g = firstHole(holes, h -> h[1] > history.logFrom(last)) - 1; g >= 0; g--) {
            long begin = holes.get(g)[1];
            int from = Stretches.firstWhere(first, last, i -> history.logFrom(i) >= begin);
            before[g] = Math.min(before[g], history.fromTimeMs(from));
            if (from == first) {
                break;
            }
        }
    }

    private Optional<Long> newestUsableEndingBy(int lineage, int stream, long position) {
        int[] data = lines.dataByAge(lineage);
        for (int o = data.length - 1; o >= 0; o--) {
            int i = data[o];
            if (history.positioned(i, stream) && history.to(i, stream) <= position && cover.usable(i)) {
                return Optional.of(history.consistentAtMs(i));
            }
        }
        return Optional.empty();
    }

    private static int firstHole(List<long[]> holes, Predicate<long[]> isIt) {
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

    /** The restorable data backups that may begin cover again, by where they end, each with the oldest that ends no earlier. */
    private final class Bridges {
        private final long[] ends;
        private final int[] oldest;

        Bridges(int lineage, int stream) {
            Comparator<Integer> byAge =
                    Comparator.<Integer>comparingLong(history::consistentAtMs).thenComparing(history::compareIds);
            List<Integer> found = new ArrayList<>();
            for (int l = lineage; l < lineages.count(); l++) {
                if (lineages.isKnown(l) && lineages.descends(l, lineage)) {
                    for (int i : lines.dataByAge(l)) {
                        if (history.positioned(i, stream) && cover.restorable(i)) {
                            found.add(i);
                        }
                    }
                }
            }
            found.sort(Comparator.comparingLong(i -> history.to(i, stream)));
            ends = found.stream().mapToLong(i -> history.to(i, stream)).toArray();
            oldest = new int[ends.length];
            for (int f = ends.length - 1; f >= 0; f--) {
                boolean older = f == ends.length - 1 || byAge.compare(found.get(f), oldest[f + 1]) < 0;
                oldest[f] = older ? found.get(f) : oldest[f + 1];
            }
        }

        Optional<String> first(long end) {
            int at = Arrays.binarySearch(ends, end);
            int from = at < 0 ? -at - 1 : at;
            while (from > 0 && ends[from - 1] >= end) {
                from--;
            }
            return from == ends.length ? Optional.empty() : Optional.of(history.id(oldest[from]));
        }
    }

    /** The failed log runs that had ended by now, in the order they started. */
    private final class FailedRuns {
        private final List<Run> runs = history.failedLogRuns().stream()
                .filter(r -> r.ended().map(e -> e.toEpochMilli() <= now).orElse(true))
                .filter(r -> r.started().toEpochMilli() <= now)
                .toList();

        List<String> between(Optional<Instant> after, Optional<Instant> before) {
            int low = 0;
            int high = after.isPresent() ? runs.size() : 0;
            while (low < high) {
                int middle = (low + high) >>> 1;
                if (runs.get(middle).started().isBefore(after.get())) {
                    low = middle + 1;
                } else {
                    high = middle;
                }
            }
            return runs.subList(low, runs.size()).stream()
                    .takeWhile(r -> before.map(b -> !r.started().isAfter(b)).orElse(true))
                    .map(Run::id)
                    .limit(NAMED)
                    .toList();
        }
    }

    /** What became of logs that held positions of a hole. */
    private final class Lost {
        private boolean purged;
        private boolean spoiled;
        private final List<String> ids = new ArrayList<>();

        /** Whether more logs could change what is said. */
        boolean wants() {
            return !purged || ids.size() < NAMED;
        }

        /** One in which nothing happened leaves no hole. */
        private void add(int i) {
            boolean named = false;
            for (int c = history.firstCopy(i);
                    c < history.firstCopy(i + 1) && history.logFrom(i) < history.logTo(i);
                    c++) {
                if (availability.arrived(i, c)) {
                    purged |= availability.gone(c);
                    spoiled |= availability.foundSpoiled(c);
                    named |= availability.gone(c) || availability.foundSpoiled(c);
                }
            }
            if (named && ids.size() < NAMED) {
                ids.add(history.id(i));
            }
        }

        private Gap.Cause cause(List<String> failedRuns) {
            if (purged) {
                return Gap.Cause.PURGED;
            }
            if (spoiled) {
                return Gap.Cause.SPOILED;
            }
            return failedRuns.isEmpty() ? Gap.Cause.NEVER_BACKED_UP : Gap.Cause.FAILED;
        }
    }
}
