package firth.core.restore;

import firth.core.cover.Availability;
import firth.core.cover.Hazard;
import firth.core.fleet.BackupStore;
import firth.core.fleet.Database;
import firth.core.history.History;
import firth.core.history.Kind;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;

/** Gathers the steps of one way back, each from the fastest copy that is left, and adds up their time. */
final class Reading {

    private final Database database;
    private final History history;
    private final Availability availability;
    private final Hazard hazard;
    private final List<Step> steps = new ArrayList<>();
    private final Set<Integer> taken = new HashSet<>();
    private Duration time = Duration.ZERO;
    private boolean timeKnown = true;

    Reading(Database database, History history, Availability availability, Hazard hazard) {
        this.database = database;
        this.history = history;
        this.availability = availability;
        this.hazard = hazard;
    }

    /** Whether a copy of a backup is left, or, of a log still being received, a part. */
    boolean hasCopy(int i) {
        return fastestCopy(i) >= 0;
    }

    void add(int i) {
        if (!taken.add(i)) {
            return;
        }
        int copy = fastestCopy(i);
        double bytes = history.bytes(copy);
        Optional<Duration> own = time(i, copy);
        steps.add(new Step(
                history.kind(i),
                history.id(i),
                history.store(copy),
                database.lineages().get(history.lineage(i)).id(),
                history.kind(i) == Kind.LOG ? Optional.of(database.streams().get(history.stream(i))) : Optional.empty(),
                Double.isNaN(bytes) ? OptionalDouble.empty() : OptionalDouble.of(bytes),
                own));
        time = time.plus(own.orElse(Duration.ZERO));
        timeKnown &= own.isPresent();
    }

    RestorePlan.Way way(String tip, String lineage) {
        return new RestorePlan.Way(tip, lineage, List.copyOf(steps), time, timeKnown);
    }

    /** Up to when a log was received: its end where all of it is there. */
    long receivedUntilMs(int log) {
        return isWhole(log) ? history.toTimeMs(log) : availability.nowMs() - history.lagMs(log);
    }

    boolean isWhole(int i) {
        return availability.availableNow(i, hazard);
    }

    /** How long a backup takes; endless where that is not known. */
    double seconds(int i) {
        return time(i, fastestCopy(i)).map(Duration::toMillis).orElse(Long.MAX_VALUE) / 1000.0;
    }

    private Optional<Duration> time(int i, int copy) {
        double bytes = history.bytes(copy);
        OptionalDouble read = rate(copy);
        boolean log = history.kind(i) == Kind.LOG;
        if (Double.isNaN(bytes)
                || read.isEmpty()
                || log && database.replayBytesPerSecond().isEmpty()) {
            return Optional.empty();
        }
        double seconds = bytes / read.getAsDouble()
                + (log ? bytes / database.replayBytesPerSecond().getAsDouble() : 0);
        return Optional.of(Duration.ofMillis(Math.round(seconds * 1000)));
    }

    private OptionalDouble rate(int copy) {
        return availability.store(copy).map(BackupStore::readBytesPerSecond).orElse(OptionalDouble.empty());
    }

    /**
     * The copy that is read in the least time, a whole one where there is one; of equals the one in the store with the
     * least id; -1 where none is left.
     */
    private int fastestCopy(int i) {
        boolean whole = isWhole(i);
        int best = -1;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            boolean left = whole
                    ? availability.begun(i) && availability.ofCopy(c, hazard).contains(availability.nowMs())
                    : availability.copyIsLeft(i, c, hazard);
            if (left && (best < 0 || faster(c, best))) {
                best = c;
            }
        }
        return best;
    }

    private boolean faster(int one, int other) {
        int byTime = Double.compare(readSeconds(one), readSeconds(other));
        return byTime < 0 || byTime == 0 && history.store(one).compareTo(history.store(other)) < 0;
    }

    private double readSeconds(int copy) {
        OptionalDouble rate = rate(copy);
        double bytes = Double.isNaN(history.bytes(copy)) ? 1 : history.bytes(copy);
        return rate.isPresent() ? bytes / rate.getAsDouble() : Double.MAX_VALUE;
    }
}
