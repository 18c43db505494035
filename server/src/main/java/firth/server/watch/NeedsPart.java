package firth.server.watch;

import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.findings.HeldComponents;
import firth.core.findings.Needs;
import firth.core.model.Hazard;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Answered;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.StoredBackups;
import firth.server.evaluation.SummaryPart;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import jakarta.inject.Singleton;
import java.util.List;

/** What a database still needs. */
@Singleton
class NeedsPart implements SummaryPart<List<NeedsView.NeededBackup>> {

    private final FindingsNow findings;
    private final FactsHolder facts;

    NeedsPart(FindingsNow findings, FactsHolder facts) {
        this.findings = findings;
        this.facts = facts;
    }

    @Override
    public List<NeedsView.NeededBackup> of(Answered one) {
        Evaluation e = one.answer();
        List<Needs.Need> needs = Needs.of(e, one.fleet(), findings.of(one.alone(), e), held(one.now(), e));
        if (needs.isEmpty()) {
            return List.of();
        }
        NeedsView.RestoreToday restore = new Planning(one.facts(), one.fleet(), e.asOf(), Hazard.MISHAP, Losses.NONE)
                .newestWay()
                .map(NeedsPart::today)
                .orElse(null);
        return needs.stream()
                .map(n -> new NeedsView.NeededBackup(
                        e.database().id(),
                        e.database().name(),
                        e.database().zone().getId(),
                        e.grade().word(),
                        n.component().orElse(null),
                        n.kind().word(),
                        n.by().equals(e.asOf()) ? null : n.by(),
                        n.why().word(),
                        restore))
                .toList();
    }

    private List<HeldComponents.Holding> held(FleetNow fleet, Evaluation e) {
        if (e.database().particulars().components().isEmpty()) {
            return List.of();
        }
        try (Snapshot snapshot = facts.store().read()) {
            List<String> members = fleet.standbys().membersOf(e.database().id());
            return HeldComponents.of(e, new StoredBackups(snapshot, members)::told);
        }
    }

    private static NeedsView.RestoreToday today(Way way) {
        return new NeedsView.RestoreToday(
                way.chain().size() - 1, way.logCount(), way.timeKnown() ? CoverRows.seconds(way.time()) : null);
    }
}
