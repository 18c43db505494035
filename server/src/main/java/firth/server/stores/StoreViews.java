package firth.server.stores;

import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Role;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.platform.FactsHolder;
import firth.server.platform.ListPart;
import firth.server.platform.NotFound;
import firth.server.policies.LookAhead;
import firth.server.stocktake.StockView;
import firth.server.stocktake.StockViews;
import firth.store.Agents;
import firth.store.Stocktakes;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Stores with what they hold, when they are full and what would relieve them. */
@ApplicationScoped
class StoreViews {
    private static final int DAYS = StoreRooms.DAYS;

    private final Summaries summaries;
    private final StockPart part;
    private final LookAhead ahead;
    private final StoreRooms rooms;
    private final FactsHolder facts;
    private final Lookout lookout;

    StoreViews(
            Summaries summaries,
            StockPart part,
            LookAhead ahead,
            StoreRooms rooms,
            FactsHolder facts,
            Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.ahead = ahead;
        this.rooms = rooms;
        this.facts = facts;
        this.lookout = lookout;
    }

    /** All of them, near ones first. */
    StoresView all() {
        Parts<StockPart.Stock> all = summaries.all(lookout.view("", ""), part);
        FleetNow fleet = all.now();
        Instant asOf = lookout.standsAt();
        LookAhead.AsItIs as = ahead.fleetwide();
        StoreSums sums = StoreSums.of(all.each());
        Map<String, Agents.Agent> agents = facts.store().agents().all();
        Map<String, StoresView.StockTally> stock = stock(fleet);
        List<StoresView.StoreRow> rows = fleet.fleet().stores().stream()
                .filter(s -> s.retired().isEmpty() || sums.in(s.id()).held() > 0)
                .sorted(Comparator.comparing(
                                (BackupStore s) -> s.role().map(Role::ordinal).orElse(9))
                        .thenComparing(BackupStore::id))
                .map(s -> {
                    StoreSums.InStore own = sums.in(s.id());
                    StoreFill filling = new StoreFill(as, s, own.back()[DAYS], own.needed());
                    return new StoresView.StoreRow(
                            s.id(),
                            s.name(),
                            fleet.siteName(s.site()),
                            s.medium().orElse(""),
                            s.role().map(Role::word).orElse(""),
                            s.capacityBytes().isPresent() ? s.capacityBytes().getAsDouble() : null,
                            StoreRooms.list(own.back()),
                            StoreRooms.list(filling.goes()),
                            StoreRooms.list(filling.purged()),
                            filling.full(filling.goes()).orElse(null),
                            filling.full(filling.purged()).orElse(null),
                            own.held() - own.needed(),
                            own.givesWay(),
                            s.givesWay().word(),
                            s.minimumStay().map(d -> d.toMillis() / 1000.0).orElse(null),
                            s.readBytesPerSecond().isPresent()
                                    ? s.readBytesPerSecond().getAsDouble()
                                    : null,
                            own.written(),
                            own.copied(),
                            own.read(),
                            agents.containsKey(s.id()) && !agents.get(s.id()).isSilentAt(lookout.now()),
                            measured(agents.get(s.id())),
                            stock.get(s.id()));
                })
                .toList();
        return new StoresView(asOf, DAYS, rows);
    }

    private static StoresView.@Nullable FoundRoom measured(Agents.@Nullable Agent agent) {
        return agent == null
                ? null
                : agent.room()
                        .map(r -> new StoresView.FoundRoom(
                                r.measured(),
                                r.freeBytes(),
                                r.capacityBytes(),
                                r.writable().orElse(null),
                                r.locks(),
                                r.trouble()))
                        .orElse(null);
    }

    private Map<String, StoresView.StockTally> stock(FleetNow fleet) {
        Map<String, StoresView.StockTally> out = new HashMap<>();
        for (Stocktakes.Take take : facts.store().stocktakes().newest()) {
            Map<String, Integer> open = new TreeMap<>();
            facts.store().stocktakes().finds(take.id()).stream()
                    .filter(f -> f.state().equals("open"))
                    .forEach(f -> open.merge(f.what(), 1, Integer::sum));
            StockView.TakeView view = StockViews.view(take, fleet);
            out.put(take.store(), new StoresView.StockTally(view, open));
        }
        return out;
    }

    /** One by database. */
    StoresView.StoreDetail one(String id, ListPart stretch) {
        Parts<StockPart.Stock> all = summaries.all(lookout.view("", ""), part);
        BackupStore store =
                all.now().fleet().store(id).orElseThrow(() -> new NotFound("There is no store " + id + "."));
        Map<String, Double> inAWeek = ahead.held(id, 7);
        List<StoresView.StoreDatabase> databases = new ArrayList<>();
        for (int i = 0; i < all.each().size(); i++) {
            if (all.each().get(i).lying().containsKey(id)) {
                databases.add(database(all.databases().get(i), all.each().get(i), inAWeek, id));
            }
        }
        databases.sort(Comparator.comparing(StoresView.StoreDatabase::held).reversed());
        return new StoresView.StoreDetail(
                id, store.name(), databases.size(), stretch.of(databases), reliefs(all, store, ahead.fleetwide()));
    }

    private static StoresView.StoreDatabase database(
            Database database, StockPart.Stock stock, Map<String, Double> inAWeek, String store) {
        StockPart.LyingBytes lying = Objects.requireNonNull(stock.lying().get(store));
        Double room = inAWeek.get(database.id());
        return new StoresView.StoreDatabase(
                database.id(),
                database.name(),
                lying.held(),
                lying.needed(),
                room == null ? 0 : room - lying.needed(),
                lying.kinds(),
                stock.copiesAsked() ? stock.copiesLacking().orElse("kept") : null,
                stock.copiesLacking().isEmpty());
    }

    /** What brings a store down that fills, the most first. */
    private static List<StoresView.Relief> reliefs(Parts<StockPart.Stock> all, BackupStore store, LookAhead.AsItIs as) {
        StoreSums.InStore own = StoreSums.of(all.each()).in(store.id());
        double held = own.held();
        double needed = own.needed();
        StoreFill filling = new StoreFill(as, store, held, needed);
        List<StoresView.Relief> out = new ArrayList<>();
        if (held > needed) {
            double[] once = filling.goes();
            for (int d = 1; d < once.length; d++) {
                once[d] -= held - needed;
            }
            once[0] = needed;
            out.add(new StoresView.Relief(
                    "purging once what no rule needs",
                    held - needed,
                    filling.full(once).orElse(null)));
        }
        double[] goes = filling.goes();
        double[] purged = filling.purged();
        out.add(new StoresView.Relief(
                "purging every day what no rule needs",
                Math.max(0, goes[DAYS] - purged[DAYS]),
                filling.full(purged).orElse(null)));
        return out;
    }

    /** What a forecast made thirty days ago would have said, and what came. */
    StoresView.BackTest backTest() {
        StoreRooms.Tested tested = rooms.backTest();
        FleetNow fleet = summaries.all(lookout.view("", ""), part).now();
        List<StoresView.BackTested> out = new ArrayList<>();
        tested.forecast().forEach((store, forecast) -> {
            double[] actual = tested.actual().getOrDefault(store, new double[forecast.length]);
            int last = forecast.length - 1;
            out.add(new StoresView.BackTested(
                    store,
                    fleet.storeName(store),
                    StoreRooms.list(forecast),
                    StoreRooms.list(actual),
                    actual[last] > 0 ? (forecast[last] - actual[last]) / actual[last] : null));
        });
        return new StoresView.BackTest(tested.made(), StoreRooms.TESTED, out);
    }
}
