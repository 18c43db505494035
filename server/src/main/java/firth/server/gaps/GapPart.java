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
import firth.server.evaluation.Answered;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.IntConsumer;

/** The holes in the logs of a database, and that they have stopped. */
@Singleton
class GapPart implements SummaryPart<List<GapsView.GapRow>> {

    /** The state of a gap that has no end yet. */
    static final String OPEN = "open";

    @Override
    public List<GapsView.GapRow> of(Answered one) {
        Evaluation e = one.answer();
        List<GapsView.GapRow> rows = new ArrayList<>();
        if (e.database().isServedAt(e.asOf())) {
            List<Hole> holes =
                    Hole.between(e.mishap().restorable(), e.database().inServiceFrom(), e.asOf(), e.gaps());
            e.gaps().forEach(g -> rows.add(row(one.now(), e, g, holes)));
            e.cadence().stream().filter(c -> c.to().isEmpty()).forEach(c -> rows.add(stopped(one.now(), e, c)));
        }
        return rows;
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
                e.database().engine().orElse(null),
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
                e.database().engine().orElse(null),
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
}
