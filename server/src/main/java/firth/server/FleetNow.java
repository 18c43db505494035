package firth.server;

import firth.core.fleet.BackupStore;
import firth.core.fleet.Closure;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.FleetRecord;
import firth.core.fleet.Hold;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.Site;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;

/** The records that are not history, read once per change of them. */
final class FleetNow {

    private final Fleet fleet;
    private final Map<String, Database> databases;
    private final Map<String, Site> sites;
    private final Map<String, List<Hold>> holds;
    private final List<Closure> closures;

    private FleetNow(List<FleetRecord> records, Function<String, Optional<String>> databaseOf) {
        fleet = new Fleet(of(records, BackupStore.class), of(records, PolicyVersion.class));
        databases = new TreeMap<>(
                of(records, Database.class).stream().collect(Collectors.toMap(Database::id, Function.identity())));
        sites = of(records, Site.class).stream().collect(Collectors.toMap(Site::id, Function.identity()));
        closures = of(records, Closure.class);
        holds = of(records, Hold.class).stream()
                .collect(Collectors.groupingBy(
                        h -> h.backup().map(databaseOf).orElse(h.database()).orElse("")));
    }

    static FleetNow read(Snapshot snapshot) {
        return new FleetNow(
                snapshot.documents().stream().map(FleetFileReader::recordOf).toList(), snapshot::databaseOf);
    }

    private static <T> List<T> of(List<FleetRecord> records, Class<T> type) {
        return records.stream().filter(type::isInstance).map(type::cast).toList();
    }

    Fleet fleet() {
        return fleet;
    }

    /** Databases by id. */
    Map<String, Database> databases() {
        return databases;
    }

    List<Closure> closures() {
        return closures;
    }

    List<Hold> holds(String database) {
        return holds.getOrDefault(database, List.of());
    }

    String siteName(Optional<String> site) {
        return site.map(s -> sites.containsKey(s) ? sites.get(s).name() : s).orElse("");
    }

    String storeName(String store) {
        return fleet.store(store).map(BackupStore::name).orElse(store);
    }
}
