package firth.server.watch;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * What still needs a backup, the most urgent first.
 *
 * @param databases how many need one
 * @param found how many backups are asked for
 * @param overdue how many of those are overdue
 * @param rows a stretch of them
 */
public record NeedsView(Instant asOf, int databases, int found, int overdue, List<NeededBackup> rows) {

    /**
     * A backup that is needed.
     *
     * @param component of the database; absent: all of it
     * @param by when it is to be there; not after asOf: overdue
     * @param why nothing, first, behind, gap, component, slot-lost, slot-open or promise
     * @param restore what a restore of the newest moment would take today; absent: nothing can be restored
     */
    public record NeededBackup(
            String database,
            String name,
            String zone,
            String grade,
            @Schema(nullable = true) @Nullable String component,
            String kind,
            @Nullable Instant by,
            String why,
            @Schema(nullable = true) @Nullable RestoreToday restore) {

        /** The same by another moment. */
        public NeededBackup dueBy(Instant other) {
            return new NeededBackup(database, name, zone, grade, component, kind, other, why, restore);
        }
    }

    /**
     * The way back to the newest moment that can be restored after a mishap.
     *
     * @param increments differentials and incrementals
     * @param seconds how long it would take; absent: not known
     */
    public record RestoreToday(
            int increments,
            int logs,
            @Schema(nullable = true) @Nullable Double seconds) {}
}
