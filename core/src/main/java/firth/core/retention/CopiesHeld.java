package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;

/** Compares the copies a backup has had with a copies rule (docs/semantics.md, "Retention"). */
final class CopiesHeld {

    private final History history;
    private final Availability availability;
    /** By store of the history: a number that stores of one medium share, -1 where it has none. */
    private final int[] medium;

    private final BitSet stores = new BitSet();
    private final BitSet media = new BitSet();
    private final BitSet offsite = new BitSet();
    private final BitSet locked = new BitSet();

    CopiesHeld(History history, Availability availability) {
        this.history = history;
        this.availability = availability;
        this.medium = new int[history.storesByIndex().size()];
        Map<String, Integer> known = new HashMap<>();
        for (int s = 0; s < medium.length; s++) {
            medium[s] = availability
                    .storeByIndex(s)
                    .flatMap(BackupStore::medium)
                    .map(m -> known.computeIfAbsent(m, x -> known.size()))
                    .orElse(-1);
        }
    }

    /** Whether the rule asks for more than a backup has had: copies that have landed and are not spoiled. */
    boolean fewerThan(CopiesRule rule, int i) {
        stores.clear();
        media.clear();
        offsite.clear();
        locked.clear();
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (availability.landed(c) && !availability.spoiledNow(c)) {
                int store = history.storeIndex(c);
                stores.set(store);
                if (medium[store] >= 0) {
                    media.set(medium[store]);
                }
                if (availability.offsite(c)) {
                    offsite.set(store);
                }
                if (history.lockedUntilMs(c) != History.ALWAYS) {
                    locked.set(store);
                }
            }
        }
        return stores.cardinality() < rule.stores()
                || media.cardinality() < rule.media()
                || offsite.cardinality() < rule.offsite()
                || locked.cardinality() < rule.locked();
    }
}
