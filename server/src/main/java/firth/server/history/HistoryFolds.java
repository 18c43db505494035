package firth.server.history;

import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.store.Entry;
import firth.store.EntryFilter;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Runs of a database and kind that failed of one cause, which are one line of history: the newest stands for all of them. */
final class HistoryFolds {

    /** The newest failures of the period; older ones stand for themselves. */
    static final int LOOKED_AT = 5_000;

    /** Fewer are not folded. */
    static final int FEWEST = 3;

    private final Map<String, Fold> byNewest = new HashMap<>();
    private final Set<String> hidden = new HashSet<>();
    private final Map<Place, Long> hiddenOf = new HashMap<>();

    /** @param runs the newest first */
    record Fold(List<Entry> runs) {
        int size() {
            return runs.size();
        }

        Instant first() {
            return runs.get(runs.size() - 1).started();
        }
    }

    private record Place(String database, Kind kind, Outcome outcome) {}

    private record Cause(Place place, String said) {}

    private HistoryFolds() {}

    static HistoryFolds none() {
        return new HistoryFolds();
    }

    /** @param filter what is asked for; what failed of it is folded */
    static HistoryFolds of(Snapshot snapshot, EntryFilter filter) {
        HistoryFolds out = new HistoryFolds();
        Map<Cause, List<Entry>> causes = new LinkedHashMap<>();
        filter.unsuccessful()
                .map(f -> snapshot.entries().page(f, Optional.empty(), LOOKED_AT))
                .orElse(List.of())
                .forEach(e ->
                        causes.computeIfAbsent(cause(e), c -> new ArrayList<>()).add(e));
        causes.forEach((cause, runs) -> {
            if (runs.size() >= FEWEST) {
                out.byNewest.put(runs.get(0).id(), new Fold(List.copyOf(runs)));
                runs.stream().skip(1).forEach(e -> out.hidden.add(e.id()));
                out.hiddenOf.merge(cause.place, runs.size() - 1L, Long::sum);
            }
        });
        return out;
    }

    /** What a run says is the same but for numbers, which count up. */
    private static Cause cause(Entry e) {
        Run run = e.run().orElseThrow();
        return new Cause(
                new Place(e.database(), e.kind(), run.outcome()),
                run.message().orElse("").replaceAll("[0-9]+", "#"));
    }

    /** Whether a line is not shown, because a newer one stands for it. */
    boolean hides(Entry e) {
        return hidden.contains(e.id());
    }

    /** What a line stands for besides itself. */
    Optional<Fold> of(Entry e) {
        return Optional.ofNullable(byNewest.get(e.id()));
    }

    /** The runs a line stands for, itself left out. */
    List<Entry> under(String newest) {
        return Optional.ofNullable(byNewest.get(newest))
                .map(f -> f.runs.subList(1, f.size()))
                .orElse(List.of());
    }

    long hidden(String database, Kind kind, Outcome outcome) {
        return hiddenOf.getOrDefault(new Place(database, kind, outcome), 0L);
    }
}
