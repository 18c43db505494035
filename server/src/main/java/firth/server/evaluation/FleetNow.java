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
import firth.core.record.Digests;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
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

    private final Map<String, String> rules = new ConcurrentHashMap<>();

    /** The records by their text, so that what stays as it is need not be read again. */
    private final Map<String, Written> records;

    private final String shared;
    private final Map<String, List<String>> ofDatabase;
    private final Map<String, List<String>> ofPolicy;
    private final Map<String, List<String>> ofRoute;
    private final Map<String, List<String>> ofHold;

    /** A record, and a digest of what it was written as. */
    private record Written(FleetRecord record, String digest) {}

    private FleetNow(Map<String, Written> read, Function<String, Optional<String>> databaseOf) {
        this.records = read;
        List<FleetRecord> records = read.values().stream().map(w -> w.record).toList();
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
        MessageDigest everybody = Digests.sha256();
        read.values().stream()
                .filter(w -> w.record instanceof BackupStore || w.record instanceof Site || w.record instanceof Closure)
                .forEach(w -> update(everybody, w.digest));
        shared = hex(everybody);
        ofDatabase = new HashMap<>(written(read, Database.class, Database::id));
        for (Map<String, List<String>> more : List.of(
                written(read, Assigned.class, Assigned::database), written(read, Drill.class, Drill::database))) {
            more.forEach((id, all) ->
                    ofDatabase.computeIfAbsent(id, k -> new ArrayList<>()).addAll(all));
        }
        ofPolicy = written(read, PolicyVersion.class, PolicyVersion::id);
        ofRoute = written(read, Route.class, Route::id);
        ofHold = written(read, Hold.class, Hold::id);
    }

    /** @param before as they were before; of those that stayed the same the value stays the same, too */
    static FleetNow read(Snapshot snapshot, Optional<FleetNow> before) {
        Map<String, Written> known = before.map(f -> f.records).orElse(Map.of());
        Map<String, Written> read = new LinkedHashMap<>();
        for (String text : snapshot.documents()) {
            Written same = known.get(text);
            read.put(text, same == null ? written(text) : same);
        }
        return new FleetNow(read, snapshot::databaseOf);
    }

    /**
     * Tells the records that the answers of one database rest on from others: a digest of what they were written as. It is the same for
     * as long as they are, in whatever process.
     */
    String rules(Database database) {
        return rules.computeIfAbsent(database.id(), id -> digest(database));
    }

    private String digest(Database database) {
        MessageDigest out = Digests.sha256();
        update(out, shared);
        standbys.membersOf(database.id()).forEach(m -> updateWith(out, m, ofDatabase));
        Stream<String> assigned = database.assigned().stream().flatMap(a -> a.policy().stream());
        Stream.concat(database.policy().stream(), assigned).distinct().forEach(p -> updateWith(out, p, ofPolicy));
        database.particulars().route().ifPresent(r -> updateWith(out, r, ofRoute));
        holds(database.id()).forEach(h -> updateWith(out, h.id(), ofHold));
        return hex(out);
    }

    /** What some records of a name were written as, or that there are none. */
    private static void updateWith(MessageDigest out, String name, Map<String, List<String>> written) {
        update(out, name);
        written.getOrDefault(name, List.of()).forEach(digest -> update(out, digest));
    }

    private static void update(MessageDigest out, String text) {
        out.update(text.getBytes(StandardCharsets.UTF_8));
        out.update((byte) 0);
    }

    private static String hex(MessageDigest out) {
        return HexFormat.of().formatHex(out.digest());
    }

    /** What records of a type were written as, by what they are of. */
    private static <T extends FleetRecord> Map<String, List<String>> written(
            Map<String, Written> read, Class<T> type, Function<T, String> of) {
        Map<String, List<String>> out = new HashMap<>();
        read.values().forEach(w -> {
            if (type.isInstance(w.record)) {
                out.computeIfAbsent(of.apply(type.cast(w.record)), k -> new ArrayList<>())
                        .add(w.digest);
            }
        });
        return out;
    }

    private static Written written(String text) {
        MessageDigest own = Digests.sha256();
        update(own, text);
        return new Written(FleetFileReader.recordOf(text), hex(own));
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
