package firth.server.evaluation;

import firth.core.evaluation.Evaluation;
import firth.core.retention.Verdict;
import java.util.Collection;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Predicate;

/** How many bytes of the copies that are there have some verdict; copies of unknown size take none. */
public final class RetainedBytes {

    private RetainedBytes() {}

    /** By store. */
    public static Map<String, Double> byStore(Collection<Evaluation> answers, Predicate<Verdict> which) {
        Map<String, Double> out = new TreeMap<>();
        for (Evaluation e : answers) {
            for (int k = 0; k < e.retention().size(); k++) {
                if (which.test(e.retention().verdict(k))) {
                    out.merge(e.retention().store(k), known(e.retention().bytes(k)), Double::sum);
                }
            }
        }
        return out;
    }

    /** Bytes where they are known, else 0. */
    public static double known(double bytes) {
        return Double.isNaN(bytes) ? 0 : bytes;
    }
}
