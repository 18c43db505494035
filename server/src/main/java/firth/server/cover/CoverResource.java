package firth.server.cover;

import firth.core.time.Span;
import firth.server.evaluation.Changes;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Slices;
import firth.server.evaluation.Summaries;
import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The fleet as ribbons. */
@Path("/api/cover")
@RolesAllowed(Roles.VIEWER)
public class CoverResource {

    /** Of a larger fleet nobody sees all ribbons at once. */
    private static final int DRAWN = 150;

    private final Summaries summaries;
    private final CoverPart part;
    private final Evaluations evaluations;
    private final Lookout lookout;

    CoverResource(Summaries summaries, CoverPart part, Evaluations evaluations, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    @GET
    public Cover cover(@QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        List<CoverPart.Strip> parts = summaries.all(view, part).each();
        List<Cover.Row> rows = parts.stream().flatMap(p -> p.row().stream()).toList();
        boolean drawn = rows.size() <= DRAWN;
        return new Cover(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                outside(parts, view.period()),
                drawn,
                drawn ? rows : rows.stream().map(Cover.Row::undrawn).toList());
    }

    /**
     * The rows of a few databases alone, as they are at once when facts of theirs have come in.
     *
     * @param databases 1 to 40 of them; standbys stand for their primaries
     */
    @GET
    @Path("/rows")
    public List<Cover.Row> rows(
            @QueryParam("database") List<String> databases,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        if (databases.isEmpty() || databases.size() > Changes.FEW) {
            throw new BadRequest("database", "is to be given 1 to " + Changes.FEW + " times");
        }
        Lookout.View view = lookout.view(asOf, period);
        Evaluations.Fleetwide some = evaluations.some(Set.copyOf(databases), view);
        return some.answers().stream()
                .filter(e -> e.database().isServedAt(view.asOf()))
                .map(e -> new CoverRows(some.fleet(), view).row(e))
                .toList();
    }

    /** How much of the fleet was outside its objective, slice by slice. */
    private static List<Cover.Outside> outside(List<CoverPart.Strip> parts, Span period) {
        Slices slices = CoverPart.slices(period);
        List<CoverPart.Strip> promised =
                parts.stream().filter(CoverPart.Strip::promised).toList();
        int[] count = new int[slices.count()];
        for (CoverPart.Strip p : promised) {
            p.broken().stream()
                    .mapToLong(s -> p.slices().first() + s - slices.first())
                    .filter(s -> s >= 0 && s < count.length)
                    .forEach(s -> count[(int) s]++);
        }
        List<Cover.Outside> out = new ArrayList<>();
        for (int s = 0; s < count.length; s++) {
            double share = promised.isEmpty() ? 0 : (double) count[s] / promised.size();
            out.add(new Cover.Outside(slices.from(s), slices.to(s), share, count[s]));
        }
        return out;
    }
}
