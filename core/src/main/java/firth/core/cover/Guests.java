package firth.core.cover;

import firth.core.history.History;
import java.util.Arrays;

/**
 * The parts of logs that an engine repeats after a point-in-time restore: what a child's log holds before the fork belongs to the
 * parent as well, and so on upwards. There it takes the position on and has no time of its own (docs/semantics.md, "What can be
 * restored"). They are numbered from 0 on.
 */
final class Guests {

    private int[] row = new int[0];
    private int[] host = new int[0];
    private long[] from = new long[0];
    private long[] to = new long[0];
    private int size;

    /** Notes what a log of a lineage lends to those above it. */
    void add(History history, Lineages lineages, int log) {
        int lineage = history.lineage(log);
        long begin = history.logFrom(log);
        long end = history.logTo(log);
        for (int at = lineage; lineages.isChild(at); at = lineages.parent(at)) {
            end = Math.min(end, lineages.fork(at, history.stream(log)));
            if (begin >= end) {
                return;
            }
            add(log, lineages.parent(at), begin, end);
        }
    }

    private void add(int log, int inLineage, long begin, long end) {
        if (size == row.length) {
            int room = Math.max(8, 2 * size);
            row = Arrays.copyOf(row, room);
            host = Arrays.copyOf(host, room);
            from = Arrays.copyOf(from, room);
            to = Arrays.copyOf(to, room);
        }
        row[size] = log;
        host[size] = inLineage;
        from[size] = begin;
        to[size++] = end;
    }

    int size() {
        return size;
    }

    /** The log of which it is a part. */
    int row(int guest) {
        return row[guest];
    }

    /** The lineage it is lent to. */
    int host(int guest) {
        return host[guest];
    }

    long from(int guest) {
        return from[guest];
    }

    /** Where it ends there: at the fork, or before. */
    long to(int guest) {
        return to[guest];
    }
}
