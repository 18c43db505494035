package firth.server.cover;

import firth.core.evaluation.Evaluation;
import firth.core.objective.Breach;
import firth.core.time.Span;
import firth.server.evaluation.Changes;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Slices;
import firth.server.platform.BadRequest;
import firth.server.platform.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The fleet as ribbons. */
@Path("/api/cover")
@RolesAllowed(Roles.VIEWER)
public class CoverResource {

    private static final int SLICES = 200;
    private static final Duration SHORTEST = Duration.ofMillis(1);

    private final Evaluations evaluations;
    private final Lookout lookout;

    CoverResource(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    @GET
    public Cover cover(@QueryParam("asOf") @Nullable String asOf, @QueryParam("period") @Nullable String period) {
        Lookout.View view = lookout.view(asOf, period);
        List<Part> parts = evaluations.each(view, "cover", (fleet, e) -> part(fleet, e, view));
        return new Cover(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                outside(parts, view.period()),
                parts.stream().flatMap(p -> p.row.stream()).toList());
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
                .flatMap(e -> part(some.fleet(), e, view).row.stream())
                .toList();
    }

    /**
     * What one database adds to the picture.
     *
     * @param row its ribbon, while it is in service
     * @param promised whether it promises anything
     * @param slices those its period was cut into
     * @param broken in which of them it was outside its objective
     */
    private record Part(Optional<Cover.Row> row, boolean promised, Slices slices, BitSet broken) {}

    private static Slices slices(Span period) {
        return Slices.of(period, SLICES, SHORTEST);
    }

    private static Part part(FleetNow fleet, Evaluation e, Lookout.View view) {
        boolean served = e.database().isServedAt(view.asOf());
        Slices slices = slices(view.period());
        return new Part(
                served ? Optional.of(new CoverRows(fleet, view).row(e)) : Optional.empty(),
                e.mishap().objective().isPresent(),
                slices,
                broken(e, slices));
    }

    private static BitSet broken(Evaluation e, Slices slices) {
        BitSet out = new BitSet(slices.count());
        for (Breach b : e.mishap().breaches()) {
            out.set(slices.begin(b.from()), slices.end(b.to()));
        }
        return out;
    }

    /** How much of the fleet was outside its objective, slice by slice. */
    private static List<Cover.Outside> outside(List<Part> parts, Span period) {
        Slices slices = slices(period);
        List<Part> promised = parts.stream().filter(Part::promised).toList();
        int[] count = new int[slices.count()];
        for (Part p : promised) {
            p.broken.stream()
                    .mapToLong(s -> p.slices.first() + s - slices.first())
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
