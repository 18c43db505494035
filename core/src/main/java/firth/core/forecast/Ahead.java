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
import firth.core.model.Schedule;
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

    static final long DAY_MS = 24L * 3_600_000;

    private final DatabaseFacts facts;
    private final Database database;
    private final Fleet fleet;
    private final Optional<PolicyVersion> version;
    private final Habits habits;
    private final Luck luck;
    private final long now;
    private final HistoryBuilder out;
    private final List<Forecast.Miss> misses = new ArrayList<>();
    private int asked;
    private int kept;
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
            Luck luck,
            Instant now) {
        this.facts = facts;
        this.database = facts.database();
        this.fleet = fleet;
        this.version = version;
        this.habits = habits;
        this.luck = luck;
        this.now = now.toEpochMilli();
        this.out = known.begin(habits);
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

    /** Slots that ask for a run. */
    int asked() {
        return asked;
    }

    /** Those of them whose run starts, and where it must finishes, in time. */
    int kept() {
        return kept;
    }

    /** The history as it will be known at a later moment. */
    History until(Instant then) {
        Instant from = Instant.ofEpochMilli(now);
        Span span = new Span(from, then);
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
                logs(s, then.toEpochMilli());
            }
        }
        return out.build();
    }

    private void run(Slot slot, String id) {
        Kind kind = slot.kind();
        if (kind == Kind.LOG || kind != Kind.FULL && kind != Kind.CONFIG && full.isEmpty()) {
            return;
        }
        asked++;
        Optional<Duration> late = luck.start(slot);
        if (late.isEmpty()) {
            return;
        }
        long start = slot.open().plus(late.get()).toEpochMilli();
        long base = kind == Kind.DIFF ? fullAt : dataAt;
        double bytes = habits.expectedBytes(kind, start, base);
        Duration takes = habits.expectedDuration(kind, bytes);
        boolean fits = fits(slot, takes);
        kept += fits && late.get().compareTo(longest(slot)) <= 0 ? 1 : 0;
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

    private Optional<Schedule> schedule(Slot slot) {
        return version.stream()
                .flatMap(v -> v.schedules().stream())
                .filter(s -> s.id().equals(slot.schedule()))
                .findFirst();
    }

    /** How long after its opening a slot's run is in time. */
    private Duration longest(Slot slot) {
        return Duration.between(slot.open(), slot.close())
                .plus(schedule(slot).map(Schedule::grace).orElse(Duration.ZERO));
    }

    /** Whether a run ends where it must; the first of a schedule that does not is noted. */
    private boolean fits(Slot slot, Duration takes) {
        boolean mustFinish = schedule(slot).filter(Schedule::mustFinish).isPresent();
        boolean tooLong = mustFinish && slot.open().plus(takes).isAfter(slot.close());
        if (tooLong && misses.stream().noneMatch(m -> m.slot().schedule().equals(slot.schedule()))) {
            misses.add(new Forecast.Miss(slot, takes));
        }
        return !tooLong;
    }

    private long position(int stream, long at) {
        return habits.logs().positionAt(stream, at);
    }

    /** Logs that follow on what is there. */
    private void logs(int stream, long until) {
        LogHabit logs = habits.logs();
        if (logs.lastTo(stream) < 0) {
            return;
        }
        long from = logs.lastToTimeMs(stream);
        for (long to : luck.logEnds(from, until, cuts).tailSet(from + 1)) {
            BackupRow.Extent extent = new BackupRow.Extent(position(stream, from), position(stream, to), from, to);
            out.add(BackupRow.log("ahead:log:" + stream + ":" + to, stream, extent)
                    .of(logs.lineage())
                    .taken(from, to));
            luck.streamed().ifPresent(out::streamed);
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
            luck.lands(kind, place, end).ifPresent(landed -> {
                long lock = locks.computeIfAbsent(place, this::lock)
                        .map(l -> landed + l.toMillis())
                        .orElse(History.ALWAYS);
                Compacted.copy(out, place.store(), landed, lock, bytes);
            });
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
