package firth.core.forecast;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.retention.Verdict;
import java.time.Instant;
import java.util.Optional;
import java.util.function.IntPredicate;

/**
 * Copies of a database that no rule needs (docs/foresight.md, "What rules keep").
 *
 * @param obsolete those that may go
 * @param lockedOnly those that nothing but a lock keeps
 */
public record Surplus(Pile obsolete, Pile lockedOnly) {

    public static final Surplus NONE = new Surplus(Pile.NONE, Pile.NONE);

    /**
     * Some copies together.
     *
     * @param lastLock when the last of their locks ends, where any is locked
     */
    public record Pile(int copies, double bytes, Optional<Instant> lastLock) {

        public static final Pile NONE = new Pile(0, 0, Optional.empty());

        static Pile of(Evaluation e, IntPredicate counts) {
            Pile out = NONE;
            for (int k = 0; k < e.retention().size(); k++) {
                if (counts.test(k)) {
                    double size = e.retention().bytes(k);
                    long lock = e.history().lockedUntilMs(e.retention().copy(k));
                    out = out.and(new Pile(
                            1,
                            Double.isNaN(size) ? 0 : size,
                            lock == History.ALWAYS ? Optional.empty() : Optional.of(Instant.ofEpochMilli(lock))));
                }
            }
            return out;
        }

        public Pile and(Pile other) {
            boolean later = lastLock.isEmpty()
                    || other.lastLock.filter(lastLock.get()::isBefore).isPresent();
            return new Pile(copies + other.copies, bytes + other.bytes, later ? other.lastLock : lastLock);
        }
    }

    public static Surplus of(Evaluation e) {
        return new Surplus(
                Pile.of(e, k -> e.retention().verdict(k) == Verdict.OBSOLETE), Pile.of(e, e.retention()::onlyLocked));
    }

    public Surplus and(Surplus other) {
        return new Surplus(obsolete.and(other.obsolete), lockedOnly.and(other.lockedOnly));
    }
}
