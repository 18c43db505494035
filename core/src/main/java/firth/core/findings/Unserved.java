package firth.core.findings;

import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A schedule that nobody seems to start: again and again a run was due and nothing even tried (docs/semantics.md, "Schedules
 * nobody serves").
 *
 * @param since when the first of the runs in a row was due
 * @param missed how many there were
 */
public record Unserved(Schedule schedule, Instant since, long missed) {

    /** As many in a row tell. */
    static final int TELLS = 3;

    private static final Set<SlotVerdict> SAYS_NOTHING =
            EnumSet.of(SlotVerdict.SUPERSEDED, SlotVerdict.EXCUSED, SlotVerdict.PLANNED, SlotVerdict.DUE);

    /** The schedules in force for a database, switched on, that nobody seems to start. */
    public static List<Unserved> of(Evaluation e) {
        List<Unserved> out = new ArrayList<>();
        for (Schedule s : e.version().map(PolicyVersion::live).orElse(List.of())) {
            (s.recurrence().isPresent() ? bySlots(e, s) : byCadence(e, s)).ifPresent(out::add);
        }
        return out;
    }

    private static Optional<Unserved> bySlots(Evaluation e, Schedule schedule) {
        List<Slot> over = e.slots().stream()
                .filter(s -> s.schedule().equals(schedule.id()) && !SAYS_NOTHING.contains(s.verdict()))
                .toList();
        int first = over.size();
        while (first > 0 && over.get(first - 1).verdict() == SlotVerdict.MISSED) {
            first--;
        }
        int missed = over.size() - first;
        return missed < TELLS
                ? Optional.empty()
                : Optional.of(new Unserved(schedule, over.get(first).open(), missed));
    }

    /** Logs that stopped coming, and of which no run has failed since. */
    private static Optional<Unserved> byCadence(Evaluation e, Schedule schedule) {
        History history = e.history();
        return e.cadence().stream()
                .filter(g -> g.schedule().equals(schedule.id()) && g.to().isEmpty() && g.missed() >= TELLS)
                .filter(g -> history.failedLogRuns().stream()
                        .noneMatch(r -> r.started().isAfter(g.from())))
                .findFirst()
                .map(g -> new Unserved(schedule, g.from(), g.missed()));
    }
}
