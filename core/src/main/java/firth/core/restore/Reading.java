package firth.core.restore;

import firth.core.cover.Availability;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalDouble;

/** From which copy each backup of a database is read, and how long that takes. */
final class Reading {

    /** How long a backup takes whose size or rate is not known. */
    static final long UNKNOWN = -1;

    private final Database database;
    private final History history;
    private final Availability availability;
    private final Hazard hazard;

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

    /** How the copy is known that is read. */
    Evidence evidence(int i) {
        return history.evidence(fastestCopy(i));
    }

    Step step(int i) {
        int copy = fastestCopy(i);
        double bytes = history.bytes(copy);
        long own = timeMs(i, copy);
        return new Step(
                history.kind(i),
                history.id(i),
                history.store(copy),
                database.lineages().get(history.lineage(i)).id(),
                history.kind(i) == Kind.LOG ? Optional.of(database.streams().get(history.stream(i))) : Optional.empty(),
                Double.isNaN(bytes) ? OptionalDouble.empty() : OptionalDouble.of(bytes),
                own == UNKNOWN ? Optional.empty() : Optional.of(Duration.ofMillis(own)));
    }

    /** Up to when a log was received: its end where all of it is there. */
    long receivedUntilMs(int log) {
        return isWhole(log) ? history.toTimeMs(log) : availability.nowMs() - history.lagMs(log);
    }

    boolean isWhole(int i) {
        return availability.availableNow(i, hazard);
    }

    /** How long a backup takes in milliseconds, {@link #UNKNOWN} where that cannot be told. */
    long timeMs(int i) {
        return timeMs(i, fastestCopy(i));
    }

    private long timeMs(int i, int copy) {
        double bytes = history.bytes(copy);
        OptionalDouble read = rate(copy);
        boolean log = history.kind(i) == Kind.LOG;
        if (Double.isNaN(bytes)
                || read.isEmpty()
                || log && database.replayBytesPerSecond().isEmpty()) {
            return UNKNOWN;
        }
        double seconds = bytes / read.getAsDouble()
                + (log ? bytes / database.replayBytesPerSecond().getAsDouble() : 0);
        return Math.round(seconds * 1000);
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
                    ? availability.exists(i) && availability.ofCopy(c, hazard).contains(availability.nowMs())
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
