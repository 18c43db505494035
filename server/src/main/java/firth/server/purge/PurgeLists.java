package firth.server.purge;

import firth.core.evaluation.Evaluation;
import firth.core.record.Deed;
import firth.core.time.Span;
import firth.server.database.DatabaseView;
import firth.server.database.Shelves;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.Belied;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** PurgeLists that were asked for, as they are shown. */
@ApplicationScoped
class PurgeLists {

    /** So many items are given at once. */
    private static final int PAGE = 200;

    /** So many lines of items come with a list. */
    private static final int FIRST = 50;

    /** Of the lists that are over so many are named. */
    private static final int LATEST = 30;

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final ItemReproof reproof;
    private final ListDecisions decisions;
    private final Who who;

    PurgeLists(FactsHolder facts, Evaluations evaluations, ItemReproof reproof, ListDecisions decisions, Who who) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.reproof = reproof;
        this.decisions = decisions;
        this.who = who;
    }

    /** All that are not over, and the latest of the others. */
    List<PurgeView.ListRow> latest(FleetNow fleet) {
        return facts.store().purges().latest(LATEST).stream()
                .map(p -> {
                    List<PurgeView.ProofView> proofs = CoverAfterPurge.proofs(p);
                    return new PurgeView.ListRow(
                            p.id(),
                            p.store().orElse(null),
                            p.store().map(fleet::storeName).orElse("the whole fleet"),
                            p.state().word(),
                            p.askedBy(),
                            p.askedAt(),
                            p.reason(),
                            proofs.stream()
                                    .mapToInt(PurgeView.ProofView::copies)
                                    .sum(),
                            proofs.stream()
                                    .mapToDouble(PurgeView.ProofView::bytes)
                                    .sum());
                })
                .toList();
    }

    PurgeList one(Purges.Purge purge) {
        Purges purges = facts.store().purges();
        List<Purges.Item> items = purges.items(purge.id());
        Map<GroupKey, List<Purges.Item>> lines = byGroup(items);
        String flaw = decisions.flaw(purge, items);
        Map<String, Instant> approvals = purges.approvals(purge.id());
        FleetNow fleet = fleet();
        double[] freed = {0, 0};
        items.stream().filter(i -> i.freed().isPresent()).forEach(i -> {
            freed[0]++;
            freed[1] += i.freed().getAsDouble();
        });
        return new PurgeList(
                purge.id(),
                purge.store().orElse(null),
                purge.store().map(fleet::storeName).orElse("the whole fleet"),
                purge.state().word(),
                purge.askedBy(),
                purge.askedAt(),
                purge.reason(),
                purge.approvals(),
                approvals.entrySet().stream()
                        .map(a -> new PurgeList.Approval(a.getKey(), a.getValue()))
                        .toList(),
                purge.hash(),
                flaw.isEmpty(),
                purge.trouble().isEmpty() ? flaw : purge.trouble(),
                CoverAfterPurge.proofs(purge),
                isWatched(purge.state()) ? List.of() : changed(items),
                may(purge, approvals, flaw),
                tallies(items),
                items.stream().mapToDouble(Purges.Item::bytes).sum(),
                freed[0] > 0 ? freed[1] : null,
                groups(lines, fleet, FIRST),
                lines.size(),
                belied(purge.id(), fleet),
                facts.store().deeds().about(purge.id(), "purge-asked").stream()
                        .map(Deed::number)
                        .findFirst()
                        .orElse(null),
                CoverAfterPurge.after(purge).orElse(null));
    }

    private List<PurgeList.BeliedView> belied(String purge, FleetNow fleet) {
        Map<List<String>, List<Belied>> out = facts.store().stocktakes().belied(purge).stream()
                .collect(Collectors.groupingBy(
                        b -> List.of(b.store(), b.toldBy()), LinkedHashMap::new, Collectors.toList()));
        return out.values().stream()
                .map(all -> new PurgeList.BeliedView(
                        fleet.storeName(all.get(0).store()),
                        all.get(0).toldBy(),
                        all.size(),
                        all.get(0).path(),
                        all.get(0).listed()))
                .toList();
    }

    /** While it is carried out each batch is proved anyway, and whoever watches asks every second. */
    private static boolean isWatched(PurgeState state) {
        return state.isOver() || state == PurgeState.RUNNING;
    }

    /** What would drop out if it were handed out now, a line a reason. */
    private List<PurgeList.Changed> changed(List<Purges.Item> items) {
        Map<String, List<Purges.Outcome>> byReason = reproof.dropped(items).stream()
                .collect(Collectors.groupingBy(Purges.Outcome::told, LinkedHashMap::new, Collectors.toList()));
        return byReason.entrySet().stream()
                .map(r -> new PurgeList.Changed(
                        r.getKey(),
                        r.getValue().size(),
                        r.getValue().stream()
                                .mapToDouble(o -> items.get(o.num() - 1).bytes())
                                .sum(),
                        items.get(r.getValue().get(0).num() - 1).backup()))
                .toList();
    }

    private record GroupKey(String database, String store, String kind) {}

    private static Map<GroupKey, List<Purges.Item>> byGroup(List<Purges.Item> items) {
        Map<GroupKey, List<Purges.Item>> out = new LinkedHashMap<>();
        items.forEach(i -> out.computeIfAbsent(new GroupKey(i.database(), i.store(), i.kind()), k -> new ArrayList<>())
                .add(i));
        return out;
    }

    /** The items a line a database, store and kind: thousands of logs are one. */
    private static List<PurgeList.Group> groups(Map<GroupKey, List<Purges.Item>> lines, FleetNow fleet, long most) {
        return lines.entrySet().stream()
                .limit(most)
                .map(g -> group(g.getKey(), g.getValue(), fleet))
                .toList();
    }

    /** A stretch of those lines. */
    List<PurgeList.Group> groups(String purge, ListPart stretch) {
        return stretch.of(groups(byGroup(facts.store().purges().items(purge)), fleet(), Long.MAX_VALUE));
    }

    private static PurgeList.Group group(GroupKey key, List<Purges.Item> items, FleetNow fleet) {
        long reasons = items.stream().map(Purges.Item::why).distinct().count();
        return new PurgeList.Group(
                key.database,
                name(key.database, fleet),
                key.store,
                fleet.storeName(key.store),
                key.kind,
                items.size(),
                items.stream().mapToDouble(Purges.Item::bytes).sum(),
                items.stream().map(Purges.Item::landed).min(Instant::compareTo).orElseThrow(),
                items.stream().map(Purges.Item::landed).max(Instant::compareTo).orElseThrow(),
                items.get(0).why(),
                (int) reasons - 1,
                tallies(items));
    }

    private static String name(String database, FleetNow fleet) {
        return fleet.database(database).map(d -> d.name()).orElse(database);
    }

    List<PurgeList.ItemView> items(String purge, ItemsAsked wanted) {
        FleetNow fleet = fleet();
        return facts.store().purges().items(purge).stream()
                .filter(wanted::has)
                .limit(PAGE)
                .map(i -> view(i, fleet))
                .toList();
    }

    private FleetNow fleet() {
        try (Snapshot snapshot = facts.store().read()) {
            return evaluations.fleet(snapshot);
        }
    }

    /** The shelves of the databases concerned, as of the moment the list was asked for. */
    List<PurgeView.ShelfRow> shelves(Purges.Purge purge) {
        Map<String, Double> going = new TreeMap<>();
        Set<String> places = new HashSet<>();
        facts.store().purges().items(purge.id()).forEach(i -> {
            going.merge(i.database() + "|" + i.store(), i.bytes(), Double::sum);
            places.add(i.database());
        });
        Evaluations.Fleetwide then = evaluations.once(
                d -> places.contains(d.id()),
                new Lookout.View(purge.askedAt(), new Span(purge.askedAt(), purge.askedAt())));
        List<PurgeView.ShelfRow> out = new ArrayList<>();
        for (Evaluation e : then.answers()) {
            for (DatabaseView.Shelf shelf : new Shelves(then.fleet(), e).all()) {
                Double bytes = going.get(e.database().id() + "|" + shelf.store());
                if (bytes != null) {
                    out.add(new PurgeView.ShelfRow(
                            e.database().id(), e.database().name(), shelf, bytes));
                }
            }
        }
        out.sort(Comparator.comparing(PurgeView.ShelfRow::bytes).reversed());
        return out;
    }

    /** What whoever looks may do with it now. */
    private List<String> may(Purges.Purge purge, Map<String, Instant> approvals, String flaw) {
        List<String> out = new ArrayList<>();
        PurgeState state = purge.state();
        boolean keeper = who.has(Roles.KEEPER);
        boolean whole = flaw.isEmpty();
        boolean another = !purge.askedBy().equals(who.id()) && !approvals.containsKey(who.id());
        if (state == PurgeState.ASKED && whole && another && who.has(Roles.APPROVER)) {
            out.add("approve");
        }
        if ((state == PurgeState.APPROVED || state == PurgeState.PAUSED) && whole && keeper) {
            out.add("carry-out");
        }
        if (state == PurgeState.RUNNING && keeper) {
            out.add("pause");
            out.add("tell");
        }
        if (!state.isOver() && keeper) {
            out.add("cancel");
        }
        return out;
    }

    private static List<PurgeList.ItemTally> tallies(List<Purges.Item> items) {
        Map<ItemState, double[]> out = new TreeMap<>();
        for (Purges.Item i : items) {
            double[] sum = out.computeIfAbsent(i.state(), s -> new double[2]);
            sum[0]++;
            sum[1] += i.bytes();
        }
        return out.entrySet().stream()
                .map(t -> new PurgeList.ItemTally(t.getKey().word(), (int) t.getValue()[0], t.getValue()[1]))
                .toList();
    }

    private static PurgeList.ItemView view(Purges.Item i, FleetNow fleet) {
        return new PurgeList.ItemView(
                i.num(),
                i.database(),
                name(i.database(), fleet),
                i.backup(),
                i.kind(),
                fleet.storeName(i.store()),
                i.path(),
                i.bytes(),
                i.landed(),
                i.why(),
                i.state().word(),
                i.told(),
                i.freed().isPresent() ? i.freed().getAsDouble() : null,
                i.state().isOpen() ? null : i.at().orElse(null),
                i.toldBy());
    }
}
