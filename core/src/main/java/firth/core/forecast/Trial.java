package firth.core.forecast;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.history.BackupRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.BackupStore;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Role;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * The facts of a database as they would be had something been done at once, and gone as such things usually go
 * (docs/semantics.md, "Ways out").
 */
public final class Trial {

    private static final String ID = "trial:";

    private final DatabaseFacts facts;
    private final Fleet fleet;
    private final History history;
    private final Instant now;
    private final long nowMs;
    private final Habits habits;
    private final Availability availability;
    private final HazardCover cover;

    /**
     * What came of it.
     *
     * @param takes how long it takes; zero where nothing says so
     * @param at when it is done
     * @param bytes how much is written; 0 where nothing says so
     */
    public record Done(Duration takes, Instant at, double bytes, DatabaseFacts facts) {}

    public Trial(DatabaseFacts facts, Fleet fleet, Instant now) {
        this.facts = facts;
        this.fleet = fleet;
        this.history = facts.history();
        this.now = now;
        this.nowMs = now.toEpochMilli();
        this.habits = Habits.of(facts.database(), history, now);
        this.availability = new Availability(facts.database(), fleet, history, nowMs);
        this.cover = HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP);
    }

    /**
     * A backup of a kind taken now: what it hangs from, and how it usually goes.
     *
     * @param parent the id; empty where the kind has none, or nothing is there to hang from
     * @param takes zero where nothing says so
     * @param bytes 0 where nothing says so
     */
    public record Plan(Optional<String> parent, Duration takes, double bytes) {}

    /** How a backup of a kind would go if it were taken now. */
    public Plan plan(Kind kind) {
        if (kind == Kind.LOG) {
            double bytes = habits.logs().known() ? habits.logs().bytesPerMs() * Math.max(0, nowMs - lastLog()) : 0;
            return new Plan(Optional.empty(), habits.expectedDuration(Kind.FULL, bytes), bytes);
        }
        Optional<Integer> parent = kind == Kind.INCR || kind == Kind.DIFF ? base(kind == Kind.DIFF) : Optional.empty();
        double bytes = habits.expectedBytes(
                kind, nowMs, parent.map(history::consistentAtMs).orElse(nowMs));
        return new Plan(parent.map(history::id), habits.expectedDuration(kind, bytes), bytes);
    }

    /** How its backups usually go. */
    public Habits habits() {
        return habits;
    }

    /** The archiver takes away what the engine has written since the last log, to where logs usually lie. */
    public Optional<Done> catchUp() {
        LogHabit logs = habits.logs();
        if (!logs.known() || lastLog() >= nowMs) {
            return Optional.empty();
        }
        double bytes = logs.bytesPerMs() * (nowMs - lastLog());
        Duration takes = logs.delay().plus(habits.expectedDuration(Kind.FULL, bytes));
        Instant at = now.plus(takes);
        HistoryBuilder out = copied((i, b) -> {});
        for (String store : storesFor(Kind.LOG).stream().limit(1).toList()) {
            logs(out, "backlog", lastTos(), nowMs, at.toEpochMilli(), store, bytes);
        }
        return Optional.of(new Done(takes, at, bytes, with(out)));
    }

    /**
     * A data backup by hand. It brings the logs it needs to be consistent with it.
     *
     * @return empty where there is nothing for it to hang from
     */
    public Optional<Done> taken(Kind kind, String store) {
        Plan plan = plan(kind);
        if (kind != Kind.FULL && plan.parent().isEmpty()) {
            return Optional.empty();
        }
        Instant at = now.plus(plan.takes());
        int lineage = IntStream.range(0, facts.database().lineages().size())
                .filter(l -> availability.lineages().isKnown(l))
                .max()
                .orElse(0);
        boolean positioned = habits.logs().known() && habits.logs().lineage() == lineage;
        long end = at.toEpochMilli();
        HistoryBuilder out = copied((i, b) -> {});
        out.add(BackupRow.data(ID + kind.word(), kind, nowMs, end)
                .of(lineage)
                .on(plan.parent().orElse(""))
                .between(positioned ? position(0, nowMs) : -1, positioned ? position(0, end) : -1));
        for (int s = 1; s < facts.database().streams().size() && positioned; s++) {
            out.addPositions(s, position(s, nowMs), position(s, end));
        }
        Compacted.copy(out, store, end, History.ALWAYS, plan.bytes());
        if (positioned) {
            boolean come = logsCome();
            long[] from = come ? lastTos() : positionsNow();
            logs(out, "meanwhile", from, end, end, store, habits.logs().bytesPerMs() * (end - nowMs));
        }
        return Optional.of(new Done(plan.takes(), at, plan.bytes(), with(out)));
    }

    /**
     * The newest way back is copied to another store, with the logs that follow it.
     *
     * @return empty where there is no way back, or all of it is there already
     */
    public Optional<Done> copiedTo(BackupStore store) {
        Optional<Integer> newest = base(false);
        BitSet wanted = new BitSet();
        for (int i = newest.orElse(History.NO_PARENT);
                i >= 0;
                i = availability.needsParent(i) ? history.parent(i) : -1) {
            wanted.set(i);
        }
        newest.ifPresent(tip -> {
            for (int i = 0; i < history.size(); i++) {
                int stream = history.stream(i);
                boolean follows = stream >= 0
                        && history.lineage(i) == history.lineage(tip)
                        && history.positioned(tip, stream)
                        && history.logTo(i) >= history.start(tip, stream);
                wanted.set(i, wanted.get(i) || follows && isThere(i));
            }
        });
        BitSet missing = (BitSet) wanted.clone();
        wanted.stream().filter(i -> liesIn(i, store.id())).forEach(missing::clear);
        if (missing.isEmpty()) {
            return Optional.empty();
        }
        double bytes =
                missing.stream().mapToDouble(i -> Habits.bytes(history, i)).sum();
        Duration takes = habits.expectedDuration(Kind.FULL, bytes);
        Instant at = now.plus(takes);
        long lock = store.lockable() ? at.plus(lockIn(store)).toEpochMilli() : History.ALWAYS;
        DatabaseFacts then = with(copied((i, b) -> {
            if (missing.get(i)) {
                Compacted.copy(b, store.id(), at.toEpochMilli(), lock, Habits.bytes(history, i));
            }
        }));
        return Optional.of(new Done(takes, at, bytes, then));
    }

    /** Where a backup of a kind is to go, to the first that takes it: as its route says, and without one where such backups lie. */
    public List<String> destinations(Kind kind) {
        return fleet.route(facts.database())
                .map(r -> kind == Kind.LOG && !r.log().isEmpty() ? r.log() : r.data())
                .orElseGet(() -> storesFor(kind).stream().limit(1).toList());
    }

    /** Where backups of a kind can be put: where they usually lie, then where the route leads, else where any lie. */
    public List<String> storesFor(Kind kind) {
        Set<String> out = new LinkedHashSet<>();
        habits.landings(kind).stream()
                .filter(l -> l.firstOf().isEmpty())
                .sorted(Comparator.comparing(Landing::after))
                .forEach(l -> out.add(l.store()));
        fleet.route(facts.database()).stream()
                .flatMap(r -> (kind == Kind.LOG ? r.logStores() : r.dataStores()).stream())
                .filter(s -> fleet.store(s)
                        .flatMap(BackupStore::role)
                        .filter(r -> r == Role.DEEP)
                        .isEmpty())
                .forEach(out::add);
        for (Kind other : Kind.values()) {
            if (out.isEmpty()) {
                habits.landings(other).forEach(l -> out.add(l.store()));
            }
        }
        return new ArrayList<>(out);
    }

    private Duration lockIn(BackupStore store) {
        return fleet.versionAt(facts.database(), now).map(PolicyVersion::retain).orElse(List.of()).stream()
                .filter(r -> store.role().filter(r.role()::equals).isPresent())
                .flatMap(r -> r.lock().stream())
                .max(Comparator.naturalOrder())
                .or(() -> habits.landings(Kind.FULL).stream()
                        .filter(l -> l.store().equals(store.id()))
                        .flatMap(l -> l.locked().stream())
                        .findFirst())
                .orElse(Duration.ofDays(1));
    }

    /** The newest data backup, or full, that restores something in the lineage that goes on. */
    private Optional<Integer> base(boolean full) {
        Optional<Integer> out = Optional.empty();
        for (int i : history.others()) {
            boolean counts = history.kind(i).isData()
                    && (!full || history.kind(i) == Kind.FULL)
                    && availability.exists(i)
                    && cover.restorable(i);
            if (counts
                    && out.filter(o -> history.consistentAtMs(o) >= history.consistentAtMs(i))
                            .isEmpty()) {
                out = Optional.of(i);
            }
        }
        return out;
    }

    private boolean isThere(int i) {
        return IntStream.range(history.firstCopy(i), history.firstCopy(i + 1)).anyMatch(availability::copyAvailableNow);
    }

    private boolean liesIn(int i, String store) {
        return IntStream.range(history.firstCopy(i), history.firstCopy(i + 1))
                .anyMatch(c -> history.store(c).equals(store) && availability.copyAvailableNow(c));
    }

    private long lastLog() {
        return IntStream.range(0, facts.database().streams().size())
                .mapToLong(habits.logs()::lastToTimeMs)
                .min()
                .orElse(nowMs);
    }

    private long[] lastTos() {
        return IntStream.range(0, facts.database().streams().size())
                .mapToLong(habits.logs()::lastTo)
                .toArray();
    }

    private long[] positionsNow() {
        return IntStream.range(0, facts.database().streams().size())
                .mapToLong(s -> position(s, nowMs))
                .toArray();
    }

    /** Whether logs are still being taken away, so that what is written now follows on the last of them. */
    private boolean logsCome() {
        Duration interval = fleet.versionAt(facts.database(), now).stream()
                .flatMap(v -> v.live().stream())
                .flatMap(s -> s.every().map(e -> e.plus(s.grace())).stream())
                .max(Comparator.naturalOrder())
                .orElse(Duration.ofHours(1));
        return nowMs - lastLog() <= 2 * interval.toMillis();
    }

    private long position(int stream, long at) {
        return habits.logs().positionAt(stream, at);
    }

    /** One log in each stream, from a position to what is reached at a moment. */
    private void logs(
            HistoryBuilder out, String name, long[] from, long untilMs, long landedMs, String store, double bytes) {
        for (int s = 0; s < from.length; s++) {
            if (from[s] >= 0) {
                long begins = Math.min(
                        untilMs,
                        from[s] == habits.logs().lastTo(s) ? habits.logs().lastToTimeMs(s) : nowMs);
                BackupRow.Extent extent = new BackupRow.Extent(from[s], position(s, untilMs), begins, untilMs);
                out.add(BackupRow.log(ID + name + ":" + s, s, extent)
                        .of(habits.logs().lineage())
                        .taken(nowMs, untilMs));
                Compacted.copy(out, store, landedMs, History.ALWAYS, bytes / from.length);
            }
        }
    }

    /** Told each row taken over, while copies may still be added to it. */
    private interface RowTaken {
        void row(int i, HistoryBuilder out);
    }

    private HistoryBuilder copied(RowTaken taken) {
        HistoryBuilder out = History.of(facts.database());
        return out.addAll(history, i -> taken.row(i, out));
    }

    private DatabaseFacts with(HistoryBuilder out) {
        return new DatabaseFacts(facts.database(), out.build(), facts.holds(), facts.closures());
    }
}
