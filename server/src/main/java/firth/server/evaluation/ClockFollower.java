package firth.server.evaluation;

import firth.core.findings.Finding;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Goes on with the clock where nothing comes in: looks anew at the databases whose answers time alone has changed, keeps what is found
 * in the record of life spans, and tells the browsers.
 */
@ApplicationScoped
class ClockFollower {

    private final FindingsNow findings;
    private final Evaluations evaluations;
    private final Lookout lookout;
    private final Changes changes;
    private Map<String, Set<String>> before = Map.of();

    ClockFollower(FindingsNow findings, Evaluations evaluations, Lookout lookout, Changes changes) {
        this.findings = findings;
        this.evaluations = evaluations;
        this.lookout = lookout;
        this.changes = changes;
    }

    @Scheduled(every = "15s", delayed = "15s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void round() {
        if (!lookout.goesByTheClock()) {
            return;
        }
        Lookout.View view = lookout.view("", "");
        List<Condition> conditions = findings.conditions(view);
        Map<String, Set<String>> found = conditions.stream()
                .collect(Collectors.toMap(
                        c -> c.database().id(),
                        c -> c.findings().stream().map(Finding::key).collect(Collectors.toSet())));
        Set<String> moved = moved(before, found);
        before = found;
        if (!moved.isEmpty()) {
            Instant clock = lookout.now();
            findings.noted(findings.now(evaluations.fleetNow(), conditions, view.asOf(), clock), clock);
            changes.moved(moved);
        }
    }

    private static Set<String> moved(Map<String, Set<String>> before, Map<String, Set<String>> now) {
        Set<String> out = new HashSet<>();
        now.forEach((id, keys) -> {
            if (!keys.equals(before.get(id))) {
                out.add(id);
            }
        });
        return out;
    }
}
