package firth.server.evaluation;

import firth.core.findings.Check;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Probe;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What runners and agents last found out, and what that says of each database's readiness. Lives as long as its snapshot. */
public final class ProbedNow {

    private final Snapshot snapshot;
    private final Fleet fleet;
    private final Instant now;
    private final Map<String, List<Probe>> probes;

    public ProbedNow(Snapshot snapshot, Fleet fleet, Instant now) {
        this.snapshot = snapshot;
        this.fleet = fleet;
        this.now = now;
        this.probes = snapshot.documents("probe").stream()
                .map(text -> (Probe) FleetFileReader.recordOf(text))
                .collect(Collectors.groupingBy(Probe::database));
    }

    public List<Check> checks(Database database) {
        return Readiness.of(
                database, fleet, probes.getOrDefault(database.id(), List.of()), snapshot.backed(database.id()), now);
    }
}
