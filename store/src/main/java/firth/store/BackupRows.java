package firth.store;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import org.jspecify.annotations.Nullable;

/** Something that takes the backups of a database row by row, each followed by its further positions and its copies. */
interface BackupRows {

    /** A backup; positions below 0 and moments of {@link firth.core.history.History#ALWAYS} are not known. */
    record Row(
            long num,
            String id,
            Kind kind,
            @Nullable String lineage,
            @Nullable String stream,
            boolean streamed,
            long lag,
            @Nullable String parent,
            @Nullable String run,
            long started,
            long ended,
            long consistentAt,
            boolean selfContained,
            long from,
            long to,
            long fromTime,
            long toTime) {}

    void backup(Row row);

    void positions(String stream, long from, long to);

    void copy(
            String store,
            long landed,
            boolean stated,
            long lockedUntil,
            long gone,
            long found,
            long since,
            double bytes,
            Evidence evidence);
}
