package firth.server.evaluation;

import firth.core.findings.Readiness;
import firth.core.model.Fleet;
import firth.core.model.Probe;
import firth.exchange.FleetFileReader;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** What runners and agents found out. */
@ApplicationScoped
public class Probes {

    private final Summaries summaries;
    private final BackedPart part;
    private final Lookout lookout;

    /** Those that were read, by their text, so that what stays as it is need not be read again. */
    private volatile Map<String, Probe> known = Map.of();

    Probes(Summaries summaries, BackedPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    /** What was found out about many databases. */
    public ProbedNow ofMany(Snapshot snapshot, Fleet fleet, Instant now) {
        Parts<Readiness.Backed> all = summaries.all(lookout.view("", ""), part);
        Map<String, Readiness.Backed> backed = new HashMap<>();
        for (int i = 0; i < all.each().size(); i++) {
            backed.put(all.databases().get(i).id(), all.each().get(i));
        }
        return new ProbedNow(snapshot, fleet, now, probes(snapshot), backed);
    }

    /** What was found out about one or a few. */
    public ProbedNow ofFew(Snapshot snapshot, Fleet fleet, Instant now) {
        return new ProbedNow(snapshot, fleet, now, probes(snapshot), Map.of());
    }

    private Map<String, List<Probe>> probes(Snapshot snapshot) {
        Map<String, Probe> before = known;
        Map<String, Probe> read = new HashMap<>();
        Map<String, List<Probe>> out = new HashMap<>();
        for (String text : snapshot.documents("probe")) {
            Probe same = before.get(text);
            Probe probe = same == null ? (Probe) FleetFileReader.recordOf(text) : same;
            read.put(text, probe);
            out.computeIfAbsent(probe.database(), d -> new ArrayList<>()).add(probe);
        }
        known = read;
        return out;
    }
}
