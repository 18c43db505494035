package firth.server.history;

import firth.core.evaluation.Evaluation;
import firth.core.model.Kind;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.Entry;
import firth.store.EntryFilter;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Pages of history, a line for each run and backup. */
@ApplicationScoped
class HistoryPages {
    private static final int LONGEST_PAGE = 500;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;

    HistoryPages(Evaluations evaluations, Lookout lookout, FactsHolder facts) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
    }

    /**
     * @param after the place to go on from, as the page before gave it; absent: the newest
     * @param under the id of a run that stands for others: they are given, the newest first
     */
    HistoryView page(HistoryAsked asked, @Nullable String after, @Nullable String under, int limit) {
        if (limit < 1 || limit > LONGEST_PAGE) {
            throw new BadRequest("limit", "is not between 1 and " + LONGEST_PAGE);
        }
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            Optional<Entry.Key> key = key(after);
            EntryFilter filter = asked.filter(fleet, view);
            boolean runs = asked.asksForRuns();
            HistoryFolds folds =
                    runs && (asked.fold || under != null) ? HistoryFolds.of(snapshot, filter) : HistoryFolds.none();
            if (under != null) {
                List<Entry> those =
                        folds.under(under).stream().limit(LONGEST_PAGE).toList();
                HistoryLines lines = new HistoryLines(fleet, view.asOf(), snapshot.entries()).with(judged(those, view));
                return new HistoryView(
                        view.asOf(),
                        view.period().from(),
                        those.stream().map(lines::line).toList(),
                        null);
            }
            List<Entry> entries = runs ? page(snapshot, filter, folds, key, limit) : List.of();
            HistoryLines lines = new HistoryLines(fleet, view.asOf(), snapshot.entries())
                    .with(judged(entries, view))
                    .with(folds);
            List<HistoryView.Line> out =
                    new ArrayList<>(entries.stream().map(lines::line).toList());
            new OtherEvents(fleet, snapshot, view, asked)
                    .lines().stream()
                            .filter(l -> key.isEmpty() || place(l).compareTo(key.get()) > 0)
                            .limit(limit)
                            .forEach(out::add);
            out.sort(Comparator.comparing(HistoryPages::place));
            List<HistoryView.Line> page = out.size() > limit ? out.subList(0, limit) : out;
            boolean more = page.size() == limit;
            return new HistoryView(
                    view.asOf(),
                    view.period().from(),
                    page,
                    more ? page.get(limit - 1).key() : null);
        }
    }

    /** The next lines that no newer one stands for. */
    static List<Entry> page(
            Snapshot snapshot, EntryFilter filter, HistoryFolds folds, Optional<Entry.Key> after, int limit) {
        List<Entry> out = new ArrayList<>();
        Optional<Entry.Key> from = after;
        boolean more = true;
        while (more && out.size() < limit) {
            List<Entry> some = snapshot.entries().page(filter, from, limit);
            some.stream().filter(e -> !folds.hides(e)).forEach(out::add);
            more = some.size() == limit;
            from = more ? Optional.of(some.get(limit - 1).key()) : from;
        }
        return out.size() > limit ? out.subList(0, limit) : out;
    }

    private static Entry.Key place(HistoryView.Line line) {
        return Entry.Key.of(line.key()).orElseThrow();
    }

    private static Optional<Entry.Key> key(@Nullable String after) {
        return after == null || after.isEmpty()
                ? Optional.empty()
                : Optional.of(Entry.Key.of(after)
                        .orElseThrow(() -> new BadRequest("after", "is not a place in history as a page gives it")));
    }

    /** The answers that say which slots some lines belong to; logs have none. */
    List<Evaluation> judged(List<Entry> entries, Lookout.View view) {
        Set<String> databases = entries.stream()
                .filter(e -> e.kind() != Kind.LOG)
                .map(Entry::database)
                .collect(Collectors.toSet());
        return databases.isEmpty()
                ? List.of()
                : evaluations.those(d -> databases.contains(d.id()), view).answers();
    }
}
