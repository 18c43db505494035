package firth.exchange;

import firth.core.history.Catalog;
import firth.core.history.DatabaseFacts;
import firth.core.history.HappenedAt;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.history.Merging;
import firth.core.model.Assigned;
import firth.core.model.Backup;
import firth.core.model.BackupStore;
import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.model.FleetRecord;
import firth.core.model.Hold;
import firth.core.model.Observed;
import firth.core.model.PolicyVersion;
import firth.core.model.Route;
import firth.core.model.Run;
import firth.core.model.Standbys;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** A catalog that lives in memory, for answers without a server. Not safe for use by several threads. */
public final class MemoryCatalog implements Catalog {

    private record Entry(FleetRecord record, String document) {}

    private final Map<String, Entry> records = new LinkedHashMap<>();
    private final Map<String, Run> runs = new LinkedHashMap<>();
    private final Map<String, Backup> backups = new LinkedHashMap<>();

    @Override
    public Change put(FleetRecord record, String document) {
        String key = key(record);
        Entry known = records.get(key);
        if (known != null
                && record instanceof Observed found
                && found.at().isBefore(((Observed) known.record()).at())) {
            return Change.UNCHANGED;
        }
        records.put(key, new Entry(record, document));
        return known == null ? Change.ADDED : known.document().equals(document) ? Change.UNCHANGED : Change.UPDATED;
    }

    private static String key(FleetRecord record) {
        String version = record instanceof PolicyVersion p ? " " + p.version() : "";
        return record.getClass().getSimpleName() + " " + record.id() + version;
    }

    @Override
    public Change put(Run run, Replacing replacing) {
        Run known = runs.get(run.id());
        if (known != null) {
            replacing.check(known, run);
        }
        Run merged = known == null ? run : Merging.merge(known, run);
        runs.put(run.id(), merged);
        return known == null ? Change.ADDED : Merging.change(known, merged);
    }

    @Override
    public Change put(Backup backup, Replacing replacing) {
        Backup known = backups.get(backup.id());
        if (known != null) {
            replacing.check(known, backup);
        }
        Backup merged = known == null ? backup : Merging.merge(known, backup);
        backups.put(backup.id(), merged);
        return known == null ? Change.ADDED : Merging.change(known, merged);
    }

    public Fleet fleet() {
        return new Fleet(all(BackupStore.class), all(PolicyVersion.class), all(Route.class));
    }

    /** The facts of every database by id; those of standbys are among those of their primaries. */
    public List<DatabaseFacts> databases() {
        Map<String, HistoryBuilder> histories = new HashMap<>();
        TreeMap<String, Database> databases = new TreeMap<>();
        List<Assigned> stated = all(Assigned.class);
        Standbys standbys = Standbys.of(all(Database.class));
        for (Database reported : all(Database.class)) {
            if (standbys.isStandby(reported.id())) {
                continue;
            }
            Database d = reported.assigned(stated.stream()
                    .filter(a -> a.database().equals(reported.id()))
                    .toList());
            databases.put(d.id(), d);
            histories.put(d.id(), History.of(d));
        }
        Map<String, String> databaseOf = new HashMap<>();
        for (Backup b : backups.values()) {
            String database = standbys.primaryOf(b.database());
            databaseOf.put(b.id(), database);
            Optional.ofNullable(histories.get(database)).ifPresent(h -> h.add(b));
        }
        runs.values()
                .forEach(r -> Optional.ofNullable(histories.get(standbys.primaryOf(r.database())))
                        .ifPresent(h -> h.add(r)));
        List<Hold> holds = all(Hold.class);
        List<DatabaseFacts> out = new ArrayList<>();
        for (Database d : databases.values()) {
            List<Hold> own = holds.stream()
                    .filter(h -> h.backup()
                            .map(b -> d.id().equals(databaseOf.get(b)))
                            .orElse(h.database()
                                    .map(standbys::primaryOf)
                                    .filter(d.id()::equals)
                                    .isPresent()))
                    .toList();
            out.add(new DatabaseFacts(
                    d, Objects.requireNonNull(histories.get(d.id())).build(), own, all(Closure.class)));
        }
        return out;
    }

    /** Backups as they came by database; those of standbys are among those of their primaries. */
    public Map<String, List<Backup>> backups() {
        Standbys standbys = Standbys.of(all(Database.class));
        return backups.values().stream().collect(Collectors.groupingBy(b -> standbys.primaryOf(b.database())));
    }

    /** Drills by database, as they came. */
    public Map<String, List<Drill>> drills() {
        return all(Drill.class).stream().collect(Collectors.groupingBy(Drill::database));
    }

    /** The newest moment at which something is recorded to have happened. */
    public Optional<Instant> newestFact() {
        Instant[] newest = {null};
        java.util.function.Consumer<Instant> seen =
                m -> newest[0] = newest[0] == null || m.isAfter(newest[0]) ? m : newest[0];
        runs.values().forEach(r -> HappenedAt.of(r, seen));
        backups.values().forEach(b -> HappenedAt.of(b, seen));
        records.values().forEach(e -> HappenedAt.of(e.record(), seen));
        return Optional.ofNullable(newest[0]);
    }

    private <T> List<T> all(Class<T> type) {
        return records.values().stream()
                .map(Entry::record)
                .filter(type::isInstance)
                .map(type::cast)
                .toList();
    }
}
