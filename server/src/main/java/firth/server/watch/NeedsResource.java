package firth.server.watch;

import firth.core.cover.Losses;
import firth.core.evaluation.Evaluation;
import firth.core.findings.HeldComponents;
import firth.core.findings.Needs;
import firth.core.model.Hazard;
import firth.core.restore.Planning;
import firth.core.restore.Way;
import firth.server.cover.CoverRows;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.StoredBackups;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.store.Snapshot;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What still needs a backup, of which kind, by when, and what a restore would take today. */
@Path("/api/needs")
@RolesAllowed(Roles.VIEWER)
public class NeedsResource {

    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final FactsHolder facts;
    private final Lookout lookout;

    NeedsResource(Evaluations evaluations, FindingsNow findings, FactsHolder facts, Lookout lookout) {
        this.evaluations = evaluations;
        this.findings = findings;
        this.facts = facts;
        this.lookout = lookout;
    }

    @GET
    public NeedsView needs(@QueryParam("asOf") @Nullable String asOf) {
        Lookout.View view = lookout.view(asOf, "");
        List<List<NeedsView.NeededBackup>> each = evaluations.each(view, "needs", this::rows);
        return new NeedsView(
                view.asOf(),
                (int) each.stream().filter(rows -> !rows.isEmpty()).count(),
                each.stream()
                        .flatMap(List::stream)
                        .map(n -> n.by() == null ? n.dueBy(view.asOf()) : n)
                        .sorted(Comparator.comparing(NeedsView.NeededBackup::by)
                                .thenComparing(NeedsView.NeededBackup::name)
                                .thenComparing(NeedsView.NeededBackup::kind))
                        .toList());
    }

    private List<NeedsView.NeededBackup> rows(FleetNow fleet, Evaluation e) {
        Evaluations.Fleetwide one = new Evaluations.Fleetwide(fleet, List.of(e));
        List<Needs.Need> needs = Needs.of(e, fleet.fleet(), findings.of(one, e), held(fleet, e));
        if (needs.isEmpty()) {
            return List.of();
        }
        NeedsView.RestoreToday restore = new Planning(one.facts(e), fleet.fleet(), e.asOf(), Hazard.MISHAP, Losses.NONE)
                .newestWay()
                .map(NeedsResource::today)
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
