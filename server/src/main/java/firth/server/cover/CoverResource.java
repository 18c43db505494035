package firth.server.cover;

import firth.core.time.Span;
import firth.server.evaluation.Changes;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Slices;
import firth.server.evaluation.Summaries;
import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DefaultValue;
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

    private final Summaries summaries;
    private final CoverPart part;
    private final Lookout lookout;

    CoverResource(Summaries summaries, CoverPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    /**
     * @param most how many rows come at once, 0 to 40
     * @param ids the ids of how many databases come, from the first on
     */
    @GET
    public Cover cover(
            @BeanParam CoverAsked asked,
            @QueryParam("most") @DefaultValue("16") int most,
            @QueryParam("ids") @DefaultValue("2000") int ids,
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("period") @Nullable String period) {
        if (most < 0 || most > Changes.FEW) {
            throw new BadRequest("most", "is to be 0 to " + Changes.FEW);
        }
        if (ids < 0) {
            throw new BadRequest("ids", "is to be 0 or more");
        }
        Lookout.View view = lookout.view(asOf, period);
        List<Cover.Row> rows = summaries.all(view, part).each().stream()
                .flatMap(p -> p.row().stream())
                .toList();
        List<Arrangement.Grouped> groups = new Arrangement(asked, view.asOf()).of(rows);
        return new Cover(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                rows.size(),
                named(groups, ids),
                Arrangement.choices(rows),
                groups.stream().flatMap(g -> g.rows().stream()).limit(most).toList());
    }

    /** The groups with the ids of so many databases. */
    private static List<Cover.CoverGroup> named(List<Arrangement.Grouped> groups, int ids) {
        List<Cover.CoverGroup> out = new ArrayList<>();
        int left = ids;
        for (Arrangement.Grouped g : groups) {
            List<String> own = g.rows().stream().limit(left).map(Cover.Row::id).toList();
            out.add(new Cover.CoverGroup(g.title(), g.promise(), g.rows().size(), own));
            left -= own.size();
        }
        return out;
    }

    /** How much of the fleet was outside its promise in the period. */
    @GET
    @Path("/strip")
    public Cover.Strip strip(@QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        return new Cover.Strip(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                outside(summaries.all(view, part).each(), view.period()));
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
        return summaries.some(Set.copyOf(databases), lookout.view(asOf, period), part).each().stream()
                .flatMap(p -> p.row().stream())
                .toList();
    }

    /** How much of the fleet was outside its objective, slice by slice. */
    private static List<Cover.Outside> outside(List<CoverPart.Sliver> parts, Span period) {
        Slices slices = CoverPart.slices(period);
        List<CoverPart.Sliver> promised =
                parts.stream().filter(CoverPart.Sliver::promised).toList();
        int[] count = new int[slices.count()];
        for (CoverPart.Sliver p : promised) {
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
