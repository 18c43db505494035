package firth.core.findings;

import firth.core.adherence.Attempt;
import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.model.Schedule;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Schedules whose last slot was not kept, or was kept at a cost. */
final class ScheduleFindings {

    private static final Set<SlotVerdict> DECIDED = EnumSet.of(
            SlotVerdict.ON_TIME, SlotVerdict.OVERRAN, SlotVerdict.LATE, SlotVerdict.FAILED, SlotVerdict.MISSED);

    private final Evaluation e;
    private final Database database;
    private final List<Finding> found = new ArrayList<>();

    private ScheduleFindings(Evaluation e) {
        this.e = e;
        this.database = e.database();
    }

    static List<Finding> of(Evaluation e) {
        ScheduleFindings findings = new ScheduleFindings(e);
        for (Schedule s : e.version().map(PolicyVersion::live).orElse(List.of())) {
            List<Slot> decided = e.slots().stream()
                    .filter(slot -> slot.schedule().equals(s.id()) && DECIDED.contains(slot.verdict()))
                    .toList();
            if (!decided.isEmpty()) {
                findings.last(decided);
            }
        }
        Unserved.of(e).stream().filter(u -> u.schedule().every().isPresent()).forEach(findings::unserved);
        return findings.found;
    }

    private void last(List<Slot> decided) {
        Slot last = decided.get(decided.size() - 1);
        switch (last.verdict()) {
            case FAILED, MISSED -> notKept(decided, last);
            case LATE, OVERRAN ->
                cost(last, last.verdict() == SlotVerdict.LATE ? Detail.Cost.LATE : Detail.Cost.OVERRAN);
            default -> {
                if (!last.spill().isZero()) {
                    cost(last, Detail.Cost.SPILLED);
                }
            }
        }
    }

    private void notKept(List<Slot> decided, Slot last) {
        int first = decided.size() - 1;
        while (first > 0
                && (decided.get(first - 1).verdict() == SlotVerdict.FAILED
                        || decided.get(first - 1).verdict() == SlotVerdict.MISSED)) {
            first--;
        }
        int inARow = decided.size() - first;
        boolean failed = last.verdict() == SlotVerdict.FAILED;
        Optional<Failing> failing = failed ? failing(last) : Optional.empty();
        String host = database.particulars().host().map(h -> "host:" + h).orElse(database.id() + "/" + last.schedule());
        found.add(Finding.of(
                failed ? "slot-failed" : "slot-missed",
                Severity.SLOT_NOT_KEPT,
                database.id(),
                failing.flatMap(f -> f.cause(database.id(), database.name()))
                        .orElse(failed ? database.id() + "/" + last.schedule() : host),
                Optional.of(decided.get(first).open()),
                new Detail.SlotNotKept(
                        last.kind(), failed, last.open(), last.close(), inARow, failing, database.zone()),
                last.runs().stream().map(Attempt::id).toList()));
    }

    private Optional<Failing> failing(Slot slot) {
        Set<String> ids =
                new java.util.HashSet<>(slot.runs().stream().map(Attempt::id).toList());
        List<Run> runs = e.history().failedDataRuns().stream()
                .filter(r -> ids.contains(r.id()))
                .toList();
        return runs.isEmpty() ? Optional.empty() : Optional.of(Failing.of(runs));
    }

    private void cost(Slot slot, Detail.Cost cost) {
        Duration took = slot.runs().stream()
                .filter(Attempt::ok)
                .findFirst()
                .flatMap(a -> a.ended().map(end -> Duration.between(a.started(), end)))
                .orElse(Duration.ZERO);
        found.add(Finding.of(
                "spill",
                Severity.SPILL,
                database.id(),
                database.id() + "/" + slot.schedule(),
                Optional.of(slot.open()),
                new Detail.SlotCost(slot.kind(), cost, slot.spill(), slot.open(), slot.close(), took, database.zone()),
                slot.runs().stream().map(Attempt::id).toList()));
    }

    private void unserved(Unserved u) {
        found.add(Finding.of(
                "unserved",
                Severity.SLOT_NOT_KEPT,
                database.id(),
                database.particulars()
                        .host()
                        .map(h -> "host:" + h)
                        .orElse(database.id() + "/" + u.schedule().id()),
                Optional.of(u.since()),
                new Detail.LogsNotTaken(u.since(), u.missed(), database.zone()),
                List.of()));
    }
}
