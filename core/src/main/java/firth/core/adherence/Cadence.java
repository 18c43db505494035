package firth.core.adherence;

import firth.core.cover.Availability;
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
import java.util.Arrays;
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
        cadence.measure(landings(history, availability));
        return cadence.found;
    }

    private static long[] landings(History history, Availability availability) {
        long[] out = new long[history.size() + 1];
        int n = 0;
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && availability.begun(i)) {
                long earliest = Long.MAX_VALUE;
                for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                    earliest = availability.landed(c) ? Math.min(earliest, history.landedMs(c)) : earliest;
                }
                if (earliest < Long.MAX_VALUE) {
                    out[n++] = earliest;
                }
            }
        }
        return Arrays.copyOf(out, n);
    }

    private void measure(long[] landings) {
        Optional<Long> first = firstApplies().filter(f -> f <= now);
        if (first.isEmpty()) {
            return;
        }
        long[] all = Arrays.copyOf(landings, landings.length + 1);
        all[landings.length] = first.get();
        Arrays.sort(all);
        List<Long> changes = fleet.changes(database).stream()
                .map(Instant::toEpochMilli)
                .sorted()
                .toList();
        int change = 0;
        List<Schedule> inForce = everyAt(all[0]);
        for (int i = 0; i < all.length; i++) {
            boolean moved = false;
            while (change < changes.size() && changes.get(change) <= all[i]) {
                change++;
                moved = true;
            }
            inForce = moved ? everyAt(all[i]) : inForce;
            boolean last = i + 1 == all.length;
            long to = last ? now : all[i + 1];
            for (Schedule s : inForce) {
                compare(s, all[i], to, last);
            }
        }
    }

    private void compare(Schedule s, long from, long to, boolean open) {
        long every = s.every().map(Duration::toMillis).orElse(Long.MAX_VALUE);
        long over = clock.between(from, to) - s.grace().toMillis();
        boolean inPeriod =
                from < period.to().toEpochMilli() && to > period.from().toEpochMilli();
        if (over > every && inPeriod) {
            found.add(new CadenceGap(
                    s.id(),
                    database.streams().get(0),
                    Instant.ofEpochMilli(from),
                    open ? Optional.empty() : Optional.of(Instant.ofEpochMilli(to)),
                    (over - 1) / every));
        }
    }

    /** The moment a schedule by interval first applies: in service, assigned and in force. */
    private Optional<Long> firstApplies() {
        List<Instant> moments = new ArrayList<>(fleet.changes(database));
        moments.add(database.inServiceFrom());
        return moments.stream()
                .filter(m -> !m.isBefore(database.inServiceFrom()))
                .sorted()
                .map(Instant::toEpochMilli)
                .filter(m -> !everyAt(m).isEmpty())
                .findFirst();
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
