package firth.server.history;

import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.model.Lineage;
import firth.core.model.Outcome;
import firth.core.model.Restore;
import firth.exchange.FleetFileReader;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.store.Entry;
import firth.store.Snapshot;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What stands in history beside runs and backups: drills, and restores that opened a lineage. */
final class OtherEvents {

    private static final int DRILLS = 2;
    private static final int RESTORES = 3;
    private static final int DONE = 4;

    private final FleetNow fleet;
    private final Snapshot snapshot;
    private final Lookout.View view;
    private final HistoryAsked asked;

    OtherEvents(FleetNow fleet, Snapshot snapshot, Lookout.View view, HistoryAsked asked) {
        this.fleet = fleet;
        this.snapshot = snapshot;
        this.view = view;
        this.asked = asked;
    }

    /** Everything in the period that was chosen, newest first. */
    List<HistoryView.Line> lines() {
        return lines(fleet.databases().values().stream()
                .filter(d -> asked.fits(d, view.asOf(), ""))
                .toList());
    }

    /** What is in the period of some databases, newest first. */
    List<HistoryView.Line> lines(List<Database> databases) {
        List<Keyed> out = new ArrayList<>();
        if (asked.asksFor("restore")) {
            for (Database d : databases) {
                restores(d, out);
            }
            List<String> documents = snapshot.documents("restore");
            for (int n = 0; n < documents.size(); n++) {
                Restore restore = (Restore) FleetFileReader.recordOf(documents.get(n));
                int number = n;
                databases.stream()
                        .filter(d -> d.id().equals(restore.database())
                                && restore.at().isPresent())
                        .forEach(d -> out.add(done(restore, d, number)));
            }
        }
        if (asked.asksFor("drill")) {
            List<String> documents = snapshot.documents("drill");
            for (int n = 0; n < documents.size(); n++) {
                Drill drill = (Drill) FleetFileReader.recordOf(documents.get(n));
                Optional<Database> database = databases.stream()
                        .filter(d -> d.id().equals(drill.database()))
                        .findFirst();
                if (database.isPresent() && drill.at().isPresent()) {
                    out.add(drill(drill, database.get(), n));
                }
            }
        }
        Set<Outcome> outcomes = asked.outcomes();
        return out.stream()
                .filter(k -> !k.line.started().isBefore(view.period().from())
                        && !k.line.started().isAfter(view.asOf()))
                .filter(k -> outcomes.isEmpty()
                        || outcomes.stream().anyMatch(o -> o.word().equals(k.line.outcome())))
                .filter(k -> asked.words().stream().allMatch(w -> says(k.line, w.toLowerCase(Locale.ROOT))))
                .sorted(Comparator.comparing(k -> k.key))
                .map(k -> k.line)
                .toList();
    }

    private record Keyed(Entry.Key key, HistoryView.Line line) {}

    private static boolean says(HistoryView.Line line, String word) {
        return (line.id() + " " + line.database() + " " + line.name() + " " + line.message())
                .toLowerCase(Locale.ROOT)
                .contains(word);
    }

    private void restores(Database d, List<Keyed> out) {
        List<Lineage> lineages = d.lineages();
        for (int n = 1; n < lineages.size(); n++) {
            Lineage lineage = lineages.get(n);
            if (lineage.openedAt().isPresent()) {
                String from = lineage.parent()
                        .map(p -> "restored from lineage " + p + ", went on as " + lineage.id())
                        .orElse("began an unrelated history, " + lineage.id());
                Instant at = lineage.openedAt().get();
                out.add(line(RESTORES, n, d, "restore", d.id() + ":lineage:" + lineage.id(), "ok", at, at, from));
            }
        }
    }

    private Keyed done(Restore restore, Database d, int n) {
        List<String> said = new ArrayList<>();
        restore.into().ifPresent(i -> said.add("restored as " + i));
        restore.reached().ifPresent(r -> said.add("reached " + r));
        restore.backup().ifPresent(b -> said.add("from " + b));
        if (!restore.message().isEmpty()) {
            said.add(restore.message());
        }
        Instant started = restore.started().or(restore::at).orElseThrow();
        return line(
                DONE,
                n,
                d,
                "restore",
                restore.id(),
                restore.ok() ? "ok" : "failed",
                started,
                restore.ended().orElse(null),
                String.join("; ", said));
    }

    private Keyed drill(Drill drill, Database d, int n) {
        Instant started = drill.started().or(drill::at).orElseThrow();
        Optional<Instant> ended = drill.ended().filter(e -> !e.isAfter(view.asOf()));
        boolean ok = drill.ok().orElse(false);
        String outcome = ended.isEmpty() && drill.ended().isPresent() ? "running" : ok ? "ok" : "failed";
        List<String> said = new ArrayList<>();
        drill.reached().ifPresent(r -> said.add("reached " + r));
        if (ok) {
            said.add(
                    drill.checks().isEmpty() ? "nothing was checked" : "checked: " + String.join(", ", drill.checks()));
        }
        if (!drill.message().isEmpty()) {
            said.add(drill.message());
        }
        return line(DRILLS, n, d, "drill", drill.id(), outcome, started, ended.orElse(null), String.join("; ", said));
    }

    private static Keyed line(
            int table,
            int n,
            Database d,
            String kind,
            String id,
            String outcome,
            Instant started,
            @Nullable Instant ended,
            String message) {
        Entry.Key key = new Entry.Key(started.toEpochMilli(), table, n);
        double took = ended == null ? 0 : Duration.between(started, ended).toMillis() / 1000.0;
        return new Keyed(
                key,
                new HistoryView.Line(
                        key.toString(),
                        id,
                        null,
                        d.id(),
                        d.name(),
                        d.zone().getId(),
                        kind,
                        outcome,
                        started,
                        ended,
                        took > 0 ? new HistoryView.Figure(took, null, null, 0, null, false) : null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        0,
                        List.of(),
                        false,
                        List.of(),
                        "",
                        message,
                        null));
    }
}
