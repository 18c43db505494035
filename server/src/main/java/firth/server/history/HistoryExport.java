package firth.server.history;

import firth.exchange.FleetFileWriter;
import firth.exchange.HistoryCsv;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.Entry;
import firth.store.EntryFilter;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import java.util.Optional;

/** History as a file, as long as it is. */
@ApplicationScoped
class HistoryExport {
    private static final int EXPORTED_AT_ONCE = 2_000;

    private final Evaluations evaluations;
    private final Lookout lookout;
    private final FactsHolder facts;
    private final HistoryPages historyPages;

    HistoryExport(Evaluations evaluations, Lookout lookout, FactsHolder facts, HistoryPages historyPages) {
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.facts = facts;
        this.historyPages = historyPages;
    }

    /** Everything chosen, as fleet file lines or as a table. */
    StreamingOutput export(HistoryAsked asked, String format) {
        Lookout.View view = lookout.view(asked.asOf, asked.period);
        return format.equals("csv") ? to -> table(asked, view, to) : to -> records(asked, view, to);
    }

    private interface Each {
        void take(FleetNow fleet, Snapshot snapshot, List<Entry> some) throws IOException;
    }

    private void each(HistoryAsked asked, Lookout.View view, Each each) throws IOException {
        try (Snapshot snapshot = facts.store().read()) {
            FleetNow fleet = evaluations.fleet(snapshot);
            EntryFilter filter = asked.filter(fleet, view);
            Optional<Entry.Key> after = Optional.empty();
            boolean more = asked.asksForRuns();
            while (more) {
                List<Entry> some = snapshot.entries().page(filter, after, EXPORTED_AT_ONCE);
                each.take(fleet, snapshot, some);
                more = some.size() == EXPORTED_AT_ONCE;
                after = more ? Optional.of(some.get(some.size() - 1).key()) : after;
            }
        }
    }

    private void records(HistoryAsked asked, Lookout.View view, OutputStream to) throws IOException {
        try (FleetFileWriter out = new FleetFileWriter(to)) {
            each(asked, view, (fleet, snapshot, some) -> {
                for (Entry e : some) {
                    if (e.run().isPresent()) {
                        out.write(e.run().get());
                    }
                    if (e.backup().isPresent()) {
                        out.write(e.backup().get());
                    }
                }
            });
        }
    }

    private void table(HistoryAsked asked, Lookout.View view, OutputStream to) throws IOException {
        try (HistoryCsv out = new HistoryCsv(to)) {
            each(asked, view, (fleet, snapshot, some) -> {
                HistoryLines lines =
                        new HistoryLines(fleet, view.asOf(), snapshot.entries()).with(historyPages.judged(some, view));
                for (Entry e : some) {
                    HistoryView.Line l = lines.line(e);
                    out.write(
                            e.run(),
                            e.backup(),
                            new HistoryCsv.Judged(
                                    l.name(),
                                    l.outcome(),
                                    Optional.ofNullable(l.seconds()).map(HistoryView.Figure::median),
                                    Optional.ofNullable(l.bytes()).map(HistoryView.Figure::median),
                                    Optional.ofNullable(l.schedule()),
                                    Optional.ofNullable(l.verdict()),
                                    l.spillSeconds(),
                                    l.broken()));
                }
            });
        }
    }
}
