package firth.core.cover;

import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.time.Spans;
import java.util.BitSet;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/** Passes once through everything that came and went up to now and notes how the recovery point moved. */
final class Sweep {

    private final History history;
    private final Lines lines;
    private final Lineages lineages;
    private final long now;

    @SuppressWarnings("NullAway.Init")
    private CoverState state;

    private final RecoveryTimeline timeline;
    /** The backup that most likely moved the recovery point at the moment looked at: of those that came, the latest. */
    private int moved;

    Sweep(History history, Lines lines, long now) {
        this.history = history;
        this.lines = lines;
        this.lineages = lines.lineages();
        this.now = now;
        this.timeline = new RecoveryTimeline(history);
    }

    RecoveryTimeline timeline() {
        return timeline;
    }

    /** What is left at the end: as of now. */
    Standing run(Availability availability, Hazard hazard) {
        Optional<Trains> trains = Trains.of(history, lines, availability.windows(hazard), now);
        if (trains.isPresent()) {
            trains.get().run(availability.usable(hazard), now, timeline);
            return trains.get();
        }
        return anyHistory(availability, hazard);
    }

    /** What is left now, without how it came to be where that can be left out. */
    Standing stand(Availability availability, Hazard hazard) {
        Optional<Trains> trains = Trains.of(history, lines, availability.windows(hazard), now);
        if (trains.isPresent()) {
            trains.get().stand(availability.usableNow(hazard), now, timeline);
            return trains.get();
        }
        state = new CoverState(history, lines);
        take(availability, hazard, availability.usableNow(hazard));
        return state;
    }

    /** As {@link #run}, whether the history behaves or not. */
    CoverState anyHistory(Availability availability, Hazard hazard) {
        state = new CoverState(history, lines);
        follow(availability, hazard, availability.usable(hazard));
        return state;
    }

    private void follow(Availability availability, Hazard hazard, Map<Integer, Spans> usable) {
        Events events = gather(availability, hazard, usable);
        int[] order = events.inOrder();
        int e = 0;
        while (e < order.length && events.at(order[e]) <= now) {
            long at = events.at(order[e]);
            moved = -1;
            for (; e < order.length && events.at(order[e]) == at; e++) {
                apply(events, order[e]);
            }
            if (state.flows()) {
                long next = e < order.length ? Math.min(events.at(order[e]), now + 1) : now + 1;
                follow(at, at, next);
            } else {
                timeline.add(at, state.latest(at, at), moved);
            }
        }
    }

    private void take(Availability availability, Hazard hazard, BitSet usable) {
        for (int l = 0; l < lineages.count(); l++) {
            state.touch(l);
        }
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG) {
                if (availability.availableNow(i, hazard)) {
                    state.logBecomes(i, true);
                } else if (availability.partsOf(i, hazard).contains(now)) {
                    state.partBecomes(i, true);
                }
            } else if (history.kind(i).isData() && usable.get(i) && history.consistentAtMs(i) <= now) {
                state.dataBecomes(i, true);
            }
        }
        for (int g = 0; g < lines.guests().size(); g++) {
            if (availability.partAvailableNow(lines.guests().row(g), hazard)) {
                state.lentBecomes(g, true);
            }
        }
        timeline.add(now, state.latest(now, now), -1);
    }

    private void apply(Events events, int event) {
        int row = events.row(event);
        boolean lent = events.what(event) == Events.Turn.LENT;
        int cause = lent ? lines.guests().row(row) : row;
        if (events.what(event) != Events.Turn.LOOK && (moved < 0 || !lent && reaches(row) > reaches(moved))) {
            moved = cause;
        }
        switch (events.what(event)) {
            case PART -> state.partBecomes(row, events.begins(event));
            case LOOK -> state.touch(row);
            case WHOLE -> {
                if (history.kind(row) == Kind.LOG) {
                    state.logBecomes(row, events.begins(event));
                } else {
                    state.dataBecomes(row, events.begins(event));
                }
            }
            case LENT -> state.lentBecomes(row, events.begins(event));
        }
    }

    private long reaches(int row) {
        return history.kind(row) == Kind.LOG ? history.toTimeMs(row) : history.consistentAtMs(row);
    }

    /**
     * Notes the recovery point where it may move by itself. Between events it only stands still or moves one second a
     * second, so that a stretch over which it moved by all of it or by nothing is understood; any other is halved.
     */
    private void follow(long at, long from, long to) {
        long begin = state.latest(at, from);
        long end = state.latest(at, to);
        if (begin == end || begin == Standing.NOTHING || to - from == 1 && end - begin != 1) {
            timeline.add(from, begin, moved);
        } else if (end - begin == to - from) {
            timeline.addFlowing(from, from - begin, moved);
        } else {
            long middle = from + (to - from) / 2;
            follow(at, from, middle);
            follow(at, middle, to);
        }
    }

    private Events gather(Availability availability, Hazard hazard, Map<Integer, Spans> usable) {
        Guests guests = lines.guests();
        Events events = new Events(history.size() + guests.size());
        for (int g = 0; g < guests.size(); g++) {
            int log = guests.row(g);
            long opened = lineages.openedAtMs(history.lineage(log));
            events.add(Events.Turn.LENT, g, availability.partsOf(log, hazard), opened);
        }
        for (int l = 0; l < lineages.count(); l++) {
            if (lineages.isKnown(l)) {
                events.look(lineages.openedAtMs(l), l);
            }
        }
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG) {
                Spans whole = availability.ofBackup(i, hazard);
                events.add(Events.Turn.WHOLE, i, whole, Long.MIN_VALUE);
                if (history.streamed(i)) {
                    part(events, i, availability.partsOf(i, hazard).without(whole));
                }
            } else if (history.kind(i).isData()) {
                events.add(Events.Turn.WHOLE, i, Objects.requireNonNull(usable.get(i)), history.consistentAtMs(i));
            }
        }
        return events;
    }

    /** A part of a log, and the moments at which what was received of it reaches something that waits for it. */
    private void part(Events events, int log, Spans there) {
        if (there.isEmpty()) {
            return;
        }
        events.add(Events.Turn.PART, log, there, Long.MIN_VALUE);
        int own = history.lineage(log);
        long lag = history.lagMs(log);
        for (int l = 0; l < lineages.count(); l++) {
            if (lineages.isKnown(l) && (l == own || lineages.parent(l) == own)) {
                events.look(lineages.openedAtMs(l) + lag, l);
            }
        }
        int[] data = lines.dataByAge(own);
        for (int o = firstAfter(data, history.fromTimeMs(log)); o < data.length; o++) {
            long consistent = history.consistentAtMs(data[o]);
            if (consistent > history.toTimeMs(log)) {
                break;
            }
            if (!history.selfContained(data[o])) {
                events.look(consistent + lag, own);
            }
        }
    }

    private int firstAfter(int[] data, long moment) {
        int low = 0;
        int high = data.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (history.consistentAtMs(data[middle]) >= moment) {
                high = middle;
            } else {
                low = middle + 1;
            }
        }
        return low;
    }
}
