package firth.server.evaluation;

import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import jakarta.inject.Singleton;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.ToDoubleFunction;

/** How many copies of a database lie in which store, and how many of them no rule asks for. */
@Singleton
public class HeldPart implements SummaryPart<Map<String, HeldPart.Held>> {

    /** What keeps a copy though no rule asks for it. */
    private static final Set<String> KEPT = Set.of("locked", "held");

    /**
     * Copies in one store.
     *
     * @param bytes of all of them; those of unknown size take none
     * @param obsolete bytes that are not needed
     * @param spare copies that no rule asks for, though a lock or a hold may keep them
     */
    public record Held(double bytes, double obsolete, int spare) {}

    /** What was counted in one store so far. */
    private static final class Counting {
        private double bytes;
        private double obsolete;
        private int spare;

        private void count(Retention retention, int k) {
            boolean needed = retention.verdict(k) == Verdict.NEEDED;
            double own = RetainedBytes.known(retention.bytes(k));
            bytes += own;
            obsolete += needed ? 0 : own;
            spare += needed && !isOnlyKept(retention, k) ? 0 : 1;
        }
    }

    @Override
    public Map<String, Held> of(Answered one) {
        Retention retention = one.answer().retention();
        Map<String, Counting> counted = new HashMap<>();
        for (int k = 0; k < retention.size(); k++) {
            counted.computeIfAbsent(retention.store(k), s -> new Counting()).count(retention, k);
        }
        Map<String, Held> out = new HashMap<>();
        counted.forEach((store, c) -> out.put(store, new Held(c.bytes, c.obsolete, c.spare)));
        return out;
    }

    /** Whether nothing but a lock or a hold needs a copy. */
    private static boolean isOnlyKept(Retention retention, int k) {
        return (retention.has(k, Reason.LOCKED) || retention.has(k, Reason.HELD))
                && KEPT.containsAll(retention.reasons(k));
    }

    /** By store, something of what all databases have there. */
    public static Map<String, Double> byStore(List<Map<String, Held>> all, ToDoubleFunction<Held> what) {
        Map<String, Double> out = new TreeMap<>();
        all.forEach(own -> own.forEach((store, held) -> out.merge(store, what.applyAsDouble(held), Double::sum)));
        return out;
    }
}
