package firth.server.drills;

import firth.core.cover.Availability;
import firth.core.evaluation.Evaluation;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Kind;
import firth.core.model.Spoilage;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.server.evaluation.Evaluations;
import firth.server.restore.DrillTimes;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** The copies a drill is taken to have read: those of its plan that are still taken to be usable. */
final class CopiesRead {

    private CopiesRead() {}

    /** A copy by the backup it is of and the store it lies in. */
    record Read(String backup, String store) {}

    /** The data backups of the plan: they come under suspicion when it failed. */
    static List<Read> dataOf(Evaluations.Fleetwide all, Evaluation e, Drill drill) {
        return of(all, e, drill, Way::chain);
    }

    /** The data backups and logs of the plan: they are known by it when it went well. */
    static List<Read> of(Evaluations.Fleetwide all, Evaluation e, Drill drill) {
        return of(
                all,
                e,
                drill,
                way -> way.steps().stream().filter(s -> s.kind() != Kind.CONFIG).toList());
    }

    private static List<Read> of(
            Evaluations.Fleetwide all, Evaluation e, Drill drill, Function<Way, List<Step>> which) {
        Availability now = new Availability(
                e.database(), all.fleet().fleet(), e.history(), e.asOf().toEpochMilli());
        return DrillTimes.plan(drill, all.facts(e), all.fleet().fleet()).map(which).orElse(List.of()).stream()
                .filter(s -> isLeft(e, now, s))
                .map(s -> new Read(s.backup(), s.store()))
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
    static Optional<Backup> spoilt(Snapshot snapshot, Read read, Instant found) {
        return snapshot.backup(read.backup())
                .flatMap(b -> b.copies().stream()
                        .filter(c -> c.store().equals(read.store()))
                        .findFirst()
                        .map(c -> b.withCopies(List.of(c.spoilt(new Spoilage(found, Optional.empty()))))));
    }
}
