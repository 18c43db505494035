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
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
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

    private FleetNow(List<FleetRecord> records, Function<String, Optional<String>> databaseOf) {
        fleet = new Fleet(of(records, BackupStore.class), of(records, PolicyVersion.class), of(records, Route.class));
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
        return new FleetNow(
                snapshot.documents().stream().map(FleetFileReader::recordOf).toList(), snapshot::databaseOf);
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
