package firth.core.cover;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A stretch of the past of which no moment can be restored after a mishap.
 *
 * @param gap the hole in the logs that makes it, where one does
 */
public record Hole(Instant from, Instant to, Where where, Optional<Gap> gap) {

    /** Where it lies among what can be restored. */
    public enum Where {
        BEFORE,
        BETWEEN,
        AFTER,
        /** Nothing can be restored at all. */
        EVERYWHERE
    }

    /** What is left between what can be restored, from the in-service moment to now. */
    public static List<Hole> between(List<Piece> restorable, Instant inService, Instant now, List<Gap> gaps) {
        List<Hole> out = new ArrayList<>();
        Instant reached = inService;
        Where where = Where.BEFORE;
        for (Piece piece : restorable) {
            if (piece.from().isAfter(reached)) {
                out.add(hole(reached, piece.from(), where, gaps));
            }
            reached = piece.to().isAfter(reached) ? piece.to() : reached;
            where = Where.BETWEEN;
        }
        if (now.isAfter(reached)) {
            out.add(hole(reached, now, restorable.isEmpty() ? Where.EVERYWHERE : Where.AFTER, gaps));
        }
        return out;
    }

    private static Hole hole(Instant from, Instant to, Where where, List<Gap> gaps) {
        return new Hole(
                from,
                to,
                where,
                gaps.stream()
                        .filter(g -> g.before().filter(b -> b.isAfter(from)).isPresent()
                                && g.after().map(a -> a.isBefore(to)).orElse(true))
                        .findFirst());
    }
}
