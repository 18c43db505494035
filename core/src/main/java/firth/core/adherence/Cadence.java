package firth.core.adherence;

import firth.core.cover.Availability;
import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.LongOrder;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** Compares the landings of logs with the interval promised (docs/semantics.md, "Cadence"). */
public final class Cadence {

    /** Stands for a moment that counts as a landing though no log landed. */
    private static final int NO_LOG = -1;

    private final Database database;
    private final Fleet fleet;
    private final RunningTime clock;
    private final long now;
    private final Span period;
    private final List<CadenceGap> found = new ArrayList<>();

    private Cadence(Database database, Fleet fleet, RunningTime clock, long now, Span period) {
        this.database = database;
        this.fleet = fleet;
        this.clock = clock;
        this.now = now;
        this.period = period;
    }

    /** The stretches that overlap the period in which logs came too far apart. */
    public static List<CadenceGap> of(
            Database database,
            Fleet fleet,
            History history,
            Availability availability,
            RunningTime clock,
            Span period) {
        Cadence cadence = new Cadence(database, fleet, clock, availability.nowMs(), period);
        Optional<Long> first = cadence.firstApplies().filter(f -> f <= availability.nowMs());
        for (int s = 0; s < database.streams().size() && first.isPresent(); s++) {
            Landings landings = new Landings(history, availability, s, first.get(), cadence.leastAllowedEver());
            cadence.measure(history, s, landings);
        }
        return cadence.found;
    }

    /**
     * When logs of a stream landed, each from when until when, in order; the moment it is first asked for is one. Logs that
     * behave and never came too far apart are taken as one.
     */
    private static final class Landings {
        private long[] from = new long[64];
        private long[] until = new long[64];
        private int[] row = new int[64];
        private int[] lastRow = new int[64];
        private int[] order;
        private int size;

        /** @param least the least distance that could be too far */
        Landings(History history, Availability availability, int stream, long first, long least) {
            add(first, first, NO_LOG, NO_LOG);
            Stretches stretches = history.stretches();
            for (int s = 0; s < stretches.count(); s++) {
                int begin = stretches.first(s);
                int end = availability.landedEnd(s);
                if (history.stream(begin) != stream || begin == end) {
                    continue;
                }
                if (stretches.longestPauseMs(s) <= least) {
                    add(availability.firstLandedMs(s, begin), availability.firstLandedMs(s, end - 1), begin, end - 1);
                } else {
                    for (int i = begin; i < end; i++) {
                        long landed = availability.firstLandedMs(s, i);
                        add(landed, landed, i, i);
                    }
                }
            }
            stretches.eachLoose(i -> {
                if (history.stream(i) == stream && availability.exists(i)) {
                    add(history, availability, i);
                }
            });
            order = LongOrder.of(from, size);
        }

        private void add(History history, Availability availability, int i) {
            long earliest = Long.MAX_VALUE;
            long end = Long.MAX_VALUE;
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (availability.arrived(i, c) && history.arrivesMs(i, c) < earliest) {
                    earliest = history.arrivesMs(i, c);
                    end = Math.min(history.landedMs(c), availability.nowMs());
                }
            }
            if (earliest < Long.MAX_VALUE) {
                add(earliest, end, i, i);
            }
        }

        private void add(long begin, long end, int firstLog, int lastLog) {
            if (size == from.length) {
                from = Arrays.copyOf(from, 2 * size);
                until = Arrays.copyOf(until, 2 * size);
                row = Arrays.copyOf(row, 2 * size);
                lastRow = Arrays.copyOf(lastRow, 2 * size);
            }
            from[size] = begin;
            until[size] = end;
            row[size] = firstLog;
            lastRow[size++] = lastLog;
        }

        long from(int n) {
            return from[order[n]];
        }

        long until(int n) {
            return until[order[n]];
        }

        int row(int n) {
            return row[order[n]];
        }

        int lastRow(int n) {
            return lastRow[order[n]];
        }
    }

    private void measure(History history, int stream, Landings landings) {
        long[] changes = Stream.concat(fleet.changes(database).stream(), Stream.of(database.inServiceFrom()))
                .mapToLong(Instant::toEpochMilli)
                .sorted()
                .toArray();
        int change = 0;
        long reached = landings.until(0);
        int lastLog = NO_LOG;
        Optional<PolicyVersion> inForce = askingAt(reached);
        List<Schedule> asked = inForce.map(Cadence::every).orElse(List.of());
        long least = leastAllowed(asked);
        for (int i = 0; i < landings.size; i++) {
            if (landings.until(i) >= reached) {
                reached = landings.until(i);
                lastLog = landings.lastRow(i);
            }
            if (change < changes.length && changes[change] <= reached) {
                while (change < changes.length && changes[change] <= reached) {
                    change++;
                }
                inForce = askingAt(reached);
                asked = inForce.map(Cadence::every).orElse(List.of());
                least = leastAllowed(asked);
            }
            boolean last = i + 1 == landings.size;
            long to = last ? now : landings.from(i + 1);
            if (to - reached <= least) {
                continue;
            }
            for (Schedule s : asked) {
                if (isTooFar(s, reached, to)) {
                    report(
                            history,
                            inForce.get(),
                            s,
                            new Distance(stream, reached, to, last, lastLog, last ? NO_LOG : landings.row(i + 1)));
                }
            }
        }
    }

    /** Two landings in a row, or the last and now. */
    private record Distance(int stream, long from, long to, boolean open, int lastLog, int nextLog) {}

    private static Optional<String> name(History history, int row) {
        return row == NO_LOG ? Optional.empty() : Optional.of(history.id(row));
    }

    private static long leastAllowed(List<Schedule> asked) {
        return asked.stream().mapToLong(Cadence::allowed).min().orElse(Long.MAX_VALUE);
    }

    /** The least that any version in force at some time allows. */
    private long leastAllowedEver() {
        return Stream.concat(fleet.changes(database).stream(), Stream.of(database.inServiceFrom()))
                .map(m -> askingAt(m.toEpochMilli()))
                .flatMap(Optional::stream)
                .mapToLong(v -> leastAllowed(every(v)))
                .min()
                .orElse(Long.MAX_VALUE);
    }

    private static long allowed(Schedule s) {
        return s.every().orElseThrow().toMillis() + s.grace().toMillis();
    }

    private boolean isTooFar(Schedule s, long from, long to) {
        long allowed = allowed(s);
        return to - from > allowed
                && clock.between(from, to) > allowed
                && from < period.to().toEpochMilli()
                && to > period.from().toEpochMilli();
    }

    private void report(History history, PolicyVersion version, Schedule s, Distance d) {
        long every = s.every().orElseThrow().toMillis();
        long over = clock.between(d.from, d.to) - s.grace().toMillis();
        found.add(new CadenceGap(
                version.id(),
                version.version(),
                s.id(),
                database.streams().get(d.stream),
                Instant.ofEpochMilli(d.from),
                d.open ? Optional.empty() : Optional.of(Instant.ofEpochMilli(d.to)),
                name(history, d.lastLog),
                name(history, d.nextLog),
                (over - 1) / every));
    }

    /** The moment a schedule by interval first applies: in service, assigned and in force. */
    private Optional<Long> firstApplies() {
        return Stream.concat(fleet.changes(database).stream(), Stream.of(database.inServiceFrom()))
                .sorted()
                .map(Instant::toEpochMilli)
                .filter(m -> askingAt(m).isPresent())
                .findFirst();
    }

    /** The version in force at a moment, where it asks for logs by interval. */
    private Optional<PolicyVersion> askingAt(long moment) {
        Instant at = Instant.ofEpochMilli(moment);
        if (at.isBefore(database.inServiceFrom())) {
            return Optional.empty();
        }
        return fleet.versionAt(database, at).filter(PolicyVersion::enabled).filter(v -> !every(v).isEmpty());
    }

    private static List<Schedule> every(PolicyVersion version) {
        return version.schedules().stream()
                .filter(s -> s.enabled() && s.every().isPresent())
                .toList();
    }
}
