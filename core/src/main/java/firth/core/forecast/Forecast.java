package firth.core.forecast;

import firth.core.adherence.Slot;
import firth.core.cover.Availability;
import firth.core.cover.Losses;
import firth.core.cover.Piece;
import firth.core.evaluation.Reach;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a database's backups will take up, day by day, when every slot is kept, every backup goes as usual and what no rule
 * needs is purged each day (docs/forecast.md, "Forecast").
 *
 * @param room by store, the bytes held: first what is held now, then after each day
 * @param obsolete by store, the bytes that become obsolete on each day; the first value is 0
 * @param longestRestore the longest a restore to the latest moment will take on any of the last {@value #RESTORES} days;
 *     empty where the read rate of a store it needs is not known
 * @param reach how far back every moment can be restored at the end of the time looked ahead
 * @param misses the first run of each schedule that will not finish in a window it must finish in
 */
public record Forecast(
        Map<String, double[]> room,
        Map<String, double[]> obsolete,
        Optional<Duration> longestRestore,
        Optional<Reach> reach,
        List<Miss> misses) {

    static final int RESTORES = 14;

    /** A run that will take longer than it may. */
    public record Miss(Slot slot, Duration expected) {}

    /** What stays the same whatever the rules: the history so far, made small, and the habits. */
    public static final class Basis {
        private final DatabaseFacts facts;
        private final Instant now;
        private final Habits habits;
        private final Compacted known;
        private final AsBefore before;
        private final Map<String, double[]> held = new TreeMap<>();

        /** @param fleet with the policies as they have been */
        public Basis(DatabaseFacts facts, Fleet fleet, Instant now) {
            this.facts = facts;
            this.now = now;
            this.habits = Habits.of(facts.database(), facts.history(), now);
            this.before = new AsBefore(facts, fleet, habits, now);
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
            this.before = same.before;
            this.held.putAll(same.held);
        }

        /** The same basis for the database under other rules. */
        public Basis as(Database database) {
            return new Basis(new DatabaseFacts(database, facts.history(), facts.holds(), facts.closures()), this);
        }

        public Habits habits() {
            return habits;
        }

        Database database() {
            return facts.database();
        }

        Instant now() {
            return now;
        }

        /** How its backups have gone. */
        AsBefore before() {
            return before;
        }

        /** Writes the backups to come into the history. */
        Ahead ahead(Fleet fleet, Luck luck) {
            return new Ahead(facts, fleet, fleet.versionAt(facts.database(), now), habits, known, luck, now);
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
        Ahead ahead = basis.ahead(fleet, Luck.AS_PLANNED);
        History history = ahead.until(basis.now.plus(Duration.ofDays(days)));
        Restores restores = new Restores(fleet, days);
        Retaining retaining = new Retaining(facts, fleet, version, history, basis.now, days);
        Map<String, double[]> room = retaining.walk(restores::look);
        basis.held.forEach((store, held) -> room.computeIfAbsent(store, s -> new double[days + 1])[0] = held[0]);
        return new Forecast(
                room,
                retaining.obsolete(),
                restores.longest(),
                Optional.of(reach(basis, version, retaining.restorableAtLast(), days)),
                List.copyOf(ahead.misses()));
    }

    private static Reach reach(Basis basis, Optional<PolicyVersion> version, List<Piece> restorable, int days) {
        return Reach.of(
                version.filter(PolicyVersion::enabled)
                        .flatMap(v -> v.objective().reach()),
                restorable,
                restorable.stream().map(Piece::to).max(Comparator.naturalOrder()),
                true,
                basis.database(),
                basis.now.plus(Duration.ofDays(days)));
    }

    /** How long restores to the newest moment will take at the end of the time looked ahead. */
    private static final class Restores {
        private final Fleet fleet;
        private final int from;
        private boolean timed = true;
        private Optional<Duration> longest = Optional.empty();

        Restores(Fleet fleet, int days) {
            this.fleet = fleet;
            this.from = days - RESTORES;
        }

        void look(DatabaseFacts facts, Instant at, int day) {
            if (day > from && timed) {
                Optional<Way> way = new Planning(facts, fleet, at, Hazard.MISHAP, Losses.NONE).newestWay();
                timed = way.map(Way::timeKnown).orElse(true);
                Optional<Duration> takes = way.map(Way::time);
                longest = longest.filter(l -> takes.isEmpty() || l.compareTo(takes.get()) >= 0)
                        .or(() -> takes);
            }
        }

        Optional<Duration> longest() {
            return timed ? longest : Optional.empty();
        }
    }
}
