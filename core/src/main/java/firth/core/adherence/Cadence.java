package firth.core.adherence;

import firth.core.cover.Availability;
import firth.core.fleet.Assignment;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.Schedule;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.time.LongOrder;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

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
            cadence.measure(history, s, new Landings(history, availability, s, first.get()));
        }
        return cadence.found;
    }

    /** When logs of a stream landed, each from when until when, in order; the moment it is first asked for is one. */
    private static final class Landings {
        private long[] from;
        private long[] until;
        private int[] row;
        private int size;

        Landings(History history, Availability availability, int stream, long first) {
            from = new long[history.size() + 1];
            until = new long[history.size() + 1];
            row = new int[history.size() + 1];
            add(first, first, NO_LOG);
            for (int i = 0; i < history.size(); i++) {
                if (history.kind(i) == Kind.LOG && history.stream(i) == stream && availability.begun(i)) {
                    add(history, availability, i);
                }
            }
            sort();
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
                add(earliest, end, i);
            }
        }

        private void add(long begin, long end, int log) {
            from[size] = begin;
            until[size] = end;
            row[size++] = log;
        }

        private void sort() {
            int[] order = LongOrder.of(from, size);
            long[] sortedFrom = new long[size];
            long[] sortedUntil = new long[size];
            int[] sortedRow = new int[size];
            for (int n = 0; n < size; n++) {
                sortedFrom[n] = from[order[n]];
                sortedUntil[n] = until[order[n]];
                sortedRow[n] = row[order[n]];
            }
            from = sortedFrom;
            until = sortedUntil;
            row = sortedRow;
        }
    }

    private void measure(History history, int stream, Landings landings) {
        long[] changes = fleet.changes(database).stream()
                .mapToLong(Instant::toEpochMilli)
                .sorted()
                .toArray();
        int change = 0;
        long reached = landings.until[0];
        int lastLog = NO_LOG;
        Optional<PolicyVersion> inForce = askingAt(reached);
        List<Schedule> asked = inForce.map(Cadence::every).orElse(List.of());
        for (int i = 0; i < landings.size; i++) {
            if (landings.until[i] >= reached) {
                reached = landings.until[i];
                lastLog = landings.row[i];
            }
            if (change < changes.length && changes[change] <= reached) {
                while (change < changes.length && changes[change] <= reached) {
                    change++;
                }
                inForce = askingAt(reached);
                asked = inForce.map(Cadence::every).orElse(List.of());
            }
            boolean last = i + 1 == landings.size;
            long to = last ? now : landings.from[i + 1];
            for (Schedule s : asked) {
                if (isTooFar(s, reached, to)) {
                    report(
                            history,
                            inForce.get(),
                            s,
                            new Distance(stream, reached, to, last, lastLog, last ? NO_LOG : landings.row[i + 1]));
                }
            }
        }
    }

    /** Two landings in a row, or the last and now. */
    private record Distance(int stream, long from, long to, boolean open, int lastLog, int nextLog) {}

    private static Optional<String> name(History history, int row) {
        return row == NO_LOG ? Optional.empty() : Optional.of(history.id(row));
    }

    private boolean isTooFar(Schedule s, long from, long to) {
        long allowed = s.every().orElseThrow().toMillis() + s.grace().toMillis();
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

    /**
     * The moment a schedule by interval first applies: in service, assigned and in force. A later change of assignment
     * alone counts for none.
     */
    private Optional<Long> firstApplies() {
        Instant begin = database.assigned().stream()
                .map(Assignment::from)
                .min(Comparator.naturalOrder())
                .filter(database.inServiceFrom()::isBefore)
                .orElse(database.inServiceFrom());
        List<Instant> moments = new ArrayList<>(fleet.changes(database));
        moments.add(begin);
        return moments.stream()
                .filter(m -> !m.isBefore(begin) && (m.equals(begin) || takesEffect(m)))
                .sorted()
                .map(Instant::toEpochMilli)
                .filter(m -> askingAt(m).isPresent())
                .findFirst();
    }

    private boolean takesEffect(Instant moment) {
        return fleet.versionAt(database, moment)
                .filter(v -> v.effectiveFrom().equals(moment))
                .isPresent();
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
