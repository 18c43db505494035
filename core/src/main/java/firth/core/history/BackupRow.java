package firth.core.history;

import firth.core.model.Kind;

/**
 * A backup as it is added to a history: small numbers for what many share, moments as milliseconds since the epoch. Start with
 * {@link #data} or {@link #log} and say what else is known.
 *
 * @param lineage its place among the database's, as {@link HistoryBuilder#lineage} gives it
 * @param stream of a log its place among the database's, as {@link HistoryBuilder#stream} gives it; -1 of other backups
 * @param parent the id of the backup it builds on; empty where it builds on none
 * @param run the id of the run it came from; empty where that is not known
 * @param selfContained whether it can be restored without logs
 */
public record BackupRow(
        String id,
        Kind kind,
        int lineage,
        int stream,
        String parent,
        String run,
        During during,
        boolean selfContained,
        Extent extent) {

    /** When a backup was taken, and of which moment it is. */
    public record During(long startedMs, long endedMs, long consistentAtMs) {}

    /**
     * What a backup reaches from and to.
     *
     * @param from the position at which it begins, of a log in its stream, else in the first; below 0 where none is known
     * @param to the position at which it ends; below 0 where none is known
     * @param fromTimeMs when the first of what a log holds happened; {@link History#ALWAYS} where that is not known
     * @param toTimeMs when the last of what a log holds happened; {@link History#ALWAYS} where that is not known
     */
    public record Extent(long from, long to, long fromTimeMs, long toTimeMs) {}

    /** A backup that is no log, of the first lineage, consistent when it ended. */
    public static BackupRow data(String id, Kind kind, long startedMs, long endedMs) {
        During during = new During(startedMs, endedMs, endedMs);
        return new BackupRow(
                id, kind, 0, -1, "", "", during, false, new Extent(-1, -1, History.ALWAYS, History.ALWAYS));
    }

    /** A log of the first lineage from one position to another and one moment to another, taken at the second. */
    public static BackupRow log(String id, int stream, Extent extent) {
        During during = new During(extent.toTimeMs(), extent.toTimeMs(), extent.toTimeMs());
        return new BackupRow(id, Kind.LOG, 0, stream, "", "", during, false, extent);
    }

    /** The same of another lineage. */
    public BackupRow of(int otherLineage) {
        return new BackupRow(id, kind, otherLineage, stream, parent, run, during, selfContained, extent);
    }

    /** The same, building on a backup; on none where its id is empty. */
    public BackupRow on(String parentId) {
        return new BackupRow(id, kind, lineage, stream, parentId, run, during, selfContained, extent);
    }

    /** The same, taken between two moments and consistent as before. */
    public BackupRow taken(long startedMs, long endedMs) {
        During other = new During(startedMs, endedMs, during.consistentAtMs());
        return new BackupRow(id, kind, lineage, stream, parent, run, other, selfContained, extent);
    }

    /** The same, consistent at a moment. */
    public BackupRow consistent(long atMs) {
        During other = new During(during.startedMs(), during.endedMs(), atMs);
        return new BackupRow(id, kind, lineage, stream, parent, run, other, selfContained, extent);
    }

    /** The same, to be restored without logs. */
    public BackupRow alone() {
        return new BackupRow(id, kind, lineage, stream, parent, run, during, true, extent);
    }

    /** The same from one position to another. */
    public BackupRow between(long from, long to) {
        Extent other = new Extent(from, to, extent.fromTimeMs(), extent.toTimeMs());
        return new BackupRow(id, kind, lineage, stream, parent, run, during, selfContained, other);
    }
}
