package firth.core.foresight;

import firth.core.DatabaseFacts;
import firth.core.adherence.Slot;
import firth.core.cover.Availability;
import firth.core.cover.Hazard;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Losses;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.PolicyVersion;
import firth.core.history.History;
import firth.core.restore.Planning;
import firth.core.restore.RestorePlan;
import firth.core.retention.Retention;
import firth.core.retention.RetentionRules;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a database's backups will take up, day by day, when every slot is kept, every backup goes as usual and what no rule
 * needs is purged each day (docs/foresight.md, "Forecast").
 *
 * @param room by store, the bytes held: first what is held now, then after each day
 * @param longestRestore the longest a restore to the latest moment will take on any of the last {@value #RESTORES} days;
 *     empty where the read rate of a store it needs is not known
 * @param misses the first run of each schedule that will not finish in a window it must finish in
 */
public record Forecast(Map<String, double[]> room, Optional<Duration> longestRestore, List<Miss> misses) {

    static final int RESTORES = 14;

    /** A run that will take longer than it may. */
    public record Miss(Slot slot, Duration expected) {}

    /** What stays the same whatever the rules: the history so far, made small, and the habits. */
    public static final class Basis {
        private final DatabaseFacts facts;
        private final Instant now;
        private final Habits habits;
        private final Compacted known;
        private final Map<String, double[]> held = new TreeMap<>();

        public Basis(DatabaseFacts facts, Fleet fleet, Instant now) {
            this.facts = facts;
            this.now = now;
            this.habits = Habits.of(facts.database(), facts.history(), now);
            Availability availability = new Availability(facts.database(), fleet, facts.history(), now.toEpochMilli());
            this.known = new Compacted(facts.database(), facts.history(), availability);
            for (int c = 0; c < facts.history().copies(); c++) {
                if (availability.copyAvailableNow(c)) {
                    double bytes = facts.history().bytes(c);
                    held.computeIfAbsent(facts.history().store(c), s -> new double[1])[0] +=
                            Double.isNaN(bytes) ? 0 : bytes;
                }
            }
        }

        private Basis(DatabaseFacts facts, Basis same) {
            this.facts = facts;
            this.now = same.now;
            this.habits = same.habits;
            this.known = same.known;
            this.held.putAll(same.held);
        }

        /** The same basis for the database under other rules. */
        public Basis as(Database database) {
            return new Basis(new DatabaseFacts(database, facts.history(), facts.holds(), facts.closures()), this);
        }

        public Habits habits() {
            return habits;
        }

        /** What lies in each store now, in bytes. */
        public Map<String, double[]> held() {
            return held;
        }
    }

    /**
     * Looks ahead.
     *
     * @param fleet with the policies as they are to be
     * @param days how many, at least 1
     */
    public static Forecast of(Basis basis, Fleet fleet, int days) {
        DatabaseFacts facts = basis.facts;
        Optional<PolicyVersion> version = fleet.versionAt(facts.database(), basis.now);
        Ahead ahead = new Ahead(facts, fleet, version, basis.habits, basis.known, basis.now);
        History history = ahead.until(days);
        Map<String, double[]> room = new TreeMap<>();
        basis.held.forEach((store, held) -> row(room, store, days)[0] = held[0]);
        DatabaseFacts then = new DatabaseFacts(facts.database(), history, facts.holds(), facts.closures());
        Optional<Duration> longest = Optional.empty();
        boolean timed = true;
        for (int day = 1; day <= days; day++) {
            Instant at = basis.now.plus(Duration.ofDays(day));
            retained(then, fleet, version, at, day, days, room);
            if (day > days - RESTORES && timed) {
                Optional<RestorePlan.Way> way = new Planning(then, fleet, at, Hazard.MISHAP, Losses.NONE).newestWay();
                timed = way.map(RestorePlan.Way::timeKnown).orElse(true);
                Optional<Duration> takes = way.map(RestorePlan.Way::time);
                longest = longest.filter(l -> takes.isEmpty() || l.compareTo(takes.get()) >= 0)
                        .or(() -> takes);
            }
        }
        return new Forecast(room, timed ? longest : Optional.empty(), List.copyOf(ahead.misses()));
    }

    private static double[] row(Map<String, double[]> room, String store, int days) {
        return room.computeIfAbsent(store, s -> new double[days + 1]);
    }

    private static void retained(
            DatabaseFacts facts,
            Fleet fleet,
            Optional<PolicyVersion> version,
            Instant at,
            int day,
            int days,
            Map<String, double[]> room) {
        History history = facts.history();
        Availability availability = new Availability(facts.database(), fleet, history, at.toEpochMilli());
        HazardCover cover = HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP);
        Retention kept = RetentionRules.judge(
                facts.database(), history, availability, cover, facts.database().clock(), version, facts.holds());
        for (int k = 0; k < kept.size(); k++) {
            if (kept.verdict(k) == Verdict.NEEDED && !Double.isNaN(kept.bytes(k))) {
                row(room, kept.store(k), days)[day] += kept.bytes(k);
            }
        }
    }
}
