package firth.server.purge;

import firth.core.record.Deed;
import firth.server.Evaluations;
import firth.server.FactsHolder;
import firth.server.FleetNow;
import firth.server.api.PurgeList;
import firth.server.api.PurgeView;
import firth.server.people.Roles;
import firth.server.people.Who;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Lists that were asked for, as they are shown. */
@ApplicationScoped
class Lists {

    /** So many items of a list are shown; all of them are in its files. */
    private static final int SHOWN = 500;

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final Checking checking;
    private final Desk desk;
    private final Who who;

    Lists(FactsHolder facts, Evaluations evaluations, Checking checking, Desk desk, Who who) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.checking = checking;
        this.desk = desk;
        this.who = who;
    }

    List<PurgeView.ListRow> all(FleetNow fleet) {
        return facts.store().purges().all().stream()
                .map(p -> {
                    List<PurgeView.ProofView> proofs = Afterwards.proofs(p);
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
        String flaw = desk.flaw(purge, items);
        Map<String, Instant> approvals = purges.approvals(purge.id());
        FleetNow fleet;
        try (Snapshot snapshot = facts.store().read()) {
            fleet = evaluations.fleet(snapshot);
        }
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
                Afterwards.proofs(purge),
                isWatched(purge.state()) ? List.of() : changed(items, fleet),
                may(purge, approvals, flaw),
                tallies(items),
                items.stream().mapToDouble(Purges.Item::bytes).sum(),
                freed[0] > 0 ? freed[1] : null,
                items.stream().limit(SHOWN).map(i -> view(i, fleet)).toList(),
                facts.store().deeds().about(purge.id(), "purge-asked").stream()
                        .map(Deed::number)
                        .findFirst()
                        .orElse(null),
                Afterwards.after(purge).orElse(null));
    }

    /** While it is carried out each batch is proved anyway, and whoever watches asks every second. */
    private static boolean isWatched(PurgeState state) {
        return state.isOver() || state == PurgeState.RUNNING;
    }

    private List<PurgeList.Changed> changed(List<Purges.Item> items, FleetNow fleet) {
        return checking.dropped(items).stream()
                .map(o -> {
                    Purges.Item i = items.get(o.num() - 1);
                    return new PurgeList.Changed(o.num(), i.backup(), fleet.storeName(i.store()), o.told());
                })
                .toList();
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
                Optional.ofNullable(fleet.databases().get(i.database()))
                        .map(d -> d.name())
                        .orElse(i.database()),
                i.backup(),
                i.kind(),
                fleet.storeName(i.store()),
                i.path(),
                i.bytes(),
                i.landed(),
                i.why(),
                i.state().word(),
                i.told(),
                i.freed().isPresent() ? i.freed().getAsDouble() : null);
    }
}
