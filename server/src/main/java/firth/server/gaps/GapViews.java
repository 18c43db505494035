package firth.server.gaps;

import firth.core.adherence.CadenceGap;
import firth.core.cover.Gap;
import firth.core.cover.Hole;
import firth.core.cover.Lineages;
import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.server.cover.Cover;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Slices;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.TreeMap;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** Holes in the logs of the fleet, with what is lost in them and which recur. */
@ApplicationScoped
class GapViews {
    /** The state of a gap that has no end yet. */
    private static final String OPEN = "open";

    private static final int SLICES = 240;
    private static final Duration HOUR = Duration.ofHours(1);

    private final Evaluations evaluations;
    private final Lookout lookout;

    GapViews(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    GapsView gaps(@Nullable String asOf, @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide all = evaluations.all(view);
        List<GapsView.GapRow> rows = new ArrayList<>();
        for (Evaluation e : all.answers()) {
            if (e.database().isServedAt(view.asOf())) {
                List<Hole> holes =
                        Hole.between(e.mishap().restorable(), e.database().inServiceFrom(), e.asOf(), e.gaps());
                e.gaps().forEach(g -> rows.add(row(all.fleet(), e, g, holes)));
                e.cadence().stream().filter(c -> c.to().isEmpty()).forEach(c -> rows.add(stopped(all.fleet(), e, c)));
            }
        }
        rows.sort(Comparator.comparing((GapsView.GapRow r) -> !r.gap().state().equals(OPEN))
                .thenComparing(r -> r.gap().state().equals("bridged"))
                .thenComparing(r -> !r.inside())
                .thenComparing(r -> Optional.ofNullable(r.gap().after()).orElse(Instant.MIN), Comparator.reverseOrder())
                .thenComparing(GapsView.GapRow::database));
        return new GapsView(
                view.asOf(), view.period().from(), view.period().to(), rows, strips(all.fleet(), rows, view));
    }

    /** Logs that have stopped: a gap whose end is open, and with it goes every moment since the recovery point. */
    private static GapsView.GapRow stopped(FleetNow fleet, Evaluation e, CadenceGap c) {
        History h = e.history();
        OptionalInt last = c.lastLog().map(h::row).orElse(OptionalInt.empty());
        Optional<String> store = last.stream().mapToObj(i -> firstStore(h, i)).findFirst();
        long position = last.isPresent() ? h.logTo(last.getAsInt()) : 0;
        Lineages lineages = new Lineages(e.database(), e.asOf().toEpochMilli());
        int lineage = last.isPresent() ? h.lineage(last.getAsInt()) : lineages.count() - 1;
        return new GapsView.GapRow(
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                e.version().map(PolicyVersion::name).orElse(null),
                new Cover.GapInfo(
                        lineages.id(lineage),
                        c.stream(),
                        position,
                        position,
                        last.isPresent() ? Instant.ofEpochMilli(h.toTimeMs(last.getAsInt())) : c.from(),
                        null,
                        OPEN,
                        null,
                        null,
                        "logs-stopped"),
                e.mishap().recoveryPoint().orElse(e.database().inServiceFrom()),
                null,
                true,
                null,
                store.orElse(null),
                store.map(fleet::storeName).orElse("no store"));
    }

    private static GapsView.GapRow row(FleetNow fleet, Evaluation e, Gap g, List<Hole> holes) {
        List<Hole> own = holes.stream()
                .filter(h -> h.gap().filter(g::equals).isPresent())
                .toList();
        Optional<Instant> leaves =
                g.before().flatMap(b -> e.reach().leaves(b, e.database().clock()));
        Optional<String> store = store(e, g);
        return new GapsView.GapRow(
                e.database().id(),
                e.database().name(),
                e.database().zone().getId(),
                e.version().map(PolicyVersion::name).orElse(null),
                CoverRows.gap(e, g),
                own.stream().map(Hole::from).min(Comparator.naturalOrder()).orElse(null),
                own.stream().anyMatch(h -> h.where() == Hole.Where.AFTER)
                        ? null
                        : own.stream()
                                .map(Hole::to)
                                .max(Comparator.naturalOrder())
                                .orElse(null),
                leaves.isEmpty() || leaves.get().isAfter(e.asOf()),
                leaves.orElse(null),
                store.orElse(null),
                store.map(fleet::storeName).orElse("no store"));
    }

    /** Where a log of the hole lay that is not to be had any more, or else the first log after it does. */
    private static Optional<String> store(Evaluation e, Gap g) {
        History h = e.history();
        int stream = e.database().streams().indexOf(g.stream());
        Lineages lineages = new Lineages(e.database(), e.asOf().toEpochMilli());
        int[] best = {-1};
        IntConsumer look = i -> {
            boolean own = h.kind(i) == Kind.LOG
                    && h.stream(i) == stream
                    && lineages.id(h.lineage(i)).equals(g.lineage())
                    && h.logTo(i) > g.from()
                    && h.firstCopy(i) < h.firstCopy(i + 1);
            if (own && (best[0] < 0 || h.logFrom(i) < h.logFrom(best[0]))) {
                best[0] = i;
            }
        };
        Stretches stretches = h.stretches();
        for (int s = 0; s < stretches.count(); s++) {
            look.accept(Stretches.firstWhere(stretches.first(s), stretches.end(s) - 1, i -> h.logTo(i) > g.from()));
        }
        stretches.eachLoose(look);
        return best[0] < 0 ? Optional.empty() : Optional.of(firstStore(h, best[0]));
    }

    private static String firstStore(History h, int i) {
        int first = h.firstCopy(i);
        for (int c = first + 1; c < h.firstCopy(i + 1); c++) {
            first = h.landedMs(c) < h.landedMs(first) ? c : first;
        }
        return h.store(first);
    }

    /** Slices of an hour, or as long as it takes to show the period in {@value #SLICES} of them. */
    private static List<GapsView.StoreOutage> strips(FleetNow fleet, List<GapsView.GapRow> rows, Lookout.View view) {
        Slices slices = Slices.of(view.period(), SLICES, HOUR);
        Map<String, Map<Integer, List<String>>> found = new TreeMap<>();
        for (GapsView.GapRow r : rows) {
            Instant after = r.gap().after();
            Instant before =
                    r.gap().state().equals(OPEN) ? view.asOf() : r.gap().before();
            if (after == null || before == null) {
                continue;
            }
            for (int s = slices.begin(after); s < slices.end(before); s++) {
                List<String> in = found.computeIfAbsent(
                                Optional.ofNullable(r.store()).orElse(""), k -> new TreeMap<>())
                        .computeIfAbsent(s, k -> new ArrayList<>());
                if (!in.contains(r.name())) {
                    in.add(r.name());
                }
            }
        }
        List<GapsView.StoreOutage> out = new ArrayList<>();
        found.forEach((store, missing) -> out.add(new GapsView.StoreOutage(
                store.isEmpty() ? null : store,
                store.isEmpty() ? "no store" : fleet.storeName(store),
                missing.entrySet().stream()
                        .map(s ->
                                new GapsView.OutageSlice(slices.from(s.getKey()), slices.to(s.getKey()), s.getValue()))
                        .toList())));
        return out;
    }
}
