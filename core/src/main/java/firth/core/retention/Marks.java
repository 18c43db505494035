package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.history.History;
import firth.core.model.BackupStore;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;

/** The reasons gathered so far, per available copy, and where copies of the same role lie. */
final class Marks {

    static final int NO_ROLE = 3;
    private static final int ROLES = 4;
    /** Stands in a mask for reasons that name another backup. */
    private static final int NAMED = 1 << 31;

    private final History history;
    private final Availability availability;
    private final CopyRuns runs;
    private final int[] roleOfStore;
    /** By copy; what a whole run has is noted there. */
    private final int[] reasons;

    private final DrawnIn naming = new DrawnIn();
    private final Map<Integer, List<String>> replacing = new HashMap<>();
    private final BitSet drawn = new BitSet();
    private final Deque<int[]> toDraw = new ArrayDeque<>();

    Marks(History history, Availability availability) {
        this.history = history;
        this.availability = availability;
        this.runs = new CopyRuns(history, availability);
        reasons = new int[history.copies()];
        roleOfStore = new int[history.storesByIndex().size()];
        for (int store = 0; store < roleOfStore.length; store++) {
            roleOfStore[store] = availability
                    .storeByIndex(store)
                    .flatMap(BackupStore::role)
                    .map(Enum::ordinal)
                    .orElse(NO_ROLE);
        }
    }

    private int roleOf(int copy) {
        return roleOfStore[history.storeIndex(copy)];
    }

    private boolean isThere(int i, int copy) {
        return availability.copyAvailableNow(copy) && availability.exists(i);
    }

    boolean available(int i) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (isThere(i, c)) {
                return true;
            }
        }
        return false;
    }

    /** Backups other than logs with an available copy in a role that pass a test, in the order of the rows. */
    List<Integer> inRole(int role, IntPredicate test) {
        List<Integer> out = new ArrayList<>();
        for (int i : history.others()) {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (roleOf(c) == role && isThere(i, c) && test.test(i)) {
                    out.add(i);
                    break;
                }
            }
        }
        return out;
    }

    /**
     * Marks the copies in a role of the backups that pass a test.
     *
     * @param test of logs that follow each other and behave, once one passes it all later ones do
     */
    void markWhere(int role, Reason reason, IntPredicate test) {
        for (int r = 0; r < runs.runs(); r++) {
            if (roleOf(runs.copy(runs.first(r))) == role) {
                markFrom(r, runs.firstWhere(r, n -> test.test(runs.backup(n))), reason);
            }
        }
    }

    /** As {@link #markWhere} in every role, by a test of the backup and the copy. */
    void markWhere(Reason reason, CopyTest test) {
        for (int r = 0; r < runs.runs(); r++) {
            markFrom(r, runs.firstWhere(r, n -> test.test(runs.backup(n), runs.copy(n))), reason);
        }
    }

    interface CopyTest {
        boolean test(int backup, int copy);
    }

    private void markFrom(int run, int number, Reason reason) {
        int end = runs.first(run + 1);
        if (number < end && end - runs.first(run) == 1) {
            reasons[runs.copy(number)] |= 1 << reason.ordinal();
        } else if (number < end) {
            runs.mark(run, number, 1 << reason.ordinal());
        }
    }

    void mark(int i, int role, Reason reason) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (roleOf(c) == role) {
                markCopy(i, c, reason);
            }
        }
    }

    void markAll(int i, Reason reason) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            markCopy(i, c, reason);
        }
    }

    private void markCopy(int i, int copy, Reason reason) {
        if (isThere(i, copy)) {
            reasons[copy] |= 1 << reason.ordinal();
        }
    }

    /** Says that what no rule needs in a role is obsolete because of this backup. */
    void replaces(int role, int i) {
        List<String> ids = replacing.computeIfAbsent(role, r -> new ArrayList<>());
        if (!ids.contains(history.id(i))) {
            ids.add(history.id(i));
        }
    }

    interface Drawing {
        void accept(int backup, int role);
    }

    /** Calls once for every backup and role in which it is needed, also those that become needed meanwhile. */
    void drawIn(Drawing drawing) {
        for (int i : history.others()) {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (reasons[c] != 0) {
                    want(i, roleOf(c));
                }
            }
        }
        while (!toDraw.isEmpty()) {
            int[] next = toDraw.poll();
            drawing.accept(next[0], next[1]);
        }
    }

    /**
     * Needs a backup's copies in a role, or all of them where it has none there. One of which no copy has landed yet needs what it
     * builds on all the same.
     */
    void draw(int i, int role, Drawn.As why, int other) {
        boolean there = false;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            there |= roleOf(c) == role && isThere(i, c);
        }
        if (!availability.everLanded(i)) {
            want(i, role);
        }
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if ((!there || roleOf(c) == role) && isThere(i, c)) {
                naming.add(c, why, other);
                reasons[c] |= NAMED;
                want(i, roleOf(c));
            }
        }
    }

    /** Only data backups need others. */
    private void want(int i, int role) {
        if (history.kind(i).isData() && !drawn.get(i * ROLES + role)) {
            drawn.set(i * ROLES + role);
            toDraw.add(new int[] {i, role});
        }
    }

    /** Closes the marks: what has none is obsolete, or unusable where {@code flaw} says why; only data backups are asked. */
    Retention judged(IntFunction<Optional<Reason>> flaw) {
        BitSet unusable = new BitSet();
        for (int i : history.others()) {
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (reasons[c] == 0 && history.kind(i).isData() && isThere(i, c)) {
                    Optional<Reason> reason = flaw.apply(i);
                    unusable.set(c, reason.isPresent());
                    reasons[c] = reason.map(r -> 1 << r.ordinal()).orElse(0);
                }
            }
        }
        return new Retention(history, runs, reasons, unusable, naming, roleOfStore, replacing);
    }
}
