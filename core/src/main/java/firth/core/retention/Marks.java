package firth.core.retention;

import firth.core.cover.Availability;
import firth.core.fleet.BackupStore;
import firth.core.history.History;
import java.util.ArrayDeque;
import java.util.ArrayList;
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
    private final int[] backupOf;
    private final int[] roleOf;
    private final int[] reasons;
    private final DrawnIn naming = new DrawnIn();
    private final Map<Integer, List<String>> replacing = new HashMap<>();
    private final boolean[] drawn;
    private final Deque<int[]> toDraw = new ArrayDeque<>();

    Marks(History history, Availability availability) {
        this.history = history;
        backupOf = new int[history.copies()];
        roleOf = new int[history.copies()];
        reasons = new int[history.copies()];
        drawn = new boolean[history.size() * ROLES];
        int[] roleOfStore = new int[history.storesByIndex().size()];
        for (int store = 0; store < roleOfStore.length; store++) {
            roleOfStore[store] = availability
                    .storeByIndex(store)
                    .flatMap(BackupStore::role)
                    .map(Enum::ordinal)
                    .orElse(NO_ROLE);
        }
        for (int i = 0; i < history.size(); i++) {
            boolean begun = availability.begun(i);
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                backupOf[c] = begun && availability.copyAvailableNow(c) ? i : -1;
                roleOf[c] = roleOfStore[history.storeIndex(c)];
            }
        }
    }

    interface CopyAction {
        void accept(int backup, int copy);
    }

    void forEachCopy(CopyAction action) {
        for (int c = 0; c < backupOf.length; c++) {
            if (backupOf[c] >= 0) {
                action.accept(backupOf[c], c);
            }
        }
    }

    boolean available(int i) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (backupOf[c] >= 0) {
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
                if (backupOf[c] >= 0 && roleOf[c] == role && test.test(i)) {
                    out.add(i);
                    break;
                }
            }
        }
        return out;
    }

    /** Marks the copies in a role of the backups that pass a test. */
    void markWhere(int role, Reason reason, IntPredicate test) {
        for (int c = 0; c < backupOf.length; c++) {
            if (backupOf[c] >= 0 && roleOf[c] == role && test.test(backupOf[c])) {
                reasons[c] |= 1 << reason.ordinal();
            }
        }
    }

    void mark(int i, int role, Reason reason) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (roleOf[c] == role) {
                markCopy(c, reason);
            }
        }
    }

    void markAll(int i, Reason reason) {
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            markCopy(c, reason);
        }
    }

    void markCopy(int copy, Reason reason) {
        if (backupOf[copy] >= 0) {
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
                if (backupOf[c] >= 0 && reasons[c] != 0) {
                    want(i, roleOf[c]);
                }
            }
        }
        while (!toDraw.isEmpty()) {
            int[] next = toDraw.poll();
            drawing.accept(next[0], next[1]);
        }
    }

    /** Needs a backup's copies in a role, or all of them where it has none there. */
    void draw(int i, int role, Drawn.As why, int other) {
        boolean there = false;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            there |= backupOf[c] >= 0 && roleOf[c] == role;
        }
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (backupOf[c] >= 0 && (!there || roleOf[c] == role)) {
                naming.add(c, why, other);
                reasons[c] |= NAMED;
                want(i, roleOf[c]);
            }
        }
    }

    /** Only data backups need others. */
    private void want(int i, int role) {
        if (history.kind(i).isData() && !drawn[i * ROLES + role]) {
            drawn[i * ROLES + role] = true;
            toDraw.add(new int[] {i, role});
        }
    }

    /** Closes the marks: what has none is obsolete, or unusable where {@code flaw} says why. */
    Retention judged(IntFunction<Optional<Reason>> flaw) {
        int count = 0;
        for (int backup : backupOf) {
            count += backup >= 0 ? 1 : 0;
        }
        int[] copies = new int[count];
        int[] backups = new int[count];
        int[] masks = new int[count];
        int[] roles = new int[count];
        Verdict[] verdicts = new Verdict[count];
        int[] n = {0};
        forEachCopy((i, c) -> {
            int at = n[0]++;
            copies[at] = c;
            backups[at] = i;
            roles[at] = roleOf[c];
            masks[at] = reasons[c];
            if (masks[at] != 0) {
                verdicts[at] = Verdict.NEEDED;
            } else {
                Optional<Reason> reason = flaw.apply(i);
                verdicts[at] = reason.isPresent() ? Verdict.UNUSABLE : Verdict.OBSOLETE;
                masks[at] = reason.map(r -> 1 << r.ordinal()).orElse(0);
            }
        });
        return new Retention(history, copies, backups, verdicts, masks, naming, roles, replacing);
    }
}
