package firth.core.retention;

import firth.core.history.History;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The verdict and reasons of every available copy of one database, by row of the history's copy columns. Reasons that
 * name another backup read {@code parent-of:ID}, {@code log-for-consistency:ID} and {@code replaced-by:ID}.
 */
public final class Retention {

    private final History history;
    private final int[] copies;
    private final int[] backups;
    private final Verdict[] verdicts;
    private final int[] reasons;
    private final DrawnIn drawn;
    private final Map<Integer, List<String>> replacedBy;
    private final int[] roles;
    /** Gathered from {@link #drawn} when it is first asked for; gathering it twice does no harm. */
    private volatile Map<Integer, Set<Drawn>> naming;

    Retention(
            History history,
            int[] copies,
            int[] backups,
            Verdict[] verdicts,
            int[] reasons,
            DrawnIn drawn,
            int[] roles,
            Map<Integer, List<String>> replacedByRole) {
        this.history = history;
        this.copies = copies;
        this.backups = backups;
        this.verdicts = verdicts;
        this.reasons = reasons;
        this.drawn = drawn;
        this.roles = roles;
        this.replacedBy = replacedByRole;
    }

    /** How many available copies there are; the other methods take an index below it. */
    public int size() {
        return copies.length;
    }

    public int backup(int index) {
        return backups[index];
    }

    public int copy(int index) {
        return copies[index];
    }

    public String store(int index) {
        return history.store(copies[index]);
    }

    public Verdict verdict(int index) {
        return verdicts[index];
    }

    /** Bytes the copy takes, NaN where not known. */
    public double bytes(int index) {
        return history.bytes(copies[index]);
    }

    /** Whether a lock and nothing else keeps the copy. */
    public boolean onlyLocked(int index) {
        return verdicts[index] == Verdict.NEEDED && reasons[index] == 1 << Reason.LOCKED.ordinal();
    }

    /** Whether a reason that names no other backup applies. */
    public boolean has(int index, Reason reason) {
        return (reasons[index] & 1 << reason.ordinal()) != 0;
    }

    /** Every reason that applies, in words of the exchange format. */
    public List<String> reasons(int index) {
        List<String> out = new ArrayList<>();
        for (Reason reason : Reason.values()) {
            if (has(index, reason)) {
                out.add(reason.word());
            }
        }
        naming().getOrDefault(copies[index], Set.of()).forEach(d -> out.add(d.word(history)));
        if (verdicts[index] == Verdict.OBSOLETE) {
            replacedBy.getOrDefault(roles[index], List.of()).forEach(id -> out.add("replaced-by:" + id));
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
