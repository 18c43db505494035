package firth.core.adherence;

import firth.core.cover.Availability;
import firth.core.fleet.Assignment;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.Schedule;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Compares the landings of logs with the interval promised (docs/semantics.md, "Cadence"). */
public final class Cadence {

    /** Stands for a moment that counts as a landing though no log landed. */
    private static final long NO_LOG = -1;

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
            cadence.measure(history, s, landings(history, availability, s, first.get()));
        }
        return cadence.found;
    }

    /** When logs of a stream landed, each from when until when, in order; the moment it is first asked for is one. */
    private static long[][] landings(History history, Availability availability, int stream, long first) {
        List<long[]> out = new ArrayList<>();
        out.add(new long[] {first, first, NO_LOG});
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && history.stream(i) == stream && availability.begun(i)) {
                long earliest = Long.MAX_VALUE;
                long until = Long.MAX_VALUE;
                for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                    if (availability.arrived(i, c) && history.arrivesMs(i, c) < earliest) {
                        earliest = history.arrivesMs(i, c);
                        until = Math.min(history.landedMs(c), availability.nowMs());
                    }
                }
                if (earliest < Long.MAX_VALUE) {
                    out.add(new long[] {earliest, until, i});
                }
            }
        }
        out.sort(Comparator.comparingLong(l -> l[0]));
        return out.toArray(long[][]::new);
    }

    private void measure(History history, int stream, long[][] landings) {
        List<Long> changes = fleet.changes(database).stream()
                .map(Instant::toEpochMilli)
                .sorted()
                .toList();
        int change = 0;
        long reached = landings[0][1];
        long lastLog = NO_LOG;
        Optional<PolicyVersion> inForce = askingAt(reached);
        for (int i = 0; i < landings.length; i++) {
            if (landings[i][1] >= reached) {
                reached = landings[i][1];
                lastLog = landings[i][2];
            }
            boolean moved = false;
            while (change < changes.size() && changes.get(change) <= reached) {
                change++;
                moved = true;
            }
            inForce = moved ? askingAt(reached) : inForce;
            boolean last = i + 1 == landings.length;
            if (inForce.isPresent()) {
                long to = last ? now : landings[i + 1][0];
                Distance distance = new Distance(
                        stream,
                        reached,
                        to,
                        last,
                        name(history, lastLog),
                        last ? Optional.empty() : name(history, landings[i + 1][2]));
                for (Schedule s : every(inForce.get())) {
                    compare(inForce.get(), s, distance);
                }
            }
        }
    }

    /** Two landings in a row, or the last and now. */
    private record Distance(
            int stream, long from, long to, boolean open, Optional<String> lastLog, Optional<String> nextLog) {}

    private static Optional<String> name(History history, long row) {
        return row == NO_LOG ? Optional.empty() : Optional.of(history.id((int) row));
    }

    private void compare(PolicyVersion version, Schedule s, Distance d) {
        long every = s.every().map(Duration::toMillis).orElse(Long.MAX_VALUE);
        long over = clock.between(d.from, d.to) - s.grace().toMillis();
        boolean inPeriod =
                d.from < period.to().toEpochMilli() && d.to > period.from().toEpochMilli();
        if (over > every && inPeriod) {
            found.add(new CadenceGap(
                    version.id(),
                    version.version(),
                    s.id(),
                    database.streams().get(d.stream),
                    Instant.ofEpochMilli(d.from),
                    d.open ? Optional.empty() : Optional.of(Instant.ofEpochMilli(d.to)),
                    d.lastLog,
                    d.nextLog,
                    (over - 1) / every));
        }
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
