package firth.server.evaluation;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Moments;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Standbys;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Evaluations of the fleet, kept for as long as what they depend on stays the same: the facts of the database, the
 * records shared by the fleet, the moment and the period. An answer about the present stands until the next moment at which
 * time alone changes it, so that it may be as of a moment a little earlier than was asked for (docs/decisions/09-what-is-drawn-is-kept.md).
 */
@ApplicationScoped
public class Evaluations {

    private static final int KEPT = 600;
    private static final int VIEWS = 6;

    private final FactsHolder facts;
    private final Map<String, Loaded> histories = new ConcurrentHashMap<>();
    private final Map<Key, Kept> answers = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, Kept> eldest) {
            return size() > KEPT;
        }
    };
    private @Nullable Shared shared;

    public Evaluations(FactsHolder facts) {
        this.facts = facts;
    }

    private record Shared(long change, FleetNow fleet) {}

    /** A database's facts as they were read; put into columns only while they are looked at. */
    private record Loaded(long change, long sharedChange, Supplier<History> history) {}

    private record Key(String database, long change, long sharedChange, Object view) {}

    /** An answer about the present is looked at anew after so long: its figures over a period slide. */
    private static final Duration FRESH = Duration.ofMinutes(20);

    /** The same where it says in words how old something is. */
    private static final Duration SAYING = Duration.ofMinutes(1);

    /** An answer, and up to when it stands. */
    private record Kept(Evaluation answer, Instant until) {

        boolean standsAt(Instant moment) {
            return !moment.isBefore(answer.asOf()) && moment.isBefore(until);
        }
    }

    /** The answers of a fleet, with the records they rest on. */
    public record Fleetwide(FleetNow fleet, List<Evaluation> answers) {

        /** The facts an answer was worked out from. */
        public DatabaseFacts facts(Evaluation answer) {
            String id = answer.database().id();
            return new DatabaseFacts(answer.database(), answer.history(), fleet.holds(id), fleet.closures());
        }
    }

    /** Every database by id but standbys, which are part of their primaries. */
    public Fleetwide all(Lookout.View view) {
        return those(d -> true, view);
    }

    /** What was drawn from the answers of one view under a name; forgotten when another few views were asked for since. */
    private record Drawn(String what, Object view) {}

    /** Drawn from a database's answer while its facts and the shared records had changed so often. */
    private record Picture(long change, long sharedChange, Instant from, Instant until, Object of) {

        boolean stands(Loaded loaded, Instant moment) {
            return change == loaded.change
                    && sharedChange == loaded.sharedChange
                    && !moment.isBefore(from)
                    && moment.isBefore(until);
        }
    }

    private final Map<Drawn, Map<String, Picture>> drawn = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Drawn, Map<String, Picture>> eldest) {
            return size() > VIEWS;
        }
    };

    /** Makes something of an answer. */
    public interface Drawing<T> {
        T of(FleetNow fleet, Evaluation answer);
    }

    /**
     * Something small of the answer of every database by id but standbys, kept where answers of a large fleet are not.
     *
     * @param what a name for it: of one name all are of one type
     */
    public <T> List<T> each(Lookout.View view, String what, Drawing<T> drawing) {
        Map<String, Picture> known;
        synchronized (drawn) {
            known = drawn.computeIfAbsent(new Drawn(what, view.kept()), d -> new ConcurrentHashMap<>());
        }
        Read read = read(d -> true);
        return read.databases.parallelStream()
                .map(one -> {
                    Database d = one.database;
                    Loaded loaded = one.loaded;
                    Picture picture = known.compute(
                            d.id(),
                            (id, before) -> before != null && before.stands(loaded, view.asOf())
                                    ? before
                                    : picture(read.fleet, d, loaded, view, drawing));
                    @SuppressWarnings("unchecked")
                    T found = (T) picture.of;
                    return found;
                })
                .toList();
    }

    private <T> Picture picture(FleetNow fleet, Database d, Loaded loaded, Lookout.View view, Drawing<T> drawing) {
        Kept answer = standing(fleet, d, loaded, view);
        return new Picture(
                loaded.change,
                loaded.sharedChange,
                answer.answer.asOf(),
                answer.until,
                drawing.of(fleet, answer.answer));
    }

    /** Makes something of a database's facts alone. */
    public interface FromFacts<T> {
        T of(FleetNow fleet, DatabaseFacts facts);
    }

    /**
     * Something of the facts of every database, without evaluating them: where other questions are asked than answers give.
     * Not kept; standbys are part of their primaries.
     */
    public <T> List<T> ofFacts(FromFacts<T> making) {
        return ofFacts(Set.of(), making);
    }

    /** The same of some databases alone; a standby's is its primary's. Without names: of all. */
    public <T> List<T> ofFacts(Set<String> names, FromFacts<T> making) {
        Set<String> primaries;
        try (Snapshot snapshot = facts.store().read()) {
            Standbys standbys = fleet(snapshot).standbys();
            primaries = names.stream().map(standbys::primaryOf).collect(Collectors.toSet());
        }
        Read read = read(d -> names.isEmpty() || primaries.contains(d.id()));
        return read.databases.parallelStream()
                .map(d -> making.of(
                        read.fleet,
                        new DatabaseFacts(
                                d.database,
                                d.loaded.history.get(),
                                read.fleet.holds(d.database.id()),
                                read.fleet.closures())))
                .toList();
    }

    /** Some databases by id. */
    public Fleetwide those(Predicate<Database> wanted, Lookout.View view) {
        Read read = read(wanted);
        return new Fleetwide(
                read.fleet,
                read.databases.parallelStream()
                        .map(d -> answer(read.fleet, d.database, d.loaded, view))
                        .toList());
    }

    /**
     * Those that are wanted, worked out for this once and not kept: whoever acts judges by the clock, and no two moments are alike.
     */
    public Fleetwide once(Predicate<Database> wanted, Lookout.View view) {
        Read read = read(wanted);
        return new Fleetwide(
                read.fleet,
                read.databases.parallelStream()
                        .map(d -> evaluate(read.fleet, d.database, d.loaded.history.get(), view))
                        .toList());
    }

    /** Those of some names; a standby's is its primary's, one nobody knows is nobody's. */
    public Fleetwide some(Set<String> names, Lookout.View view) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = fleet(snapshot);
            Set<String> primaries =
                    names.stream().map(n -> fleet.standbys().primaryOf(n)).collect(Collectors.toSet());
            return those(d -> primaries.contains(d.id()), view);
        }
    }

    /** Databases with their facts as one view of the file had them, and the records of that same view. */
    private record Read(FleetNow fleet, List<One> databases) {}

    private record One(Database database, Loaded loaded) {}

    /** Reads the facts of some databases, standbys being part of their primaries; those known already are not read again. */
    private Read read(Predicate<Database> wanted) {
        try (Snapshot snapshot = facts.store().read()) {
            Map<String, Long> changes = snapshot.changes();
            FleetNow fleet = fleet(snapshot, changes.getOrDefault("", 0L));
            return new Read(
                    fleet,
                    fleet.databases().values().stream()
                            .filter(d -> !fleet.standbys().isStandby(d.id()))
                            .filter(wanted)
                            .map(d -> new One(d, load(snapshot, changes, fleet, d)))
                            .toList());
        }
    }

    /** One database. */
    public Fleetwide one(String id, Lookout.View view) {
        try (Snapshot snapshot = facts.store().read()) {
            Map<String, Long> changes = snapshot.changes();
            FleetNow fleet = fleet(snapshot, changes.getOrDefault("", 0L));
            Database database = fleet.database(id).orElseThrow(() -> new NotFound("There is no database " + id + "."));
            String primary = fleet.standbys().primaryOf(id);
            if (!primary.equals(id)) {
                throw new NotFound(id + " stands by for " + primary + ": its backups count there.");
            }
            Loaded loaded = load(snapshot, changes, fleet, database);
            return new Fleetwide(fleet, List.of(answer(fleet, database, loaded, view)));
        }
    }

    /** The records that are not history, as they are now. */
    public FleetNow fleetNow() {
        try (Snapshot snapshot = facts.store().read()) {
            return fleet(snapshot);
        }
    }

    /** The records that are not history, as a view of the facts has them. */
    public FleetNow fleet(Snapshot snapshot) {
        return fleet(snapshot, snapshot.changes().getOrDefault("", 0L));
    }

    private synchronized FleetNow fleet(Snapshot snapshot, long change) {
        if (shared == null || shared.change != change) {
            shared = new Shared(change, FleetNow.read(snapshot));
        }
        return shared.fleet;
    }

    private Loaded load(Snapshot snapshot, Map<String, Long> changes, FleetNow fleet, Database database) {
        List<String> members = fleet.standbys().membersOf(database.id());
        long change =
                members.stream().mapToLong(m -> changes.getOrDefault(m, 0L)).sum();
        long sharedChange = changes.getOrDefault("", 0L);
        Loaded known = histories.get(database.id());
        if (known != null && known.change == change && known.sharedChange == sharedChange) {
            return known;
        }
        Loaded loaded = new Loaded(change, sharedChange, snapshot.historyLater(database, members));
        histories.put(database.id(), loaded);
        return loaded;
    }

    private Evaluation answer(FleetNow fleet, Database database, Loaded loaded, Lookout.View view) {
        return standing(fleet, database, loaded, view).answer;
    }

    private Kept standing(FleetNow fleet, Database database, Loaded loaded, Lookout.View view) {
        Key key = new Key(database.id(), loaded.change, loaded.sharedChange, view.kept());
        synchronized (answers) {
            Kept known = answers.get(key);
            if (known != null && known.standsAt(view.asOf())) {
                return known;
            }
        }
        Evaluation answer = evaluate(fleet, database, loaded.history.get(), view);
        Kept standing = new Kept(answer, view.present() ? until(fleet, answer) : Instant.MAX);
        synchronized (answers) {
            answers.put(key, standing);
        }
        return standing;
    }

    /** Up to when an answer about the present stands. */
    private static Instant until(FleetNow fleet, Evaluation e) {
        String id = e.database().id();
        DatabaseFacts facts = new DatabaseFacts(e.database(), e.history(), fleet.holds(id), fleet.closures());
        boolean saysHowOld = e.mishap().restorable().isEmpty()
                || e.hazards().values().stream().anyMatch(HazardEvaluation::isMissed);
        return Moments.next(e, facts, fleet.fleet(), fleet.drills(id), saysHowOld ? SAYING : FRESH);
    }

    private static Evaluation evaluate(FleetNow fleet, Database database, History history, Lookout.View view) {
        DatabaseFacts known = new DatabaseFacts(database, history, fleet.holds(database.id()), fleet.closures());
        return Evaluation.of(known, fleet.fleet(), view.asOf(), view.period());
    }
}
