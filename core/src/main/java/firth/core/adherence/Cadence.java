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
            cadence.measure(s, landings(history, availability, s, first.get()));
        }
        return cadence.found;
    }

    /** When logs of a stream landed, each from when until when, in order; the moment it is first asked for is one. */
    private static long[][] landings(History history, Availability availability, int stream, long first) {
        List<long[]> out = new ArrayList<>();
        out.add(new long[] {first, first});
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
                    out.add(new long[] {earliest, until});
                }
            }
        }
        out.sort(Comparator.comparingLong(l -> l[0]));
        return out.toArray(long[][]::new);
    }

    private void measure(int stream, long[][] landings) {
        List<Long> changes = fleet.changes(database).stream()
                .map(Instant::toEpochMilli)
                .sorted()
                .toList();
        int change = 0;
        long reached = landings[0][1];
        List<Schedule> inForce = everyAt(reached);
        for (int i = 0; i < landings.length; i++) {
            reached = Math.max(reached, landings[i][1]);
            boolean moved = false;
            while (change < changes.size() && changes.get(change) <= reached) {
                change++;
                moved = true;
            }
            inForce = moved ? everyAt(reached) : inForce;
            boolean last = i + 1 == landings.length;
            for (Schedule s : inForce) {
                compare(stream, s, reached, last ? now : landings[i + 1][0], last);
            }
        }
    }

    private void compare(int stream, Schedule s, long from, long to, boolean open) {
        long every = s.every().map(Duration::toMillis).orElse(Long.MAX_VALUE);
        long over = clock.between(from, to) - s.grace().toMillis();
        boolean inPeriod =
                from < period.to().toEpochMilli() && to > period.from().toEpochMilli();
        if (over > every && inPeriod) {
            found.add(new CadenceGap(
                    s.id(),
                    database.streams().get(stream),
                    Instant.ofEpochMilli(from),
                    open ? Optional.empty() : Optional.of(Instant.ofEpochMilli(to)),
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
                .filter(m -> !everyAt(m).isEmpty())
                .findFirst();
    }

    private boolean takesEffect(Instant moment) {
        return fleet.versionAt(database, moment)
                .filter(v -> v.effectiveFrom().equals(moment))
                .isPresent();
    }

    private List<Schedule> everyAt(long moment) {
        Instant at = Instant.ofEpochMilli(moment);
        if (at.isBefore(database.inServiceFrom())) {
            return List.of();
        }
        return fleet
                .versionAt(database, at)
                .filter(PolicyVersion::enabled)
                .map(PolicyVersion::schedules)
                .orElse(List.of())
                .stream()
                .filter(s -> s.enabled() && s.every().isPresent())
                .toList();
    }
}
