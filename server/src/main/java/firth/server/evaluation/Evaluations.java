package firth.server.evaluation;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.Scheduler;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Moments;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Database;
import firth.server.evaluation.FleetStanding.One;
import firth.server.evaluation.FleetStanding.Rests;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.Function;
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

    /** Enough for the followers of a large policy; what pages need of every database is kept in {@link Summaries}. */
    private static final int KEPT = 600;

    /** Answers are large, with the history they are of: what nobody looked at for so long is dropped. */
    private static final Duration UNUSED = Duration.ofMinutes(5);

    private static final int VIEWS = 6;

    private final FactsHolder facts;
    private final Cache<String, Loaded> histories = kept();
    private final Cache<Key, KeptAnswer> answers = kept();
    private @Nullable Shared shared;

    public Evaluations(FactsHolder facts) {
        this.facts = facts;
    }

    private static <K, V> Cache<K, V> kept() {
        return Caffeine.newBuilder()
                .maximumSize(KEPT)
                .expireAfterAccess(UNUSED)
                .scheduler(Scheduler.systemScheduler())
                .build();
    }

    private record Shared(long change, FleetNow fleet) {}

    /** A database's facts as they were read; put into columns only while they are looked at. */
    private record Loaded(Rests rests, Supplier<History> history) {}

    private record Key(String database, long change, Object view) {}

    /** An answer about the present is looked at anew after so long: its figures over a period slide. */
    private static final Duration FRESH = Duration.ofMinutes(20);

    /** The same where it says in words how old something is. */
    private static final Duration SAYING = Duration.ofMinutes(1);

    /** An answer, what it rests on, and up to when it stands. */
    record KeptAnswer(Evaluation answer, Rests rests, Instant until) {

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

    /** Drawn from a database's answer while it rested on this. */
    private record Picture(Rests rests, Instant from, Instant until, Object of) {

        boolean stands(Rests now, Instant moment) {
            return rests.equals(now) && !moment.isBefore(from) && moment.isBefore(until);
        }
    }

    private final Map<Drawn, Map<String, Picture>> drawn = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Drawn, Map<String, Picture>> eldest) {
            return size() > VIEWS;
        }
    };

    /**
     * A part of the answer of every database by id but standbys, kept where answers of a large fleet are not. What pages show where
     * nothing is chosen is had from {@link Summaries}.
     */
    <T> Parts<T> each(Predicate<Database> wanted, Lookout.View view, SummaryPart<T> part) {
        Map<String, Picture> known;
        synchronized (drawn) {
            known = drawn.computeIfAbsent(
                    new Drawn(part.getClass().getName(), view.kept()), d -> new ConcurrentHashMap<>());
        }
        Map<String, Picture> before = known;
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = standing(snapshot);
            List<One> asked = standing.databases().stream()
                    .filter(one -> wanted.test(one.database()))
                    .toList();
            List<One> anew = asked.stream()
                    .filter(one -> !Optional.ofNullable(
                                    before.get(one.database().id()))
                            .filter(p -> p.stands(one.rests(), view.asOf()))
                            .isPresent())
                    .toList();
            eachOf(
                    snapshot,
                    standing.fleet(),
                    anew,
                    view,
                    (kept, one) -> before.put(
                            one.id(), new Picture(kept.rests, kept.answer.asOf(), kept.until, part.of(one))));
            List<Database> databases = asked.stream().map(One::database).toList();
            return new Parts<>(
                    standing.fleet(),
                    databases,
                    databases.stream()
                            .map(d -> {
                                @SuppressWarnings("unchecked")
                                T found = (T) Objects.requireNonNull(before.get(d.id())).of;
                                return found;
                            })
                            .toList());
        }
    }

    private volatile @Nullable FleetStanding stood;

    /** Every database with what its answers rest on as a view of the file has it; nothing is read of their histories. */
    FleetStanding standing(Snapshot snapshot) {
        long count = snapshot.changeCount();
        FleetStanding known = stood;
        if (known != null && known.changes() == count) {
            return known;
        }
        FleetNow fleet = fleet(snapshot);
        FleetStanding standing = known != null && known.fleet() == fleet && known.changes() < count
                ? known.after(snapshot)
                : FleetStanding.of(snapshot, fleet);
        stood = standing;
        return standing;
    }

    /** Takes an answer. */
    interface Taking {
        void take(KeptAnswer kept, Answered one);
    }

    /** So many histories are in memory at a time where many databases are looked at one after the other. */
    private static final int AT_ONCE = 64;

    /** Answers for some databases, a few at a time, each forgotten when it was taken. */
    void eachOf(Snapshot snapshot, FleetNow fleet, List<One> databases, Lookout.View view, Taking taking) {
        for (int from = 0; from < databases.size(); from += AT_ONCE) {
            List<One> some = databases.subList(from, Math.min(from + AT_ONCE, databases.size()));
            load(snapshot, some).parallelStream().forEach(one -> {
                KeptAnswer kept = keptOrNew(fleet, one.database(), one.loaded, view, false);
                taking.take(kept, new Answered(fleet, kept.answer, view.earlier(kept.answer.asOf())));
            });
        }
    }

    /**
     * Something of the answer of each of some databases, looked at a few at a time and not kept: for questions about a large fleet that
     * are asked seldom.
     */
    public <T> List<T> walk(Predicate<Database> wanted, Lookout.View view, Function<Answered, T> making) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = standing(snapshot);
            List<One> chosen = standing.databases().stream()
                    .filter(one -> wanted.test(one.database()))
                    .toList();
            Map<String, T> made = new ConcurrentHashMap<>();
            eachOf(snapshot, standing.fleet(), chosen, view, (kept, one) -> made.put(one.id(), making.apply(one)));
            return chosen.stream()
                    .map(one -> Objects.requireNonNull(made.get(one.database().id())))
                    .toList();
        }
    }

    private record Loading(Database database, Loaded loaded) {}

    /** Makes something of a database's facts alone. */
    public interface FromFacts<T> {
        T of(FleetNow fleet, DatabaseFacts facts);
    }

    /**
     * Something of the facts of every database, without evaluating them: where other questions are asked than answers give. Looked at a
     * few at a time and not kept; standbys are part of their primaries.
     */
    public <T> List<T> ofFacts(FromFacts<T> making) {
        return ofFacts(Set.of(), making);
    }

    /** The same of some databases alone; a standby's is its primary's. Without names: of all. */
    public <T> List<T> ofFacts(Set<String> names, FromFacts<T> making) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = standing(snapshot);
            FleetNow fleet = standing.fleet();
            List<One> wanted = names.isEmpty() ? standing.databases() : standing.named(names);
            List<T> out = new ArrayList<>();
            for (int from = 0; from < wanted.size(); from += AT_ONCE) {
                out.addAll(
                        load(snapshot, wanted.subList(from, Math.min(from + AT_ONCE, wanted.size()))).parallelStream()
                                .map(d -> making.of(
                                        fleet,
                                        new DatabaseFacts(
                                                d.database,
                                                d.loaded.history.get(),
                                                fleet.holds(d.database.id()),
                                                fleet.closures())))
                                .toList());
            }
            return out;
        }
    }

    private List<Loading> load(Snapshot snapshot, List<One> some) {
        return some.stream()
                .map(one -> new Loading(one.database(), load(snapshot, one)))
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
    private record Read(FleetNow fleet, List<Loading> databases) {}

    /** Reads the facts of some databases, standbys being part of their primaries; those known already are not read again. */
    private Read read(Predicate<Database> wanted) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = standing(snapshot);
            List<One> some = standing.databases().stream()
                    .filter(one -> wanted.test(one.database()))
                    .toList();
            return new Read(standing.fleet(), load(snapshot, some));
        }
    }

    /** One database. */
    public Fleetwide one(String id, Lookout.View view) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = standing(snapshot);
            FleetNow fleet = standing.fleet();
            Database database = fleet.database(id).orElseThrow(() -> new NotFound("There is no database " + id + "."));
            Loaded loaded = load(
                    snapshot,
                    standing.one(id)
                            .orElseThrow(() -> new NotFound(id + " stands by for "
                                    + fleet.standbys().primaryOf(id) + ": its backups count there.")));
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
        return fleet(snapshot, snapshot.sharedChangeCount());
    }

    private synchronized FleetNow fleet(Snapshot snapshot, long change) {
        if (shared == null || shared.change != change) {
            shared = new Shared(
                    change, FleetNow.read(snapshot, Optional.ofNullable(shared).map(Shared::fleet)));
        }
        return shared.fleet;
    }

    private Loaded load(Snapshot snapshot, One one) {
        String id = one.database().id();
        Loaded known = histories.getIfPresent(id);
        if (known != null && known.rests.equals(one.rests())) {
            return known;
        }
        Loaded loaded = new Loaded(one.rests(), snapshot.historyLater(one.database(), one.members()));
        histories.put(id, loaded);
        return loaded;
    }

    private Evaluation answer(FleetNow fleet, Database database, Loaded loaded, Lookout.View view) {
        return keptOrNew(fleet, database, loaded, view, true).answer;
    }

    private KeptAnswer keptOrNew(FleetNow fleet, Database database, Loaded loaded, Lookout.View view, boolean keeping) {
        Key key = new Key(database.id(), loaded.rests.change(), view.kept());
        KeptAnswer known = answers.getIfPresent(key);
        if (known != null && known.rests.equals(loaded.rests) && known.standsAt(view.asOf())) {
            return known;
        }
        Evaluation answer = evaluate(fleet, database, loaded.history.get(), view);
        KeptAnswer standing = new KeptAnswer(answer, loaded.rests, view.moves() ? until(fleet, answer) : Instant.MAX);
        if (keeping) {
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

    /** How many evaluations there were since it started. */
    private final LongAdder evaluated = new LongAdder();

    long evaluated() {
        return evaluated.sum();
    }

    private Evaluation evaluate(FleetNow fleet, Database database, History history, Lookout.View view) {
        evaluated.increment();
        DatabaseFacts known = new DatabaseFacts(database, history, fleet.holds(database.id()), fleet.closures());
        return Evaluation.of(known, fleet.fleet(), view.asOf(), view.period());
    }
}
