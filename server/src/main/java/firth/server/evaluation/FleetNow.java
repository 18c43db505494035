package firth.server.evaluation;

import firth.core.model.Assigned;
import firth.core.model.BackupStore;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.model.FleetRecord;
import firth.core.model.Hold;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.model.Sighting;
import firth.core.model.Site;
import firth.core.model.Standbys;
import firth.core.model.StandingRule;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** The records that are not history, read once per change of them. */
public final class FleetNow {

    /** Holds on backups not known when the records were read: they may be of any database. */
    private static final String WAITING = "";

    private final Fleet fleet;
    private final Map<String, Database> databases;
    private final Map<String, Site> sites;
    private final Map<String, List<Hold>> holds;
    private final List<Closure> closures;
    private final List<StandingRule> standing;
    private final List<Sighting> sightings;
    private final List<Route> routes;
    private final Standbys standbys;
    private final Map<String, List<Drill>> drills;
    private final List<BackupStore> stores;

    private final Map<String, Rules> rules = new ConcurrentHashMap<>();

    /** The records by their text, so that what stays as it is need not be read again. */
    private final Map<String, FleetRecord> records;

    private FleetNow(Map<String, FleetRecord> read, Function<String, Optional<String>> databaseOf) {
        this.records = read;
        List<FleetRecord> records = List.copyOf(read.values());
        stores = of(records, BackupStore.class);
        fleet = new Fleet(stores, of(records, PolicyVersion.class), of(records, Route.class));
        Map<String, List<Assigned>> stated =
                of(records, Assigned.class).stream().collect(Collectors.groupingBy(Assigned::database));
        databases = new TreeMap<>();
        of(records, Database.class)
                .forEach(d -> databases.put(d.id(), d.assigned(stated.getOrDefault(d.id(), List.of()))));
        standing = of(records, StandingRule.class);
        sightings = of(records, Sighting.class);
        routes = of(records, Route.class);
        sites = of(records, Site.class).stream().collect(Collectors.toMap(Site::id, Function.identity()));
        closures = of(records, Closure.class);
        drills = of(records, Drill.class).stream().collect(Collectors.groupingBy(Drill::database));
        standbys = Standbys.of(databases.values());
        holds = of(records, Hold.class).stream()
                .collect(Collectors.groupingBy(h -> standbys.primaryOf(
                        h.backup().map(databaseOf).orElse(h.database()).orElse(WAITING))));
    }

    public static FleetNow read(Snapshot snapshot) {
        return read(snapshot, Optional.empty());
    }

    /** @param before as they were before; of those that stayed the same the value stays the same, too */
    static FleetNow read(Snapshot snapshot, Optional<FleetNow> before) {
        Map<String, FleetRecord> known = before.map(f -> f.records).orElse(Map.of());
        Map<String, FleetRecord> read = new LinkedHashMap<>();
        for (String text : snapshot.documents()) {
            FleetRecord same = known.get(text);
            read.put(text, same == null ? FleetFileReader.recordOf(text) : same);
        }
        return new FleetNow(read, snapshot::databaseOf);
    }

    /**
     * The records that the answers of one database rest on, to be compared.
     *
     * @param versions of every policy it ever followed
     */
    record Rules(
            Database database,
            List<String> members,
            List<PolicyVersion> versions,
            Optional<Route> route,
            List<Hold> holds,
            List<Drill> drills,
            List<Closure> closures,
            List<BackupStore> stores,
            Map<String, Site> sites) {}

    /** The same value for as long as these records stand. */
    Rules rules(Database database) {
        return rules.computeIfAbsent(database.id(), id -> rulesOf(database));
    }

    private Rules rulesOf(Database database) {
        Stream<String> assigned = database.assigned().stream().flatMap(a -> a.policy().stream());
        return new Rules(
                database,
                standbys.membersOf(database.id()),
                Stream.concat(database.policy().stream(), assigned)
                        .distinct()
                        .flatMap(p -> fleet.versions(p).stream())
                        .toList(),
                fleet.route(database),
                holds(database.id()),
                drills(database.id()),
                closures,
                stores,
                sites);
    }

    private static <T> List<T> of(List<FleetRecord> records, Class<T> type) {
        return records.stream().filter(type::isInstance).map(type::cast).toList();
    }

    public Fleet fleet() {
        return fleet;
    }

    /** Databases by id. */
    public Map<String, Database> databases() {
        return databases;
    }

    public Standbys standbys() {
        return standbys;
    }

    /** The rules that give new databases a policy. */
    public List<StandingRule> standing() {
        return standing;
    }

    public List<Sighting> sightings() {
        return sightings;
    }

    public List<Route> routes() {
        return routes;
    }

    public Map<String, Site> sites() {
        return sites;
    }

    public List<Closure> closures() {
        return closures;
    }

    public List<Hold> holds(String database) {
        List<Hold> waiting = holds.getOrDefault(WAITING, List.of());
        List<Hold> own = holds.getOrDefault(database, List.of());
        return waiting.isEmpty()
                ? own
                : Stream.concat(own.stream(), waiting.stream()).toList();
    }

    /** The drills of a database, in no order. */
    public List<Drill> drills(String database) {
        return drills.getOrDefault(database, List.of());
    }

    public String siteName(Optional<String> site) {
        return site.map(s -> sites.containsKey(s) ? sites.get(s).name() : s).orElse("");
    }

    public Optional<Database> database(String id) {
        return Optional.ofNullable(databases.get(id));
    }

    /** The name of a database; of one that is not known its id. */
    public String databaseName(String id) {
        return database(id).map(Database::name).orElse(id);
    }

    public String storeName(String store) {
        return fleet.store(store).map(BackupStore::name).orElse(store);
    }
}
