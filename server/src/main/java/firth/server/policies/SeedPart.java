package firth.server.policies;

import firth.core.history.History;
import firth.server.evaluation.Answered;
import firth.server.evaluation.RetainedBytes;
import firth.server.evaluation.SummaryPart;
import jakarta.inject.Singleton;
import java.util.List;
import java.util.Map;

/** What tells whether a look ahead at a database still fits it. */
@Singleton
class SeedPart implements SummaryPart<SeedPart.Seed> {

    /**
     * One database.
     *
     * @param rules what its answers rest on besides facts
     * @param data a number that changes when its data backups or their copies do; logs come and go, and change little
     * @param held by store, bytes held now
     */
    record Seed(String rules, int data, Map<String, Double> held) {}

    @Override
    public Seed of(Answered one) {
        return new Seed(
                one.rules(), data(one.answer().history()), RetainedBytes.byStore(List.of(one.answer()), v -> true));
    }

    private static int data(History h) {
        int out = 0;
        for (int i : h.others()) {
            out = 31 * out + h.id(i).hashCode();
            for (int c = h.firstCopy(i); c < h.firstCopy(i + 1); c++) {
                out = 31 * out + Long.hashCode(h.goneMs(c)) + Long.hashCode(h.landedMs(c));
            }
        }
        return out;
    }
}
