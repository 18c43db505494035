package firth.server.history;

import firth.core.model.Database;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.store.Entries;
import firth.store.Snapshot;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** How many lines of history each choice would leave, were it added to what else is chosen. */
final class HistoryFacets {

    private static final int MOST_CHOICES = 15;

    private final FleetNow fleet;
    private final Lookout.View view;
    private final HistoryAsked asked;
    private final List<Lines> lines = new ArrayList<>();
    private final boolean complete;

    private record Lines(Database database, String kind, String outcome, long count) {}

    HistoryFacets(FleetNow fleet, Snapshot snapshot, Lookout.View view, HistoryAsked asked) {
        this.fleet = fleet;
        this.view = view;
        this.asked = asked;
        Entries.Tallies counted =
                snapshot.entries().tallies(asked.filter(fleet, view).inTime());
        this.complete = counted.complete();
        HistoryFolds folds =
                asked.fold ? HistoryFolds.of(snapshot, asked.filter(fleet, view).inTime()) : HistoryFolds.none();
        for (Entries.Tally t : counted.tallies()) {
            long hidden = folds.hidden(t.database(), t.kind(), t.outcome());
            add(t.database(), t.kind().word(), t.outcome().word(), t.lines() - hidden);
        }
        HistoryAsked anything = new HistoryAsked();
        anything.words = asked.words;
        anything.store = asked.store;
        new OtherEvents(fleet, snapshot, view, anything)
                .lines()
                .forEach(l -> add(l.database(), l.kind(), l.outcome(), 1));
    }

    private void add(String database, String kind, String outcome, long count) {
        fleet.database(database).ifPresent(d -> lines.add(new Lines(d, kind, outcome, count)));
    }

    HistoryView.Facets all() {
        List<HistoryView.Facet> out = new ArrayList<>();
        out.add(facet("kind", Lines::kind, Function.identity()));
        out.add(facet("outcome", Lines::outcome, Function.identity()));
        out.add(facet("policy", l -> trait("policy", l), this::policyName));
        out.add(facet("site", l -> trait("site", l), id -> fleet.siteName(Optional.of(id))));
        out.add(facet("engine", l -> trait("engine", l), Function.identity()));
        out.add(facet("database", l -> trait("database", l), fleet::databaseName));
        long total =
                lines.stream().filter(l -> fits(l, "")).mapToLong(Lines::count).sum();
        return new HistoryView.Facets(total, complete, out);
    }

    private String trait(String name, Lines l) {
        return HistoryAsked.trait(name, l.database, view.asOf());
    }

    private String policyName(String id) {
        return fleet.fleet().versionAt(id, view.asOf()).map(PolicyVersion::name).orElse(id);
    }

    private HistoryView.Facet facet(String name, Function<Lines, String> value, Function<String, String> text) {
        Map<String, Long> counts = new HashMap<>();
        for (Lines l : lines) {
            if (fits(l, name)) {
                counts.merge(value.apply(l), l.count, Long::sum);
            }
        }
        return new HistoryView.Facet(
                name,
                counts.entrySet().stream()
                        .sorted(Map.Entry.<String, Long>comparingByValue(Comparator.reverseOrder())
                                .thenComparing(Map.Entry.comparingByKey()))
                        .limit(MOST_CHOICES)
                        .map(e -> new HistoryView.Choice(
                                e.getKey(),
                                e.getKey().equals(HistoryAsked.NONE) ? "none" : text.apply(e.getKey()),
                                e.getValue()))
                        .toList());
    }

    /** Whether lines fit everything chosen but for one matter. */
    private boolean fits(Lines l, String but) {
        Set<String> kinds = HistoryAsked.listed(asked.kind);
        boolean quiet = l.kind.equals("log")
                && !Set.of(Outcome.FAILED.word(), Outcome.CANCELLED.word()).contains(l.outcome);
        boolean kind = but.equals("kind") || (kinds.isEmpty() ? asked.logs || !quiet : kinds.contains(l.kind));
        boolean outcome = but.equals("outcome")
                || asked.outcomes().isEmpty()
                || asked.outcomes().stream().anyMatch(o -> o.word().equals(l.outcome));
        return kind && outcome && asked.fits(l.database, view.asOf(), but);
    }
}
