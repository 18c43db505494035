package firth.server.evaluation;

import firth.core.findings.FactFindings;
import firth.core.findings.Finding;
import firth.core.model.Probe;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** What is found of each database's readiness, and of the logs at its source, kept until what it rests on, or time, makes it another. */
final class KeptReadiness {

    private final Map<String, Kept> known = new ConcurrentHashMap<>();

    /** Found of these very records and probes, from a moment until before another. */
    private record Kept(
            FleetNow fleet, Condition of, List<Probe> probes, Instant from, Instant until, List<Finding> found) {

        boolean isOf(FleetNow now, Condition condition, List<Probe> told, Instant moment) {
            return Same.is(fleet, now)
                    && Same.is(of, condition)
                    && !moment.isBefore(from)
                    && moment.isBefore(until)
                    && Same.each(probes, told);
        }
    }

    List<Finding> of(FleetNow fleet, Condition condition, ProbedNow probed, Instant now) {
        String id = condition.database().id();
        List<Probe> told = probed.of(condition.database());
        Kept kept = known.get(id);
        if (kept == null || !kept.isOf(fleet, condition, told, now)) {
            List<Finding> found = new ArrayList<>(FactFindings.ofReadiness(
                    condition.database(), probed.checks(condition.database()), condition.findings()));
            condition
                    .sourceLogs()
                    .flatMap(l -> l.gone(condition.database(), told))
                    .ifPresent(found::add);
            kept = new Kept(fleet, condition, told, now, probed.standUntil(condition.database()), found);
            known.put(id, kept);
        }
        return kept.found;
    }
}
