package firth.core.cover;

import firth.core.history.History;
import firth.core.history.Stretches;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.time.Spans;
import java.time.Duration;
import java.util.Arrays;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * When copies, backups and chains can be used, as known at one moment (docs/semantics.md, "Availability and hazards"
 * and "What can be restored").
 */
public final class Availability {

    /** How long what a backup needs may be on its way: three days. */
    public static final long IN_FLIGHT_MS = Duration.ofDays(3).toMillis();

    private final History history;
    private final Optional<BackupStore>[] stores;
    private final boolean[] offsite;
    private final boolean[] known;
    private final Map<Hazard, Windows> windows = new EnumMap<>(Hazard.class);
    private final long now;
    private final Lineages lineages;
    private final int streams;

    public Availability(Database database, Fleet fleet, History history, long nowMs) {
        this(database, fleet, history, nowMs, Losses.NONE);
    }

    /** @param losses stores whose copies are taken to be nowhere at all */
    @SuppressWarnings({"unchecked", "rawtypes"})
    public Availability(Database database, Fleet fleet, History history, long nowMs, Losses losses) {
        this.history = history;
        this.now = nowMs;
        this.lineages = new Lineages(database, nowMs);
        this.streams = database.streams().size();
        List<String> ids = history.storesByIndex();
        stores = new Optional[ids.size()];
        offsite = new boolean[ids.size()];
        known = new boolean[ids.size()];
        for (int i = 0; i < ids.size(); i++) {
            stores[i] = fleet.store(ids.get(i)).filter(s -> !losses.takes(s));
            known[i] = stores[i].isPresent();
            Optional<String> site = stores[i].flatMap(BackupStore::site);
            offsite[i] = site.isPresent() && database.site().isPresent() && !site.equals(database.site());
        }
    }

    public long nowMs() {
        return now;
    }

    public Lineages lineages() {
        return lineages;
    }

    public int streams() {
        return streams;
    }

    /** The store a copy lies in, where it is known. */
    public Optional<BackupStore> store(int copy) {
        return stores[history.storeIndex(copy)];
    }

    /** The store that copies of an index of the history lie in, where it is known. */
    public Optional<BackupStore> storeByIndex(int index) {
        return stores[index];
    }

    public boolean offsite(int copy) {
        return offsite[history.storeIndex(copy)];
    }

    /** Whether a backup is of a lineage that had opened by now; one that had not does not exist. */
    public boolean exists(int i) {
        return lineages.isKnown(history.lineage(i));
    }

    public boolean landed(int copy) {
        return history.landedMs(copy) <= now && known[history.storeIndex(copy)];
    }

    /** Whether a spoilage is known now, whenever it set in. */
    public boolean foundSpoiled(int copy) {
        return history.foundMs(copy) <= now;
    }

    public boolean spoiledNow(int copy) {
        return foundSpoiled(copy) && history.sinceMs(copy) <= now;
    }

    public boolean gone(int copy) {
        return history.goneMs(copy) <= now;
    }

    /** Whether at least a part of a backup's copy had come by now; of any but a streamed log that is all of it. */
    public boolean arrived(int i, int copy) {
        return history.arrivesMs(i, copy) <= now && known[history.storeIndex(copy)];
    }

    /** When a copy survives a hazard as a whole. A copy in an unknown store counts nowhere. */
    public Spans ofCopy(int copy, Hazard hazard) {
        return landed(copy) ? survives(history.landedMs(copy), copy, hazard) : Spans.NONE;
    }

    private Spans survives(long from, int copy, Hazard hazard) {
        return Spans.of(from, end(copy, hazard));
    }

    /** When a copy that is there ceases to survive a hazard. */
    private long end(int copy, Hazard hazard) {
        if (hazard == Hazard.SITE_LOSS && !offsite(copy)) {
            return Long.MIN_VALUE;
        }
        long end = gone(copy) ? history.goneMs(copy) : Spans.FOREVER;
        if (foundSpoiled(copy)) {
            end = Math.min(end, history.sinceMs(copy));
        }
        if (hazard == Hazard.SABOTAGE) {
            end = Math.min(end, history.lockedUntilMs(copy));
        }
        return end;
    }

    public boolean copyAvailableNow(int copy) {
        return landed(copy) && history.landedMs(copy) < end(copy, Hazard.MISHAP) && now < end(copy, Hazard.MISHAP);
    }

    /** When any copy of a backup survives a hazard. */
    public Spans ofBackup(int i, Hazard hazard) {
        return windows(hazard).spans(i);
    }

    /** Whether a copy of a backup survives a hazard now. */
    public boolean availableNow(int i, Hazard hazard) {
        return windows(hazard).contains(i, now);
    }

    /** Whether a copy of a backup survived a hazard at any moment up to now. */
    public boolean everAvailable(int i, Hazard hazard) {
        return !windows(hazard).isEmpty(i);
    }

    Windows windows(Hazard hazard) {
        return windows.computeIfAbsent(hazard, this::work);
    }

    private Windows work(Hazard hazard) {
        Windows out = new Windows(history, hazard == Hazard.SABOTAGE);
        Stretches stretches = history.stretches();
        for (int s = 0; s < stretches.count(); s++) {
            out.set(s, counting(s, hazard), now);
        }
        stretches.eachLoose(i -> {
            if (exists(i)) {
                work(i, hazard, out);
            }
        });
        return out;
    }

    /** Which copies of the logs of a stretch may survive a hazard, by their number among a log's. */
    private int[] counting(int stretch, Hazard hazard) {
        int row = history.stretches().first(stretch);
        if (!lineages.isKnown(history.lineage(row))) {
            return new int[0];
        }
        int c = history.firstCopy(row);
        int[] out = new int[history.firstCopy(row + 1) - c];
        int size = 0;
        for (int n = 0; n < out.length; n++) {
            if (known[history.storeIndex(c + n)]
                    && (hazard != Hazard.SITE_LOSS || offsite(c + n))
                    && (hazard != Hazard.SABOTAGE || history.lockedUntilMs(c + n) != History.ALWAYS)) {
                out[size++] = n;
            }
        }
        return Arrays.copyOf(out, size);
    }

    /** Joins the stretches of a backup's copies, without an object where they are one. */
    private void work(int i, Hazard hazard, Windows out) {
        long from = 0;
        long to = 0;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (landed(c)) {
                long begin = history.landedMs(c);
                long end = end(c, hazard);
                if (begin < end && from >= to) {
                    from = begin;
                    to = end;
                } else if (begin < end && begin <= to && from <= end) {
                    from = Math.min(from, begin);
                    to = Math.max(to, end);
                } else if (begin < end) {
                    out.set(i, joined(i, hazard));
                    return;
                }
            }
        }
        out.set(i, from, to);
    }

    private Spans joined(int i, Hazard hazard) {
        Spans out = Spans.NONE;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            out = out.or(ofCopy(c, hazard));
        }
        return out;
    }

    /** When at least a part of a log survives a hazard. */
    public Spans partsOf(int log, Hazard hazard) {
        if (!history.streamed(log)) {
            return ofBackup(log, hazard);
        }
        Spans out = Spans.NONE;
        if (exists(log)) {
            for (int c = history.firstCopy(log); c < history.firstCopy(log + 1); c++) {
                if (arrived(log, c)) {
                    out = out.or(survives(history.arrivesMs(log, c), c, hazard));
                }
            }
        }
        return out;
    }

    /** Whether at least a part of a log survives a hazard now. */
    public boolean partAvailableNow(int log, Hazard hazard) {
        return availableNow(log, hazard)
                || history.streamed(log) && partsOf(log, hazard).contains(now);
    }

    /** Whether two hazards left the same backups at every moment up to now; may say no where it is not quickly told. */
    public boolean leaveTheSame(Hazard one, Hazard other) {
        return !history.anyStreamed() && windows(one).sameAs(windows(other), now);
    }

    /** The row after the last of a stretch of which some copy had landed by now in a store that is known. */
    public int landedEnd(int stretch) {
        return windows(Hazard.MISHAP).end(stretch);
    }

    /** When the first copy of a log of a stretch landed. */
    public long firstLandedMs(int stretch, int row) {
        return windows(Hazard.MISHAP).comes(stretch, row);
    }

    /** Rows that follow each other, from the first to before the end; none where that is not after it. */
    public record Rows(int first, int end) {}

    /**
     * Which logs of a block survive a hazard now, in part at least: some that follow each other.
     *
     * @param first a row, or the first of rows of one stretch
     */
    public Rows partsNow(int first, int end, Hazard hazard) {
        int stretch = history.stretches().of(first);
        if (stretch < 0) {
            return new Rows(first, partAvailableNow(first, hazard) ? end : first);
        }
        Windows own = windows(hazard);
        int high = Math.max(first, Math.min(end, own.end(stretch)));
        return new Rows(Stretches.firstWhere(first, high, i -> own.goes(stretch, i) > now), high);
    }

    /** Whether a copy survives a hazard now, or, of a log still being received, a part of it does. */
    public boolean copyIsLeft(int i, int copy, Hazard hazard) {
        return exists(i)
                && arrived(i, copy)
                && survives(history.arrivesMs(i, copy), copy, hazard).contains(now);
    }

    /**
     * When each data backup is usable: available, with its whole chain. Rows that are not data backups get none.
     * A chain that closes on itself is never usable.
     */
    public Map<Integer, Spans> usable(Hazard hazard) {
        Map<Integer, Spans> out = new HashMap<>();
        int[] chain = new int[history.others().size()];
        boolean[] onChain = new boolean[history.size()];
        for (int i : history.others()) {
            int length = 0;
            int at = i;
            while (at >= 0 && !out.containsKey(at) && !onChain[at]) {
                onChain[at] = true;
                chain[length++] = at;
                at = needsParent(at) && exists(at) ? history.parent(at) : -1;
            }
            boolean closed = at >= 0 && !out.containsKey(at);
            while (length-- > 0) {
                int b = chain[length];
                onChain[b] = false;
                out.put(b, closed ? Spans.NONE : usable(b, hazard, out));
            }
        }
        return out;
    }

    private Spans usable(int i, Hazard hazard, Map<Integer, Spans> out) {
        if (!history.kind(i).isData() || !exists(i)) {
            return Spans.NONE;
        }
        Spans own = ofBackup(i, hazard);
        if (!needsParent(i)) {
            return own;
        }
        int parent = history.parent(i);
        return parent < 0 ? Spans.NONE : own.and(Objects.requireNonNull(out.get(parent)));
    }

    /** The data backups usable now. */
    BitSet usableNow(Hazard hazard) {
        BitSet out = new BitSet();
        BitSet seen = new BitSet();
        int[] chain = new int[history.others().size()];
        for (int i : history.others()) {
            int length = 0;
            for (int at = i; at >= 0 && !seen.get(at); at = needsParent(at) && exists(at) ? history.parent(at) : -1) {
                seen.set(at);
                chain[length++] = at;
            }
            // From the root to the tip; a chain that closes on itself has no root that is usable.
            while (length-- > 0) {
                int b = chain[length];
                boolean there = history.kind(b).isData() && exists(b) && availableNow(b, hazard);
                int parent = needsParent(b) ? history.parent(b) : History.NO_PARENT;
                out.set(b, there && (!needsParent(b) || parent >= 0 && out.get(parent)));
            }
        }
        return out;
    }

    public boolean needsParent(int i) {
        return history.kind(i).isData() && history.kind(i) != Kind.FULL;
    }

    /** Whether a copy of a backup ever landed, spoiled and deleted ones too. */
    public boolean everLanded(int i) {
        return firstLandedMs(i) <= now;
    }

    /** When the first copy of a backup landed in a store that is known; {@link Long#MAX_VALUE} where none has. */
    private long firstLandedMs(int i) {
        long first = Long.MAX_VALUE;
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            first = landed(c) ? Math.min(first, history.landedMs(c)) : first;
        }
        return first;
    }

    /** Whether what a backup needs may still be on its way: its own first copy landed less than three days ago. */
    public boolean isFresh(int i) {
        return everLanded(i) && now - firstLandedMs(i) < IN_FLIGHT_MS;
    }

    /** Whether some record in the chain of a data backup is not known, or its copies are still on their way. */
    public boolean waits(int i) {
        boolean fresh = isFresh(i);
        int at = i;
        for (int steps = 0; steps <= history.size() && needsParent(at); steps++) {
            int parent = history.parent(at);
            if (parent == History.UNKNOWN_PARENT || parent >= 0 && !exists(parent)) {
                return true;
            }
            if (parent < 0) {
                return false;
            }
            if (fresh && !everLanded(parent)) {
                return true;
            }
            at = parent;
        }
        return false;
    }
}
