package firth.server.gaps;

import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Slices;
import firth.server.evaluation.Summaries;
import firth.server.platform.ListPart;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Holes in the logs of the fleet, with what is lost in them and which recur. */
@ApplicationScoped
class GapViews {
    private static final int SLICES = 240;

    /** So many of them are given for all stores together; where there are more they are made longer. */
    private static final int DRAWN = 1_000;

    private static final int COARSEST = 60;
    private static final Duration HOUR = Duration.ofHours(1);

    /** Stores that are drawn. */
    private static final int STORES = 12;

    /** Where there are more slices than this they come without names. */
    private static final int NAMED = 200;

    private static final int NAMES = 8;

    private final Summaries summaries;
    private final GapPart part;
    private final Lookout lookout;

    GapViews(Summaries summaries, GapPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    GapsView gaps(GapsAsked asked, ListPart stretch) {
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        List<GapsView.GapRow> all = rows(summaries.all(view, part));
        List<GapsView.GapRow> found = all.stream().filter(asked.asked()).toList();
        return new GapsView(view.asOf(), tally(all), tally(found), stretch.of(found));
    }

    /** Open ones first, then those that nothing bridges, those inside reach, the newest. */
    private static List<GapsView.GapRow> rows(Parts<List<GapsView.GapRow>> all) {
        List<GapsView.GapRow> rows =
                new ArrayList<>(all.each().stream().flatMap(List::stream).toList());
        rows.sort(Comparator.comparing((GapsView.GapRow r) -> !r.gap().state().equals(GapPart.OPEN))
                .thenComparing(r -> r.gap().state().equals("bridged"))
                .thenComparing(r -> !r.inside())
                .thenComparing(r -> Optional.ofNullable(r.gap().after()).orElse(Instant.MIN), Comparator.reverseOrder())
                .thenComparing(GapsView.GapRow::database));
        return rows;
    }

    private static GapsView.GapTally tally(List<GapsView.GapRow> rows) {
        return new GapsView.GapTally(
                rows.size(),
                (int) rows.stream().map(GapsView.GapRow::database).distinct().count(),
                count(rows, GapPart.OPEN),
                count(rows, "unbridged"));
    }

    private static int count(List<GapsView.GapRow> rows, String state) {
        return (int) rows.stream().filter(r -> r.gap().state().equals(state)).count();
    }

    GapsView.Outages outages(@Nullable String asOf, @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        Parts<List<GapsView.GapRow>> all = summaries.all(view, part);
        List<GapsView.GapRow> rows = rows(all);
        List<GapsView.StoreOutage> stores = List.of();
        List<GapsView.StoreOutage> shown = List.of();
        for (int slices = SLICES; slices >= COARSEST; slices /= 2) {
            stores = strips(all.now(), rows, view, slices);
            shown = stores.stream().limit(STORES).toList();
            if (shown.stream().mapToInt(s -> s.slices().size()).sum() <= DRAWN) {
                break;
            }
        }
        return new GapsView.Outages(
                view.period().from(), view.period().to(), shown, Math.max(0, stores.size() - STORES));
    }

    /** Slices of an hour, or as long as it takes to show the period in so many of them. */
    private static List<GapsView.StoreOutage> strips(
            FleetNow fleet, List<GapsView.GapRow> rows, Lookout.View view, int most) {
        Slices slices = Slices.of(view.period(), most, HOUR);
        Map<String, Map<Integer, Set<String>>> found = new TreeMap<>();
        for (GapsView.GapRow r : rows) {
            Instant after = r.gap().after();
            Instant before =
                    r.gap().state().equals(GapPart.OPEN) ? view.asOf() : r.gap().before();
            if (after == null || before == null) {
                continue;
            }
            for (int s = slices.begin(after); s < slices.end(before); s++) {
                found.computeIfAbsent(Optional.ofNullable(r.store()).orElse(""), k -> new TreeMap<>())
                        .computeIfAbsent(s, k -> new LinkedHashSet<>())
                        .add(r.name());
            }
        }
        boolean named = found.values().stream().mapToInt(Map::size).sum() <= NAMED;
        return found.entrySet().stream()
                .sorted(Comparator.comparingInt(store ->
                        -store.getValue().values().stream().mapToInt(Set::size).sum()))
                .map(store -> new GapsView.StoreOutage(
                        store.getKey().isEmpty() ? null : store.getKey(),
                        store.getKey().isEmpty() ? "no store" : fleet.storeName(store.getKey()),
                        store.getValue().entrySet().stream()
                                .map(s -> new GapsView.OutageSlice(
                                        slices.from(s.getKey()),
                                        slices.to(s.getKey()),
                                        s.getValue().size(),
                                        s.getValue().stream()
                                                .limit(named ? NAMES : 0)
                                                .toList()))
                                .toList()))
                .toList();
    }
}
