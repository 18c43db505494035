package firth.core.forecast;

import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.adherence.Slots;
import firth.core.history.BackupRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;

/**
 * Writes the backups to come into a history: every slot is kept, at its opening, and goes as its kind usually goes
 * (docs/forecast.md, "Forecast").
 */
final class Ahead {

    private static final long DAY_MS = 24L * 3_600_000;

    private final DatabaseFacts facts;
    private final Database database;
    private final Fleet fleet;
    private final Optional<PolicyVersion> version;
    private final Habits habits;
    private final long now;
    private final HistoryBuilder out;
    private final List<Forecast.Miss> misses = new ArrayList<>();
    private final Map<Landing, Optional<Duration>> locks = new HashMap<>();
    /** When data backups begin and end: logs are cut there, so that those one needs stand apart. */
    private final TreeSet<Long> cuts = new TreeSet<>();

    /** The newest full backup, and the newest that restores data, known or expected; empty before there is one. */
    private String full = "";

    private long fullAt;
    private String data = "";
    private long dataAt;

    Ahead(
            DatabaseFacts facts,
            Fleet fleet,
            Optional<PolicyVersion> version,
            Habits habits,
            Compacted known,
            Instant now) {
        this.facts = facts;
        this.database = facts.database();
        this.fleet = fleet;
        this.version = version;
        this.habits = habits;
        this.now = now.toEpochMilli();
        this.out = known.begin();
        newestKnown();
    }

    private void newestKnown() {
        History history = facts.history();
        fullAt = Long.MIN_VALUE;
        dataAt = Long.MIN_VALUE;
        for (int i : history.others()) {
            boolean known = history.kind(i).isData() && history.consistentAtMs(i) <= now;
            if (known && history.consistentAtMs(i) > dataAt) {
                data = history.id(i);
                dataAt = history.consistentAtMs(i);
            }
            if (known && history.kind(i) == Kind.FULL && history.consistentAtMs(i) > fullAt) {
                full = history.id(i);
                fullAt = history.consistentAtMs(i);
            }
        }
    }

    List<Forecast.Miss> misses() {
        return misses;
    }

    /** The history as it will be known so many days from now. */
    History until(int days) {
        Instant from = Instant.ofEpochMilli(now);
        Span span = new Span(from, from.plus(Duration.ofDays(days)));
        int n = 0;
        for (Slot slot :
                Slots.of(database, fleet, from, span, database.clock().stopped(), facts.closures(), List.of())) {
            if (slot.verdict() != SlotVerdict.SUPERSEDED && slot.verdict() != SlotVerdict.EXCUSED) {
                run(slot, "ahead:" + n++);
            }
        }
        boolean logs = version.stream().flatMap(v -> v.live().stream()).anyMatch(s -> s.kind() == Kind.LOG);
        if (logs && habits.logs().known()) {
            for (int s = 0; s < database.streams().size(); s++) {
                logs(s, days);
            }
        }
        return out.build();
    }

    private void run(Slot slot, String id) {
        Kind kind = slot.kind();
        if (kind == Kind.LOG || kind != Kind.FULL && kind != Kind.CONFIG && full.isEmpty()) {
            return;
        }
        long start = slot.open().toEpochMilli();
        long base = kind == Kind.DIFF ? fullAt : dataAt;
        double bytes = habits.expectedBytes(kind, start, base);
        Duration takes = habits.expectedDuration(kind, bytes);
        fits(slot, takes);
        long end = start + takes.toMillis();
        String parent = kind == Kind.DIFF ? full : kind == Kind.INCR ? data : "";
        boolean positioned = kind.isData() && habits.logs().known();
        out.add(BackupRow.data(id, kind, start, end)
                .of(habits.logs().lineage())
                .on(parent)
                .between(positioned ? position(0, start) : -1, positioned ? position(0, end) : -1));
        for (int s = 1; s < database.streams().size() && positioned; s++) {
            out.addPositions(s, position(s, start), position(s, end));
        }
        land(kind, end, bytes);
        cuts.add(start);
        cuts.add(end);
        if (kind.isData()) {
            data = id;
            dataAt = end;
        }
        if (kind == Kind.FULL) {
            full = id;
            fullAt = end;
        }
    }

    private void fits(Slot slot, Duration takes) {
        boolean mustFinish = version.stream()
                .flatMap(v -> v.schedules().stream())
                .anyMatch(s -> s.id().equals(slot.schedule()) && s.mustFinish());
        boolean tooLong = slot.open().plus(takes).isAfter(slot.close());
        if (mustFinish
                && tooLong
                && misses.stream().noneMatch(m -> m.slot().schedule().equals(slot.schedule()))) {
            misses.add(new Forecast.Miss(slot, takes));
        }
    }

    private long position(int stream, long at) {
        return habits.logs().positionAt(stream, at);
    }

    /** Logs of a day or less, following on what is there. */
    private void logs(int stream, int days) {
        LogHabit logs = habits.logs();
        if (logs.lastTo(stream) < 0) {
            return;
        }
        TreeSet<Long> ends = new TreeSet<>(cuts.headSet(now + days * DAY_MS));
        for (int day = 1; day <= days; day++) {
            ends.add(now + day * DAY_MS);
        }
        long from = logs.lastToTimeMs(stream);
        for (long to : ends.tailSet(from, false)) {
            BackupRow.Extent extent = new BackupRow.Extent(position(stream, from), position(stream, to), from, to);
            out.add(BackupRow.log("ahead:log:" + stream + ":" + to, stream, extent)
                    .of(logs.lineage())
                    .taken(from, to));
            land(Kind.LOG, to, logs.bytesPerMs() / database.streams().size() * Math.min(to - from, DAY_MS));
            from = to;
        }
    }

    /** Copies where those of the kind usually lie, else where its route or other backups lead. */
    private void land(Kind kind, long end, double bytes) {
        List<Landing> places = habits.landings(kind);
        if (places.isEmpty()) {
            places = fleet.route(database)
                    .map(r -> (kind == Kind.LOG ? r.logStores() : r.dataStores())
                            .stream().map(s -> new Landing(s, Duration.ZERO)).toList())
                    .orElse(habits.landings(Kind.FULL));
        }
        for (Landing place : places) {
            boolean comes = place.firstOf()
                    .map(unit -> kind == Kind.FULL && Habits.isFirst(unit, fullAt, end, database))
                    .orElse(true);
            if (!comes) {
                continue;
            }
            long landed = kind == Kind.LOG ? end : end + place.after().toMillis();
            long lock = locks.computeIfAbsent(place, this::lock)
                    .map(l -> landed + l.toMillis())
                    .orElse(History.ALWAYS);
            Compacted.copy(out, place.store(), landed, lock, bytes);
        }
    }

    /** The lock a rule asks for where the store has one to give, else the usual one. */
    private Optional<Duration> lock(Landing place) {
        Optional<BackupStore> store = fleet.store(place.store());
        Optional<Duration> asked = version.stream()
                .flatMap(v -> v.retain().stream())
                .filter(r -> store.flatMap(BackupStore::role)
                        .filter(r.role()::equals)
                        .isPresent())
                .map(RetainRule::lock)
                .flatMap(Optional::stream)
                .max(Duration::compareTo);
        return store.filter(BackupStore::lockable).flatMap(s -> asked).or(place::locked);
    }
}
