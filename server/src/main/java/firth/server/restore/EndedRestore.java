package firth.server.restore;

import firth.core.history.Stated;
import firth.core.model.Database;
import firth.core.model.Restore;
import firth.exchange.DatabaseDocument;
import firth.exchange.StatedRecords;
import firth.server.evaluation.Evaluations;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** The facts that follow from a restore that ended. */
final class EndedRestore {

    private final Evaluations evaluations;
    private final FactsHolder facts;

    EndedRestore(Evaluations evaluations, FactsHolder facts) {
        this.evaluations = evaluations;
        this.facts = facts;
    }

    List<Stated> facts(RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened, String by) {
        List<Stated> out = new ArrayList<>();
        if (ended.ok() && kept.over()) {
            out.add(withLineage(kept, ended, opened).stated());
        } else if (ended.ok() && ended.enrol()) {
            out.add(enrolled(kept, opened).stated());
        }
        out.add(StatedRecords.of(restore(kept, ended, opened, by)));
        return out;
    }

    private static Restore restore(
            RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened, String by) {
        return new Restore(
                kept.id(),
                kept.plan().database(),
                Optional.ofNullable(kept.plan().target()),
                Optional.ofNullable(ended.reached()),
                Optional.of(kept.plan().ways().get(0).tip()),
                Optional.of(kept.at()),
                Optional.of(opened),
                ended.ok(),
                kept.over() ? Optional.empty() : Optional.of(kept.name()),
                by,
                said(ended.message()).orElse(""));
    }

    /** The old database with the lineage the restore opened: it forks where logs stopped being applied. */
    private DatabaseDocument withLineage(RestoreView.KeptRestore kept, RestoreView.RestoreEnded ended, Instant opened) {
        List<RestoreView.StreamPosition> positions =
                ended.positions().isEmpty() ? kept.plan().positions() : ended.positions();
        if (positions.size() != kept.plan().streams().size()) {
            throw new BadRequest(
                    "positions",
                    "are missing: at which position of "
                            + String.join(", ", kept.plan().streams()) + " did logs stop being applied?");
        }
        Map<String, Long> forks = new TreeMap<>();
        positions.forEach(p -> forks.put(p.stream(), p.position()));
        try (Snapshot snapshot = facts.store().read()) {
            return known(snapshot, kept)
                    .withLineage(
                            said(ended.lineage()), kept.plan().ways().get(0).lineage(), opened, forks);
        }
    }

    /** A new database under the rules of the old one now in force, wherever they were stated. */
    private DatabaseDocument enrolled(RestoreView.KeptRestore kept, Instant opened) {
        try (Snapshot snapshot = facts.store().read()) {
            Database old =
                    evaluations.fleet(snapshot).database(kept.plan().database()).orElseThrow();
            return known(snapshot, kept)
                    .restoredAs(
                            kept.name(),
                            opened,
                            said(kept.host()),
                            old.policyAt(opened),
                            old.particulars().route());
        }
    }

    private static DatabaseDocument known(Snapshot snapshot, RestoreView.KeptRestore kept) {
        String id = kept.plan().database();
        return DatabaseDocument.among(snapshot.documents("database"), id)
                .orElseThrow(() -> new NotFound("There is no database " + id + "."));
    }

    private static Optional<String> said(@Nullable String text) {
        return Optional.ofNullable(text).map(String::strip).filter(t -> !t.isEmpty());
    }
}
