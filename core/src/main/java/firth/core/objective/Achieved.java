package firth.core.objective;

import firth.core.history.LandingAges;
import java.util.Optional;

/**
 * What the age of the recovery point was over a period. Milliseconds.
 *
 * @param max the achieved RPO: no age exceeded it, the value just before a landing counts
 * @param attainment share of the time an objective was in force in which it was kept; empty where none was
 */
public record Achieved(double max, double mean, double p50, double p95, double p99, Optional<Double> attainment) {

    public static final Achieved NOTHING = new Achieved(0, 0, 0, 0, 0, Optional.empty());

    public static Achieved of(AgePieces pieces, Optional<Double> attainment) {
        if (pieces.size() == 0) {
            return NOTHING;
        }
        double total = pieces.toMs(pieces.size() - 1) - pieces.fromMs(0);
        double area = 0;
        AgeQuantiles quantile = new AgeQuantiles(pieces);
        AgePieces.Block block = new AgePieces.Block();
        for (int b = 0; b < pieces.blocks(); b++) {
            LandingAges known = pieces.known(b);
            if (known != null) {
                area += known.area();
                quantile.count(known);
            } else {
                pieces.read(b, block);
                area += block.area();
                quantile.count(b, block);
            }
        }
        long max = pieces.mostMs();
        double[] quantiles = quantile.find(new double[] {0.5 * total, 0.95 * total, 0.99 * total});
        return new Achieved(max, area / total, quantiles[0], quantiles[1], quantiles[2], attainment);
    }

    /** The same ages held against another objective. */
    public Achieved with(Optional<Double> otherAttainment) {
        return new Achieved(max, mean, p50, p95, p99, otherAttainment);
    }
}
