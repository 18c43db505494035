package firth.server.evaluation;

import firth.core.findings.Finding;
import firth.core.findings.StockFindings;
import firth.core.model.Database;
import firth.core.model.Route;
import firth.core.stocktake.Difference.Manner;
import firth.store.Belied;
import firth.store.FactStore;
import firth.store.ItemState;
import firth.store.Purges;
import firth.store.Stocktakes;
import firth.store.Stocktakes.Find;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What the newest stocktakes and purges found that nobody decided about yet. */
record StockNow(FactStore store, FleetNow fleet) {

    /** What agents did not find there to be deleted is told for so long. */
    private static final Duration TOLD = Duration.ofDays(30);

    List<Finding> findings(Instant now) {
        List<Finding> out = new ArrayList<>();
        for (Stocktakes.Take take : store.stocktakes().newest()) {
            List<Find> open = store.stocktakes().openOfCopies(take.id());
            String name = fleet.storeName(take.store());
            Instant found = take.taken().orElse(take.askedAt());
            byDatabase(open, f -> f.what().equals("missing") && !f.asked())
                    .forEach((database, finds) ->
                            out.add(StockFindings.deletedUnasked(database, name, seen(finds), found, backups(finds))));
            for (Manner what : List.of(Manner.MISMATCH, Manner.LOCK, Manner.CLAIMED)) {
                byDatabase(open, f -> f.what().equals(what.word()))
                        .forEach((database, finds) -> out.add(StockFindings.differs(
                                database,
                                name,
                                what,
                                found,
                                backups(finds),
                                finds.get(0).told())));
            }
        }
        out.addAll(belied());
        out.addAll(refusing(now));
        out.addAll(notThereToDelete(now));
        return out;
    }

    private static Map<String, List<Find>> byDatabase(List<Find> finds, java.util.function.Predicate<Find> which) {
        return finds.stream()
                .filter(which)
                .collect(Collectors.groupingBy(f -> f.database().orElseThrow(), TreeMap::new, Collectors.toList()));
    }

    private static List<String> backups(List<Find> finds) {
        return finds.stream().map(f -> f.backup().orElseThrow()).toList();
    }

    /** When all of them were last seen. */
    private static Optional<Instant> seen(List<Find> finds) {
        return finds.stream().anyMatch(f -> f.since().isEmpty())
                ? Optional.empty()
                : finds.stream().map(f -> f.since().orElseThrow()).min(Instant::compareTo);
    }

    /** What agents told that the newest listings do not bear out. */
    private List<Finding> belied() {
        List<Finding> out = new ArrayList<>();
        store.stocktakes().belied().stream()
                .collect(Collectors.groupingBy(
                        b -> List.of(b.database(), b.store(), b.toldBy()), LinkedHashMap::new, Collectors.toList()))
                .forEach((key, all) -> out.add(StockFindings.belied(
                        key.get(0),
                        fleet.storeName(key.get(1)),
                        key.get(2),
                        all.stream().map(Belied::at).min(Instant::compareTo).orElseThrow(),
                        all.get(0).listed(),
                        all.stream().map(Belied::backup).toList())));
        return out;
    }

    /** Stores their own agents could not write to when they last tried. */
    private List<Finding> refusing(Instant now) {
        List<Finding> out = new ArrayList<>();
        store.agents().all().values().stream()
                .filter(a -> !a.isSilentAt(now))
                .forEach(a -> a.room()
                        .filter(r -> r.writable().filter(w -> !w).isPresent())
                        .ifPresent(r -> fleet.fleet()
                                .store(a.store())
                                .ifPresent(s -> out.add(StockFindings.refuses(
                                        s, r.since().orElse(r.measured()), r.trouble(), writingTo(a.store()))))));
        return out;
    }

    /** The ids of those whose route leads to a store. */
    private List<String> writingTo(String id) {
        Set<String> routes = fleet.routes().stream()
                .filter(r -> Stream.of(r.data(), r.log(), r.copies()).anyMatch(s -> s.contains(id)))
                .map(Route::id)
                .collect(Collectors.toSet());
        return fleet.databases().values().stream()
                .filter(d -> d.particulars().route().filter(routes::contains).isPresent())
                .map(Database::id)
                .sorted()
                .toList();
    }

    /** Items that were gone before the agent came for them. */
    private List<Finding> notThereToDelete(Instant now) {
        List<Finding> out = new ArrayList<>();
        for (Purges.Purge purge : store.purges().askedFrom(now.minus(TOLD))) {
            store.purges().items(purge.id(), ItemState.MISSING).stream()
                    .collect(Collectors.groupingBy(
                            i -> i.database() + "|" + i.store(), TreeMap::new, Collectors.toList()))
                    .forEach((key, items) -> out.add(StockFindings.deletedUnasked(
                            items.get(0).database(),
                            fleet.storeName(items.get(0).store()),
                            Optional.empty(),
                            items.get(0).at().orElse(purge.askedAt()),
                            items.stream().map(Purges.Item::backup).toList())));
        }
        return out;
    }
}
