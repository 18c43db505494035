package firth.core.retention;

import firth.core.history.History;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * The verdict and reasons of every available copy of one database, by row of the history's copy columns. Reasons that
 * name another backup read {@code parent-of:ID}, {@code log-for-consistency:ID} and {@code replaced-by:ID}.
 */
public final class Retention {

    private static final Reason[] REASONS = Reason.values();

    /** The bits of a mask that are reasons; another says that a backup is drawn in by others. */
    private static final int NAMED = (1 << REASONS.length) - 1;

    private final History history;
    private final CopyRuns runs;
    /** By copy. */
    private final int[] reasons;

    private final BitSet unusable;
    private final DrawnIn drawn;
    private final int[] roleOfStore;
    private final Map<Integer, List<String>> replacedBy;
    /** Gathered from {@link #drawn} when it is first asked for; gathering it twice does no harm. */
    private volatile @Nullable Map<Integer, Set<Drawn>> naming;

    Retention(
            History history,
            CopyRuns runs,
            int[] reasons,
            BitSet unusable,
            DrawnIn drawn,
            int[] roleOfStore,
            Map<Integer, List<String>> replacedByRole) {
        this.history = history;
        this.runs = runs;
        this.reasons = reasons;
        this.unusable = unusable;
        this.drawn = drawn;
        this.roleOfStore = roleOfStore;
        this.replacedBy = replacedByRole;
    }

    /** How many available copies there are; the other methods take an index below it. */
    public int size() {
        return runs.size();
    }

    public int backup(int index) {
        return runs.backup(index);
    }

    public int copy(int index) {
        return runs.copy(index);
    }

    private int mask(int index) {
        return reasons[copy(index)] | runs.marked(index);
    }

    public String store(int index) {
        return history.store(copy(index));
    }

    public Verdict verdict(int index) {
        if (unusable.get(copy(index))) {
            return Verdict.UNUSABLE;
        }
        return mask(index) != 0 ? Verdict.NEEDED : Verdict.OBSOLETE;
    }

    /** Bytes the copy takes, NaN where not known. */
    public double bytes(int index) {
        return history.bytes(copy(index));
    }

    /** Whether a lock and nothing else keeps the copy. */
    public boolean onlyLocked(int index) {
        return mask(index) == 1 << Reason.LOCKED.ordinal();
    }

    /** Whether a rule asks for the copy: a lock and a hold alone do not, however long they keep it. */
    public boolean isAskedFor(int index) {
        return (mask(index) & ~(1 << Reason.LOCKED.ordinal() | 1 << Reason.HELD.ordinal())) != 0;
    }

    /** Whether a reason that names no other backup applies. */
    public boolean has(int index, Reason reason) {
        return (mask(index) & 1 << reason.ordinal()) != 0;
    }

    /** Every reason that applies, in words of the exchange format. */
    public List<String> reasons(int index) {
        List<String> out = new ArrayList<>();
        int mask = mask(index);
        for (int left = mask & NAMED; left != 0; left &= left - 1) {
            out.add(REASONS[Integer.numberOfTrailingZeros(left)].word());
        }
        naming().getOrDefault(copy(index), Set.of()).forEach(d -> out.add(d.word(history)));
        if (mask == 0 && !unusable.get(copy(index))) {
            replacedBy
                    .getOrDefault(roleOfStore[history.storeIndex(copy(index))], List.of())
                    .forEach(id -> out.add("replaced-by:" + id));
        }
        return out;
    }

    private Map<Integer, Set<Drawn>> naming() {
        if (naming == null) {
            naming = drawn.byCopy();
        }
        return naming;
    }
}
