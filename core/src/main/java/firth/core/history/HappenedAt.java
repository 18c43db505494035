package firth.core.history;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Drill;
import firth.core.model.FleetRecord;
import firth.core.model.Restore;
import firth.core.model.Run;
import firth.core.model.Spoilage;
import java.time.Instant;
import java.util.function.Consumer;

/**
 * The moments at which a fact says something happened: starts, ends, landings, deletions, spoilages found, tests, drills
 * and lineages opened. Locks, holds, stops and effective dates are intentions, not happenings.
 */
public final class HappenedAt {

    private HappenedAt() {}

    public static void of(Run run, Consumer<Instant> moments) {
        moments.accept(run.started());
        run.ended().ifPresent(moments);
    }

    public static void of(Backup backup, Consumer<Instant> moments) {
        moments.accept(backup.started());
        moments.accept(backup.ended());
        backup.verified().ifPresent(moments);
        for (Copy copy : backup.copies()) {
            moments.accept(copy.landed());
            copy.gone().ifPresent(moments);
            copy.spoiled().map(Spoilage::found).ifPresent(moments);
        }
    }

    public static void of(FleetRecord record, Consumer<Instant> moments) {
        if (record instanceof Drill drill) {
            drill.started().ifPresent(moments);
            drill.ended().ifPresent(moments);
        } else if (record instanceof Restore restore) {
            restore.started().ifPresent(moments);
            restore.ended().ifPresent(moments);
        } else if (record instanceof Database database) {
            database.lineages().stream().skip(1).forEach(l -> l.openedAt().ifPresent(moments));
        }
    }
}
