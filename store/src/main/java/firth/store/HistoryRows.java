package firth.store;

import firth.core.history.History;
import firth.core.history.Kind;

/** Puts rows into a history; those of lineages and streams the database does not list have no effect. */
final class HistoryRows implements BackupRows {

    private final History.Builder history;
    private boolean taken;

    HistoryRows(History.Builder history) {
        this.history = history;
    }

    @Override
    public void backup(Row row) {
        int lineage = history.lineage(row.lineage());
        int stream = history.stream(row.stream());
        boolean log = row.kind() == Kind.LOG;
        taken = lineage >= 0 && (!log || stream >= 0);
        if (!taken) {
            return;
        }
        boolean own = log || stream == 0;
        history.addRow(
                row.id(),
                row.kind(),
                lineage,
                log ? stream : -1,
                row.parent(),
                row.run(),
                row.started(),
                row.ended(),
                row.consistentAt(),
                row.selfContained(),
                own ? row.from() : -1,
                own ? row.to() : -1,
                row.fromTime(),
                row.toTime());
        if (!own) {
            history.addPositions(stream, row.from(), row.to());
        }
        if (log && row.streamed()) {
            history.streamed(row.lag());
        }
    }

    @Override
    public void positions(String stream, long from, long to) {
        if (taken) {
            history.addPositions(history.stream(stream), from, to);
        }
    }

    @Override
    public void copy(
            String store,
            long landed,
            boolean stated,
            long lockedUntil,
            long gone,
            long found,
            long since,
            double bytes) {
        if (taken) {
            history.addCopy(store, landed, stated, lockedUntil, gone, found, since, bytes);
        }
    }
}
