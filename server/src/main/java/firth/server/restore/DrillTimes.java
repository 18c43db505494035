package firth.server.restore;

import firth.core.cover.Losses;
import firth.core.history.DatabaseFacts;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** How long drills of a database took against what was to be expected when they began. */
public final class DrillTimes {

    /** So many of the newest say how much longer or shorter restores are than computed. */
    private static final int COUNTED = 3;

    private final Snapshot snapshot;
    private final DatabaseFacts facts;
    private final Fleet fleet;

    DrillTimes(Snapshot snapshot, DatabaseFacts facts, Fleet fleet) {
        this.snapshot = snapshot;
        this.facts = facts;
        this.fleet = fleet;
    }

    /**
     * The newest drill that proves something.
     *
     * @param factor the median of how much longer the newest took than computed; absent where none can be compared
     */
    record Proof(Drill drill, Optional<Duration> took, Optional<Duration> expected, Optional<Double> factor) {}

    /** Drills of the database that had ended by a moment, the newest first. */
    static List<Drill> by(Snapshot snapshot, String database, Instant moment) {
        return snapshot.documents("drill").stream()
                .map(text -> (Drill) FleetFileReader.recordOf(text))
                .filter(d -> d.database().equals(database)
                        && d.at().filter(at -> !at.isAfter(moment)).isPresent())
                .sorted(Comparator.comparing((Drill d) -> d.at().orElseThrow())
                        .reversed()
                        .thenComparing(Drill::id))
                .toList();
    }

    Optional<Proof> newest(Instant moment) {
        List<Drill> proving = by(snapshot, facts.database().id(), moment).stream()
                .filter(Drill::proves)
                .toList();
        return proving.stream().findFirst().map(d -> new Proof(d, took(d), expected(d), factor(proving)));
    }

    private Optional<Double> factor(List<Drill> proving) {
        List<Double> factors = proving.stream()
                .limit(COUNTED)
                .flatMap(d -> expected(d).filter(x -> !x.isZero()).stream()
                        .flatMap(x -> took(d).map(t -> t.toMillis() / (double) x.toMillis()).stream()))
                .sorted()
                .toList();
        return factors.isEmpty() ? Optional.empty() : Optional.of(factors.get(factors.size() / 2));
    }

    public static Optional<Duration> took(Drill d) {
        return d.started().flatMap(s -> d.ended().map(e -> Duration.between(s, e)));
    }

    private Optional<Duration> expected(Drill d) {
        return expected(d, facts, fleet);
    }

    /** What the plan for its moment came to when it began: by the backup it was restored from, where that was told. */
    public static Optional<Duration> expected(Drill d, DatabaseFacts facts, Fleet fleet) {
        return plan(d, facts, fleet).filter(Way::timeKnown).map(Way::time);
    }

    /** The way a drill is taken to have gone. */
    public static Optional<Way> plan(Drill d, DatabaseFacts facts, Fleet fleet) {
        Optional<Instant> moment = d.moment().or(d::reached);
        Optional<Instant> begun = d.started().or(d::at);
        if (moment.isEmpty() || begun.isEmpty()) {
            return Optional.empty();
        }
        return new Planning(facts, fleet, begun.get(), Hazard.MISHAP, Losses.NONE)
                .to(moment.get()).ways().stream()
                        .filter(w -> d.backup().filter(b -> !b.equals(w.tip())).isEmpty())
                        .findFirst();
    }
}
