package firth.server.cover;

import firth.core.evaluation.Evaluation;
import firth.core.objective.Breach;
import firth.core.time.Span;
import firth.server.evaluation.Answered;
import firth.server.evaluation.Slices;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.time.Duration;
import java.util.BitSet;
import java.util.Optional;

/** What a database adds to the picture of cover. */
@Singleton
public class CoverPart implements SummaryPart<CoverPart.Sliver> {

    private static final int SLICES = 200;
    private static final Duration SHORTEST = Duration.ofMillis(1);

    /**
     * What one database adds.
     *
     * @param row its ribbon, while it is in service
     * @param promised whether it promises anything
     * @param slices those its period was cut into
     * @param broken in which of them it was outside its objective
     */
    public record Sliver(Optional<Cover.Row> row, boolean promised, Slices slices, BitSet broken) {}

    @Override
    public Sliver of(Answered one) {
        Evaluation e = one.answer();
        boolean served = e.database().isServedAt(e.asOf());
        Slices slices = slices(one.view().period());
        return new Sliver(
                served ? Optional.of(new CoverRows(one.now(), one.view()).row(e)) : Optional.empty(),
                e.mishap().objective().isPresent(),
                slices,
                broken(e, slices));
    }

    static Slices slices(Span period) {
        return Slices.of(period, SLICES, SHORTEST);
    }

    private static BitSet broken(Evaluation e, Slices slices) {
        BitSet out = new BitSet(slices.count());
        for (Breach b : e.mishap().breaches()) {
            out.set(slices.begin(b.from()), slices.end(b.to()));
        }
        return out;
    }
}
