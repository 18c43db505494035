package firth.server.evaluation;

import firth.core.findings.Check;
import firth.core.findings.Readiness;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Probe;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** What was last found out, and what that says of each database's readiness. Lives as long as its snapshot. */
public final class ProbedNow {

    private final Snapshot snapshot;
    private final Fleet fleet;
    private final Instant now;
    private final Map<String, List<Probe>> probes;
    private final Map<String, Readiness.Backed> backed;

    ProbedNow(
            Snapshot snapshot,
            Fleet fleet,
            Instant now,
            Map<String, List<Probe>> probes,
            Map<String, Readiness.Backed> backed) {
        this.snapshot = snapshot;
        this.fleet = fleet;
        this.now = now;
        this.probes = probes;
        this.backed = backed;
    }

    /** What was told of a database. */
    List<Probe> of(Database database) {
        return probes.getOrDefault(database.id(), List.of());
    }

    /** When the checks of a database may be others for time alone. */
    Instant standUntil(Database database) {
        return Readiness.standsUntil(database, fleet, of(database), now);
    }

    public List<Check> checks(Database database) {
        Readiness.Backed known = backed.get(database.id());
        return Readiness.of(database, fleet, of(database), known == null ? snapshot.backed(database.id()) : known, now);
    }
}
