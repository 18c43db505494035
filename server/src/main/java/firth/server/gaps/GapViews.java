package firth.server.gaps;

import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Slices;
import firth.server.evaluation.Summaries;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Holes in the logs of the fleet, with what is lost in them and which recur. */
@ApplicationScoped
class GapViews {
    private static final int SLICES = 240;
    private static final Duration HOUR = Duration.ofHours(1);

    private final Summaries summaries;
    private final GapPart part;
    private final Lookout lookout;

    GapViews(Summaries summaries, GapPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    GapsView gaps(@Nullable String asOf, @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        Parts<List<GapsView.GapRow>> all = summaries.all(view, part);
        List<GapsView.GapRow> rows =
                new ArrayList<>(all.each().stream().flatMap(List::stream).toList());
        rows.sort(Comparator.comparing((GapsView.GapRow r) -> !r.gap().state().equals(GapPart.OPEN))
                .thenComparing(r -> r.gap().state().equals("bridged"))
                .thenComparing(r -> !r.inside())
                .thenComparing(r -> Optional.ofNullable(r.gap().after()).orElse(Instant.MIN), Comparator.reverseOrder())
                .thenComparing(GapsView.GapRow::database));
        return new GapsView(view.asOf(), view.period().from(), view.period().to(), rows, strips(all.now(), rows, view));
    }

    /** Slices of an hour, or as long as it takes to show the period in {@value #SLICES} of them. */
    private static List<GapsView.StoreOutage> strips(FleetNow fleet, List<GapsView.GapRow> rows, Lookout.View view) {
        Slices slices = Slices.of(view.period(), SLICES, HOUR);
        Map<String, Map<Integer, List<String>>> found = new TreeMap<>();
        for (GapsView.GapRow r : rows) {
            Instant after = r.gap().after();
            Instant before =
                    r.gap().state().equals(GapPart.OPEN) ? view.asOf() : r.gap().before();
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
