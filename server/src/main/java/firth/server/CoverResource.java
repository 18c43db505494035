package firth.server;

import firth.core.Evaluation;
import firth.core.objective.Breach;
import firth.core.time.Span;
import firth.server.api.Cover;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** The fleet as ribbons. */
@Path("/api/cover")
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
        Evaluations.Fleetwide all = evaluations.all(view);
        CoverRows rows = new CoverRows(all.fleet(), view);
        return new Cover(
                view.asOf(),
                view.period().from(),
                view.period().to(),
                outside(all.answers(), view.period()),
                all.answers().stream()
                        .filter(e -> !e.database().retiredAt(view.asOf()))
                        .map(rows::row)
                        .toList());
    }

    /** How much of the fleet was outside its objective, slice by slice. */
    private static List<Cover.Outside> outside(List<Evaluation> answers, Span period) {
        List<Evaluation> promised =
                answers.stream().filter(e -> e.mishap().objective().isPresent()).toList();
        Duration slice = period.length().dividedBy(SLICES);
        if (slice.isZero()) {
            return List.of();
        }
        int[] count = new int[SLICES];
        for (Evaluation e : promised) {
            boolean[] broken = new boolean[SLICES];
            for (Breach b : e.mishap().breaches()) {
                int first = (int) (Duration.between(period.from(), b.from()).toMillis() / slice.toMillis());
                int last = (int) ((Duration.between(period.from(), b.to()).toMillis() - 1) / slice.toMillis());
                for (int s = Math.max(0, first); s <= Math.min(SLICES - 1, last); s++) {
                    broken[s] = true;
                }
            }
            for (int s = 0; s < SLICES; s++) {
                count[s] += broken[s] ? 1 : 0;
            }
        }
        List<Cover.Outside> out = new ArrayList<>();
        for (int s = 0; s < SLICES; s++) {
            Instant from = period.from().plus(slice.multipliedBy(s));
            double share = promised.isEmpty() ? 0 : (double) count[s] / promised.size();
            out.add(new Cover.Outside(from, from.plus(slice), share, count[s]));
        }
        return out;
    }
}
