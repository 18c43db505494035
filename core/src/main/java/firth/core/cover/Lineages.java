package firth.core.cover;

import firth.core.model.Database;
import firth.core.model.Lineage;
import java.time.Instant;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

/**
 * A database's lineages as known at one moment: when each was in force, and where it left its parent (docs/semantics.md,
 * "Objects"). A lineage is named by its place among the database's; parents stand before their children.
 */
public final class Lineages {

    /** Stands for a fork position that is not known. */
    public static final long UNKNOWN = -1;

    private final List<Lineage> all;
    private final long[] openedAt;
    private final long[] until;
    private final int[] parent;
    private final long[][] fork;
    private final boolean[] known;

    public Lineages(Database database, long nowMs) {
        all = database.lineages();
        int n = all.size();
        openedAt = new long[n];
        until = new long[n];
        parent = new int[n];
        fork = new long[n][];
        known = new boolean[n];
        for (int l = 0; l < n; l++) {
            Lineage own = all.get(l);
            Instant opened = l == 0 ? database.inServiceFrom() : own.openedAt().orElse(database.inServiceFrom());
            openedAt[l] = opened.toEpochMilli();
            known[l] = l == 0 || openedAt[l] <= nowMs;
            parent[l] = own.parent().map(this::place).orElse(-1);
            fork[l] = database.streams().stream()
                    .mapToLong(s -> own.forkPos().getOrDefault(s, UNKNOWN))
                    .toArray();
        }
        Arrays.fill(until, Long.MAX_VALUE);
        int[] inOrder = IntStream.range(1, n)
                .filter(this::isKnown)
                .boxed()
                .sorted(Comparator.comparingLong(l -> openedAt[l]))
                .mapToInt(Integer::intValue)
                .toArray();
        int before = 0;
        for (int l : inOrder) {
            until[before] = openedAt[l];
            before = l;
        }
    }

    private int place(String id) {
        for (int l = 0; l < all.size(); l++) {
            if (all.get(l).id().equals(id)) {
                return l;
            }
        }
        return -1;
    }

    public int count() {
        return all.size();
    }

    public String id(int lineage) {
        return all.get(lineage).id();
    }

    /** Whether it had opened by now; one that had not does not exist. */
    public boolean isKnown(int lineage) {
        return known[lineage];
    }

    /** When it came in force; of the first, when the database went into service. */
    public long openedAtMs(int lineage) {
        return openedAt[lineage];
    }

    /** When the next one opened; {@link Long#MAX_VALUE} while it is in force. */
    public long untilMs(int lineage) {
        return until[lineage];
    }

    public boolean inForceAt(int lineage, long moment) {
        return known[lineage] && openedAt[lineage] <= moment && moment < until[lineage];
    }

    /** The lineage it forked from, -1 of the first and of unrelated histories. */
    public int parent(int lineage) {
        return parent[lineage];
    }

    public boolean isChild(int lineage) {
        return parent[lineage] >= 0;
    }

    /** Where it left its parent in a stream, {@link #UNKNOWN} where that was not said. */
    public long fork(int lineage, int stream) {
        return fork[lineage][stream];
    }

    /** Whether a lineage is another or was forked from it, at any depth. */
    public boolean descends(int lineage, int from) {
        int at = lineage;
        while (at >= 0 && at != from) {
            at = parent[at];
        }
        return at == from;
    }
}
