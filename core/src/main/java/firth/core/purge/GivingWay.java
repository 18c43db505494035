package firth.core.purge;

import firth.core.evaluation.Evaluation;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.GivesWay;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * What of one database gives way in a store that is short of room, in the order it does (docs/stores.md). What is locked, held, part
 * of the newest way back, or has not stayed as long as it must, never does.
 */
public final class GivingWay {

    private GivingWay() {}

    /** The rows of the evaluation's retention that give way, the first first. */
    public static List<Integer> of(Evaluation e, BackupStore store) {
        if (store.givesWay() == GivesWay.REFUSE_NEW) {
            return List.of();
        }
        Retention kept = e.retention();
        Map<Integer, Integer> usable = new HashMap<>();
        for (int k = 0; k < kept.size(); k++) {
            if (kept.verdict(k) != Verdict.UNUSABLE) {
                usable.merge(kept.backup(k), 1, Integer::sum);
            }
        }
        List<Integer> out = new ArrayList<>();
        for (int k = 0; k < kept.size(); k++) {
            boolean free = kept.verdict(k) != Verdict.NEEDED;
            boolean elsewhere =
                    store.givesWay() == GivesWay.COPIED_ELSEWHERE_FIRST && usable.getOrDefault(kept.backup(k), 0) > 1;
            if (kept.store(k).equals(store.id()) && (free || elsewhere) && !stays(e, k, store)) {
                out.add(k);
            }
        }
        History history = e.history();
        out.sort(Comparator.<Integer, Boolean>comparing(k -> kept.verdict(k) == Verdict.NEEDED)
                .thenComparingLong(k -> history.landedMs(kept.copy(k)))
                .thenComparingInt(k -> k));
        return out;
    }

    private static boolean stays(Evaluation e, int k, BackupStore store) {
        Retention kept = e.retention();
        return kept.has(k, Reason.LOCKED)
                || kept.has(k, Reason.HELD)
                || kept.has(k, Reason.FLOOR)
                || staysUntilMs(e.history(), kept.copy(k), store) > e.asOf().toEpochMilli();
    }

    /** Until when a copy is to stay in a store where deleting early costs money; the past where it does not. */
    public static long staysUntilMs(History history, int copy, BackupStore store) {
        return history.landedMs(copy)
                + store.minimumStay().map(Duration::toMillis).orElse(0L);
    }
}
