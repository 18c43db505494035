package firth.server.drills;

import firth.core.cover.Availability;
import firth.core.evaluation.Evaluation;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Spoilage;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.server.evaluation.Evaluations;
import firth.server.restore.DrillTimes;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The copies a drill that failed is taken to have read: those of the data backups of its plan. */
final class Suspects {

    private Suspects() {}

    /** A copy by the backup it is of and the store it lies in. */
    record Suspect(String backup, String store) {}

    /** Those that are still taken to be usable. */
    static List<Suspect> of(Evaluations.Fleetwide all, Evaluation e, Drill drill) {
        Optional<Way> way = DrillTimes.plan(drill, all.facts(e), all.fleet().fleet());
        Availability now = new Availability(
                e.database(), all.fleet().fleet(), e.history(), e.asOf().toEpochMilli());
        return way.map(Way::chain).orElse(List.of()).stream()
                .filter(s -> isLeft(e, now, s))
                .map(s -> new Suspect(s.backup(), s.store()))
                .toList();
    }

    private static boolean isLeft(Evaluation e, Availability now, Step step) {
        int i = e.history().row(step.backup()).orElse(-1);
        for (int c = i < 0 ? 0 : e.history().firstCopy(i);
                i >= 0 && c < e.history().firstCopy(i + 1);
                c++) {
            if (e.history().store(c).equals(step.store()) && now.copyAvailableNow(c)) {
                return true;
            }
        }
        return false;
    }

    /** The backup with that copy alone, found spoiled: nobody knows since when. */
    static Optional<Backup> spoilt(Snapshot snapshot, Suspect s, Instant found) {
        return snapshot.backup(s.backup())
                .flatMap(b -> b.copies().stream()
                        .filter(c -> c.store().equals(s.store()))
                        .findFirst()
                        .map(c -> b.withCopies(List.of(c.spoilt(new Spoilage(found, Optional.empty()))))));
    }
}
