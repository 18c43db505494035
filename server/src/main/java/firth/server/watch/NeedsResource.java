package firth.server.watch;

import firth.server.evaluation.Lookout;
import firth.server.evaluation.Summaries;
import firth.server.platform.Roles;
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

    private final Summaries summaries;
    private final NeedsPart part;
    private final Lookout lookout;

    NeedsResource(Summaries summaries, NeedsPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    @GET
    public NeedsView needs(@QueryParam("asOf") @Nullable String asOf) {
        Lookout.View view = lookout.view(asOf, "");
        List<List<NeedsView.NeededBackup>> each = summaries.all(view, part).each();
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
}
