package firth.core.cover;

import firth.core.history.History;
import firth.core.model.Hazard;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * What one hazard leaves of a database's backups: the recovery point at every moment up to now, and in full what can be
 * restored now. Computed in one pass over landings and losses in the order they happened.
 */
public final class HazardCover {

    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final long now;
    private final Standing state;
    private final RecoveryTimeline timeline;

    private HazardCover(History history, Lines lines, Availability availability, Hazard hazard, boolean withThePast) {
        this.history = history;
        this.lines = lines;
        this.lineages = lines.lineages();
        this.now = availability.nowMs();
        Sweep sweep = new Sweep(history, lines, now);
        this.state = withThePast ? sweep.run(availability, hazard) : sweep.stand(availability, hazard);
        this.timeline = sweep.timeline();
    }

    public static HazardCover of(History history, Lines lines, Availability availability, Hazard hazard) {
        return new HazardCover(history, lines, availability, hazard, true);
    }

    /** What is left now alone: no step of the recovery point's past is known. */
    public static HazardCover now(History history, Lines lines, Availability availability, Hazard hazard) {
        return new HazardCover(history, lines, availability, hazard, false);
    }

    public RecoveryTimeline timeline() {
        return timeline;
    }

    public Lines lines() {
        return lines;
    }

    /** Whether a data backup and its whole chain are available now, and it is consistent by now. */
    public boolean usable(int i) {
        return state.usable(i);
    }

    /** Whether logs that a data backup needs to be consistent are missing now. */
    public boolean torn(int i) {
        return state.torn(i, now);
    }

    /** Whether logs of one stream that a data backup needs to be consistent are missing now. */
    public boolean tornIn(int i, int stream) {
        return state.tornIn(i, stream, now);
    }

    /** Whether it restores anything at all, now (docs/semantics.md, "What can be restored"). */
    public boolean restorable(int i) {
        if (!usable(i) || torn(i)) {
            return false;
        }
        int own = history.lineage(i);
        return restoresIn(own, history.consistentAtMs(i)) || !restoredBy(i).isEmpty();
    }

    /** Whether a data backup that is not torn belongs to a lineage or is carried over into it. */
    public boolean leadsInto(int i, int lineage) {
        int own = history.lineage(i);
        if (own == lineage) {
            return true;
        }
        int parent = lineages.parent(lineage);
        return parent >= 0
                && lineages.isKnown(lineage)
                && leadsInto(i, parent)
                && (parent == own ? state.carries(i, lineage, now) : state.forkReaches(lineage, now));
    }

    /** What a usable data backup restores, in the lineages it leads into, from the first on; empty where it is torn. */
    public List<Piece> restoredBy(int i) {
        List<Piece> out = new ArrayList<>();
        if (usable(i) && !torn(i)) {
            for (int l = 0; l < lineages.count(); l++) {
                if (l == history.lineage(i)) {
                    add(l, history.consistentAtMs(i), state.restoresUpTo(i, now), out);
                } else if (lineages.isChild(l) && leadsInto(i, l)) {
                    add(l, lineages.openedAtMs(l), state.entryRestoresUpTo(l, now), out);
                }
            }
        }
        return out;
    }

    /** Whether a stretch that begins at a moment lies in the time a lineage was in force, in part at least. */
    private boolean restoresIn(int lineage, long from) {
        return lineages.isKnown(lineage)
                && from >= lineages.openedAtMs(lineage)
                && from < lineages.untilMs(lineage)
                && from <= now;
    }

    /** Cuts a stretch to the time its lineage was in force, and to now. */
    private void add(int lineage, long from, long to, List<Piece> out) {
        long opened = lineages.openedAtMs(lineage);
        long until = lineages.untilMs(lineage);
        long begin = Math.max(from, opened);
        long end = Math.min(Math.min(to, until), now);
        if (lineages.isKnown(lineage) && begin <= end && begin < until && from <= now) {
            out.add(new Piece(lineages.id(lineage), Instant.ofEpochMilli(begin), Instant.ofEpochMilli(end)));
        }
    }

    /** Where the logs of a stream from a boundary position of a lineage on run out now. */
    public long extendsTo(int lineage, int stream, long position) {
        return state.extendsTo(lineage, stream, position);
    }

    /** What can be restored now, in order; pieces of one lineage that touch or overlap are one. */
    public List<Piece> restorable() {
        List<Piece> out = new ArrayList<>();
        for (int l = 0; l < lineages.count(); l++) {
            List<Piece> found = new ArrayList<>();
            if (state.entered(l)) {
                add(l, lineages.openedAtMs(l), state.entryRestoresUpTo(l, now), found);
            }
            for (int i : lines.dataByAge(l)) {
                if (usable(i) && !torn(i)) {
                    add(l, history.consistentAtMs(i), state.restoresUpTo(i, now), found);
                }
            }
            merge(found, out);
        }
        out.sort(Comparator.comparing(Piece::from).thenComparing(Piece::to));
        return out;
    }

    private static void merge(List<Piece> found, List<Piece> out) {
        found.sort(Comparator.comparing(Piece::from));
        Piece open = null;
        for (Piece piece : found) {
            if (open != null && !piece.from().isAfter(open.to())) {
                open = open.to().isBefore(piece.to()) ? new Piece(open.lineage(), open.from(), piece.to()) : open;
            } else {
                if (open != null) {
                    out.add(open);
                }
                open = piece;
            }
        }
        if (open != null) {
            out.add(open);
        }
    }
}
