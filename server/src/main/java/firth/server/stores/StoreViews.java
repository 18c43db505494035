package firth.server.stores;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import firth.core.purge.GivingWay;
import firth.core.retention.Verdict;
import firth.exchange.Json;
import firth.server.drills.ObservedReadRates;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.policies.LookAhead;
import firth.server.stocktake.StockView;
import firth.server.stocktake.StockViews;
import firth.store.Agents;
import firth.store.Snapshot;
import firth.store.Stocktakes;
import firth.wording.FindingWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Stores with what they hold, when they are full and what would relieve them. */
@ApplicationScoped
class StoreViews {
    private static final int DAYS = StoreRooms.DAYS;

    private final Evaluations evaluations;
    private final LookAhead ahead;
    private final StoreRooms rooms;
    private final FindingsNow findings;
    private final FactsHolder facts;
    private final Lookout lookout;

    StoreViews(
            Evaluations evaluations,
            LookAhead ahead,
            StoreRooms rooms,
            FindingsNow findings,
            FactsHolder facts,
            Lookout lookout) {
        this.evaluations = evaluations;
        this.ahead = ahead;
        this.rooms = rooms;
        this.findings = findings;
        this.facts = facts;
        this.lookout = lookout;
    }

    /** All of them, near ones first. */
    StoresView all() {
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        Instant asOf = lookout.standsAt();
        LookAhead.AsItIs as = ahead.fleetwide();
        Map<String, double[]> back = StoreRooms.back(all, asOf, DAYS);
        Map<String, Double> needed = RetainedBytes.byStore(all.answers(), v -> v == Verdict.NEEDED);
        Map<String, Double> obsolete = RetainedBytes.byStore(all.answers(), v -> v != Verdict.NEEDED);
        Map<String, Agents.Agent> agents = facts.store().agents().all();
        Map<String, StoresView.StockTally> stock = stock(all);
        Map<String, Map<String, Object>> documents = documents();
        List<StoresView.StoreRow> rows = all.fleet().fleet().stores().stream()
                .sorted(Comparator.comparing(
                                (BackupStore s) -> s.role().map(Role::ordinal).orElse(9))
                        .thenComparing(BackupStore::id))
                .map(s -> {
                    double[] before = back.getOrDefault(s.id(), new double[DAYS + 1]);
                    Rates rates = new Rates(all, s.id());
                    StoreFill filling = new StoreFill(as, s, before[DAYS], needed.getOrDefault(s.id(), 0.0));
                    return new StoresView.StoreRow(
                            s.id(),
                            s.name(),
                            all.fleet().siteName(s.site()),
                            s.medium().orElse(""),
                            s.role().map(Role::word).orElse(""),
                            s.capacityBytes().isPresent() ? s.capacityBytes().getAsDouble() : null,
                            StoreRooms.list(before),
                            StoreRooms.list(filling.goes()),
                            StoreRooms.list(filling.purged()),
                            filling.full(filling.goes()).orElse(null),
                            filling.full(filling.purged()).orElse(null),
                            obsolete.getOrDefault(s.id(), 0.0),
                            way(all, s),
                            s.givesWay().word(),
                            s.minimumStay().map(d -> d.toMillis() / 1000.0).orElse(null),
                            s.readBytesPerSecond().isPresent()
                                    ? s.readBytesPerSecond().getAsDouble()
                                    : null,
                            rates.written(),
                            rates.copied(),
                            rates.read(),
                            agents.containsKey(s.id()) && !agents.get(s.id()).isSilentAt(lookout.now()),
                            stock.get(s.id()),
                            documents.get(s.id()));
                })
                .toList();
        return new StoresView(asOf, DAYS, rows);
    }

    private static double way(Evaluations.Fleetwide all, BackupStore store) {
        return all.answers().stream()
                .mapToDouble(e -> GivingWay.of(e, store).stream()
                        .mapToDouble(k -> RetainedBytes.known(e.retention().bytes(k)))
                        .sum())
                .sum();
    }

    private Map<String, StoresView.StockTally> stock(Evaluations.Fleetwide all) {
        Map<String, StoresView.StockTally> out = new HashMap<>();
        for (Stocktakes.Take take : facts.store().stocktakes().newest()) {
            Map<String, Integer> open = new TreeMap<>();
            facts.store().stocktakes().finds(take.id()).stream()
                    .filter(f -> f.state().equals("open"))
                    .forEach(f -> open.merge(f.what(), 1, Integer::sum));
            StockView.TakeView view = StockViews.view(take, all.fleet());
            out.put(take.store(), new StoresView.StockTally(view, open));
        }
        return out;
    }

    private Map<String, Map<String, Object>> documents() {
        Map<String, Map<String, Object>> out = new HashMap<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (String text : snapshot.documents("store")) {
                Map<String, Object> document = Json.MAPPER.readValue(text, new TypeReference<Map<String, Object>>() {});
                out.put(String.valueOf(document.get("id")), document);
            }
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A store kept here is not JSON", e);
        }
        return out;
    }

    /** One by database. */
    StoresView.StoreDetail one(String id) {
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        BackupStore store =
                all.fleet().fleet().store(id).orElseThrow(() -> new NotFound("There is no store " + id + "."));
        LookAhead.AsItIs as = ahead.fleetwide();
        List<StoresView.StoreDatabase> databases = new ArrayList<>();
        for (Evaluation e : all.answers()) {
            database(all, e, id).ifPresent(databases::add);
        }
        databases.sort(Comparator.comparing(StoresView.StoreDatabase::held).reversed());
        return new StoresView.StoreDetail(id, store.name(), databases, reliefs(all, store, as));
    }

    private Optional<StoresView.StoreDatabase> database(Evaluations.Fleetwide all, Evaluation e, String store) {
        Map<String, Double> kinds = new TreeMap<>();
        double held = 0;
        double needed = 0;
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().store(k).equals(store)) {
                double bytes = RetainedBytes.known(e.retention().bytes(k));
                held += bytes;
                needed += e.retention().verdict(k) == Verdict.NEEDED ? bytes : 0;
                kinds.merge(e.history().kind(e.retention().backup(k)).word(), bytes, Double::sum);
            }
        }
        if (kinds.isEmpty()) {
            return Optional.empty();
        }
        double[] room = ahead.of(all, e).room().get(store);
        boolean rule = e.version()
                .filter(PolicyVersion::enabled)
                .filter(v -> !v.copies().equals(CopiesRule.NONE))
                .isPresent();
        Optional<String> lacking = findings.of(all, e).stream()
                .filter(f -> f.code().equals("copies-lacking"))
                .map(f -> FindingWords.of(f).title())
                .findFirst();
        return Optional.of(new StoresView.StoreDatabase(
                e.database().id(),
                e.database().name(),
                held,
                needed,
                room == null ? 0 : room[7] - needed,
                kinds,
                rule ? lacking.orElse("kept") : null,
                lacking.isEmpty()));
    }

    /** What brings a store down that fills, the most first. */
    private static List<StoresView.Relief> reliefs(Evaluations.Fleetwide all, BackupStore store, LookAhead.AsItIs as) {
        double held = RetainedBytes.byStore(all.answers(), v -> true).getOrDefault(store.id(), 0.0);
        double needed =
                RetainedBytes.byStore(all.answers(), v -> v == Verdict.NEEDED).getOrDefault(store.id(), 0.0);
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
        Evaluations.Fleetwide all = evaluations.all(lookout.view("", ""));
        List<StoresView.BackTested> out = new ArrayList<>();
        tested.forecast().forEach((store, forecast) -> {
            double[] actual = tested.actual().getOrDefault(store, new double[forecast.length]);
            int last = forecast.length - 1;
            out.add(new StoresView.BackTested(
                    store,
                    all.fleet().storeName(store),
                    StoreRooms.list(forecast),
                    StoreRooms.list(actual),
                    actual[last] > 0 ? (forecast[last] - actual[last]) / actual[last] : null));
        });
        return new StoresView.BackTest(tested.made(), StoreRooms.TESTED, out);
    }

    /** How fast backups and copies came to a store over the last weeks. */
    private record Rates(Evaluations.Fleetwide all, String store) {

        /** Full backups that landed here as they ended. */
        StoresView.@Nullable Rate written() {
            return rate(true);
        }

        /** Data backups that were copied here after they had ended. */
        StoresView.@Nullable Rate copied() {
            return rate(false);
        }

        private StoresView.@Nullable Rate rate(boolean directly) {
            List<Double> out = new ArrayList<>();
            for (Evaluation e : all.answers()) {
                History h = e.history();
                long since = e.asOf().minus(Duration.ofDays(DAYS)).toEpochMilli();
                for (int i : h.others()) {
                    for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
                        boolean counts = h.kind(i) == Kind.FULL
                                && h.endedMs(i) >= since
                                && h.store(c).equals(store)
                                && h.landedMs(c) <= e.asOf().toEpochMilli()
                                && !Double.isNaN(h.bytes(c));
                        boolean atOnce = h.landedMs(c) <= h.endedMs(i);
                        long took = directly ? h.endedMs(i) - h.startedMs(i) : h.landedMs(c) - h.endedMs(i);
                        if (counts && atOnce == directly && took > 0) {
                            out.add(h.bytes(c) * 1000 / took);
                        }
                    }
                }
            }
            return rate(out);
        }

        /** What drills read from it. */
        StoresView.@Nullable Rate read() {
            return rate(new ArrayList<>(ObservedReadRates.of(all, store)));
        }

        private static StoresView.@Nullable Rate rate(List<Double> out) {
            if (out.isEmpty()) {
                return null;
            }
            out.sort(Comparator.naturalOrder());
            return new StoresView.Rate(out.get(out.size() / 2), out.get(out.size() - 1), out.size());
        }
    }
}
