package firth.server;

import firth.core.Evaluation;
import firth.core.objective.Breach;
import firth.core.time.Span;
import firth.server.api.Cover;
import firth.server.people.Roles;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The fleet as ribbons. */
@Path("/api/cover")
@RolesAllowed(Roles.VIEWER)
public class CoverResource {

    private static final int SLICES = 200;

    private final Evaluations evaluations;
    private final Lookout lookout;

    CoverResource(Evaluations evaluations, Lookout lookout) {
        this.evaluations = evaluations;
        this.lookout = lookout;
    }

    @GET
    public Cover cover(@QueryParam("asOf") String asOf, @QueryParam("period") String period) {
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
            @QueryParam("asOf") String asOf,
            @QueryParam("period") String period) {
        if (databases.isEmpty() || databases.size() > ChangesResource.FEW) {
            throw new BadRequest("database", "is to be given 1 to " + ChangesResource.FEW + " times");
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
     * @param broken the slices of the period in which it was outside its objective
     */
    private record Part(Optional<Cover.Row> row, boolean promised, BitSet broken) {}

    private static Part part(FleetNow fleet, Evaluation e, Lookout.View view) {
        boolean served = e.database().isServedAt(view.asOf());
        return new Part(
                served ? Optional.of(new CoverRows(fleet, view).row(e)) : Optional.empty(),
                e.mishap().objective().isPresent(),
                broken(e, view.period()));
    }

    private static BitSet broken(Evaluation e, Span period) {
        BitSet out = new BitSet(SLICES);
        Duration slice = period.length().dividedBy(SLICES);
        for (Breach b : slice.isZero() ? List.<Breach>of() : e.mishap().breaches()) {
            int first = (int) (Duration.between(period.from(), b.from()).toMillis() / slice.toMillis());
            int last = (int) ((Duration.between(period.from(), b.to()).toMillis() - 1) / slice.toMillis());
            if (first < SLICES && last >= 0) {
                out.set(Math.max(0, first), Math.min(SLICES - 1, last) + 1);
            }
        }
        return out;
    }

    /** How much of the fleet was outside its objective, slice by slice. */
    private static List<Cover.Outside> outside(List<Part> parts, Span period) {
        Duration slice = period.length().dividedBy(SLICES);
        if (slice.isZero()) {
            return List.of();
        }
        List<Part> promised = parts.stream().filter(Part::promised).toList();
        int[] count = new int[SLICES];
        promised.forEach(p -> p.broken.stream().forEach(s -> count[s]++));
        List<Cover.Outside> out = new ArrayList<>();
        for (int s = 0; s < SLICES; s++) {
            Instant from = period.from().plus(slice.multipliedBy(s));
            double share = promised.isEmpty() ? 0 : (double) count[s] / promised.size();
            out.add(new Cover.Outside(from, from.plus(slice), share, count[s]));
        }
        return out;
    }
}
