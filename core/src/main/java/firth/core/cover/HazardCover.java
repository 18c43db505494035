package firth.core.cover;

import firth.core.fleet.Database;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.time.Spans;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * What one hazard leaves of a database's backups: the recovery point at every moment up to now, and in full what can be
 * restored now. Computed in one pass over landings and losses in the order they happened.
 */
public final class HazardCover {

    private final Database database;
    private final History history;
    private final PositionLine line;
    private final long now;
    private final Spans[] usable;
    private final CoverState state;
    private final RecoveryTimeline timeline = new RecoveryTimeline();

    private HazardCover(
            Database database, History history, PositionLine line, Availability availability, Hazard hazard) {
        this.database = database;
        this.history = history;
        this.line = line;
        this.now = availability.nowMs();
        this.usable = availability.usable(hazard);
        this.state = new CoverState(history, line);
        sweep(availability, hazard);
    }

    public static HazardCover of(
            Database database, History history, PositionLine line, Availability availability, Hazard hazard) {
        return new HazardCover(database, history, line, availability, hazard);
    }

    private void sweep(Availability availability, Hazard hazard) {
        Events events = new Events(history.size());
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG) {
                events.add(i, availability.ofBackup(i, hazard), Long.MIN_VALUE);
            } else if (history.kind(i).isData()) {
                events.add(i, usable[i], history.consistentAtMs(i));
            }
        }
        int[] order = events.inOrder();
        for (int e = 0; e < order.length && events.at(order[e]) <= now; ) {
            long at = events.at(order[e]);
            for (; e < order.length && events.at(order[e]) == at; e++) {
                state.become(events.row(order[e]), events.begins(order[e]));
            }
            timeline.add(at, state.latest());
        }
    }

    public RecoveryTimeline timeline() {
        return timeline;
    }

    /** Whether a data backup and its whole chain are available now. */
    public boolean usable(int i) {
        return usable[i].contains(now);
    }

    /** Whether logs that a data backup needs to be consistent are missing now. */
    public boolean torn(int i) {
        return state.torn(i);
    }

    /** Whether it restores anything at all, now (docs/semantics.md, "What can be restored"). */
    public boolean restorable(int i) {
        return usable(i) && !torn(i) && state.restoresUpTo(i) >= inService();
    }

    /** The latest instant a restorable data backup restores. */
    public long restoresUpToMs(int i) {
        return state.restoresUpTo(i);
    }

    /** The position at which the logs from a data backup on run out now; its own end where none extends it. */
    public long extendsTo(int i) {
        return line.position(state.endFrom(line.toIndex(i)));
    }

    /** What can be restored now, in order; pieces that touch or overlap are one. */
    public List<Piece> restorable() {
        List<long[]> found = new ArrayList<>();
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData() && restorable(i)) {
                long from = Math.max(history.consistentAtMs(i), inService());
                long to = Math.min(state.restoresUpTo(i), now);
                if (from <= to) {
                    found.add(new long[] {from, to});
                }
            }
        }
        found.sort(Comparator.comparingLong(p -> p[0]));
        List<Piece> out = new ArrayList<>();
        long[] open = null;
        for (long[] piece : found) {
            if (open != null && piece[0] <= open[1]) {
                open[1] = Math.max(open[1], piece[1]);
            } else {
                close(open, out);
                open = piece;
            }
        }
        close(open, out);
        return out;
    }

    private void close(long[] piece, List<Piece> out) {
        if (piece != null) {
            out.add(new Piece(
                    database.lineages().get(0).id(), Instant.ofEpochMilli(piece[0]), Instant.ofEpochMilli(piece[1])));
        }
    }

    private long inService() {
        return database.inServiceFrom().toEpochMilli();
    }
}
