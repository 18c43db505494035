package firth.core.forecast;

import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.adherence.Slots;
import firth.core.evaluation.Evaluation;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.core.model.Trigger;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Random;

/**
 * A database whose backups follow the policy then in force, day by day, as badly as its luck has it: runs start late or fail, sizes vary,
 * logs are held up or lost, and at noon of each day what no rule needs is deleted.
 */
final class Simulated {

    private static final long HOUR = 3_600_000;
    private static final double FULL = 120e9;

    final Database database;
    private final Random random;
    private final List<Row> rows = new ArrayList<>();
    private final List<Run> runs = new ArrayList<>();
    private final double fails;
    private final double outagesPerDay;
    private final double lost;
    private final long latest;
    private final long far;
    private long logsTo = Regular.START.toEpochMilli();
    private long outageUntil;
    private boolean outageLoses;
    private int day;
    private String full = "";
    private String data = "";

    private record Row(BackupRow row, List<Placed> copies) {}

    /** A copy, and when it was deleted. */
    private static final class Placed {
        private final String store;
        private final long landed;
        private final double bytes;
        private long gone = History.NEVER;

        Placed(String store, long landed, double bytes) {
            this.store = store;
            this.landed = landed;
            this.bytes = bytes;
        }
    }

    /** @param calm whether no run fails and no log is held up or lost */
    Simulated(long seed, boolean calm) {
        this.database = new Regular(0).database;
        this.random = new Random(seed);
        this.fails = calm ? 0 : random.nextDouble() * 0.12;
        this.outagesPerDay = calm ? 0 : random.nextDouble() * 0.15;
        this.lost = random.nextDouble() * 0.3;
        this.latest = random.nextInt(20) * 60_000L + 1;
        this.far = 5 * 60_000L + random.nextInt(50) * 60_000L;
    }

    /** Lives on until so many days after its begin. */
    void live(Fleet fleet, int until) {
        for (; day < until; day++) {
            Instant from = Regular.day(day);
            Instant to = Regular.day(day + 1);
            logs(fleet, to.toEpochMilli());
            for (Slot slot : Slots.of(
                    database, fleet, from, new Span(from, to), database.clock().stopped(), List.of(), List.of())) {
                if (slot.verdict() != SlotVerdict.SUPERSEDED) {
                    run(slot);
                }
            }
            purge(fleet, Regular.day(day + 0.5));
        }
    }

    private void run(Slot slot) {
        Kind kind = slot.kind();
        boolean hangs = kind == Kind.INCR || kind == Kind.DIFF;
        if (hangs && full.isEmpty()) {
            return;
        }
        long start = slot.open().toEpochMilli() + (long) (random.nextDouble() * latest);
        String id = kind.word() + "-" + slot.open();
        if (random.nextDouble() < fails) {
            runs.add(new Run(
                    "run-" + id,
                    "d",
                    kind,
                    Optional.of(Trigger.SCHEDULE),
                    Optional.empty(),
                    Instant.ofEpochMilli(start),
                    Optional.of(Instant.ofEpochMilli(start + 60_000)),
                    Outcome.FAILED,
                    Optional.of("the store was full"),
                    ""));
            return;
        }
        double bytes = (kind == Kind.FULL ? FULL : FULL / 20) * (0.95 + random.nextDouble() / 10);
        long end = start + (long) (bytes / (9e3 + random.nextInt(2_000)));
        String parent = kind == Kind.DIFF ? full : kind == Kind.INCR ? data : "";
        Row row =
                new Row(BackupRow.data(id, kind, start, end).on(parent).between(at(start), at(end)), new ArrayList<>());
        row.copies.add(new Placed("near", end, bytes));
        row.copies.add(new Placed("far", end + far, bytes));
        rows.add(row);
        data = id;
        full = kind == Kind.FULL ? id : full;
    }

    private void logs(Fleet fleet, long until) {
        while (true) {
            Optional<Duration> every = fleet.versionAt(database, Instant.ofEpochMilli(logsTo)).stream()
                    .flatMap(v -> v.live().stream())
                    .flatMap(s -> s.every().stream())
                    .findFirst();
            if (every.isEmpty() || logsTo + every.get().toMillis() > until) {
                return;
            }
            long from = logsTo;
            long to = from + every.get().toMillis();
            if (to >= outageUntil
                    && random.nextDouble() < outagesPerDay * every.get().toMillis() / (24.0 * HOUR)) {
                outageUntil = to + HOUR + random.nextInt((int) (7 * HOUR));
                outageLoses = random.nextDouble() < lost;
            }
            logsTo = to;
            if (to < outageUntil && outageLoses) {
                continue;
            }
            long landed = Math.max(to, outageUntil) + 20_000 + random.nextInt(60_000);
            Row row = new Row(
                    BackupRow.log("log-" + to, 0, new BackupRow.Extent(at(from), at(to), from, to))
                            .taken(to, to + 10_000),
                    new ArrayList<>());
            row.copies.add(new Placed("near", landed, 2e8));
            row.copies.add(new Placed("far", landed + far, 2e8));
            rows.add(row);
        }
    }

    private void purge(Fleet fleet, Instant now) {
        List<Placed> order = new ArrayList<>();
        DatabaseFacts facts = facts(now, now, order);
        Evaluation e = Evaluation.of(facts, fleet, now, new Span(now, now));
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().verdict(k) == Verdict.OBSOLETE) {
                order.get(e.retention().copy(k)).gone = now.toEpochMilli();
            }
        }
    }

    private static long at(long moment) {
        return (moment - Regular.START.toEpochMilli()) / 1000 * 7;
    }

    /** What is known then, of what was there at some moment since another one. */
    DatabaseFacts facts(Instant now, Instant since) {
        return facts(now, since, new ArrayList<>());
    }

    /** @param order takes the copies in the order of the history's */
    private DatabaseFacts facts(Instant now, Instant since, List<Placed> order) {
        long at = now.toEpochMilli();
        long from = since.toEpochMilli();
        HistoryBuilder out = History.of(database);
        List<Row> known = rows.stream()
                .filter(r -> r.row.during().endedMs() <= at && r.copies.stream().anyMatch(c -> c.gone > from))
                .sorted(Comparator.comparing(r -> r.row.during().startedMs()))
                .toList();
        for (Row r : known) {
            out.add(r.row);
            List<Placed> own = r.copies.stream().filter(c -> c.landed <= at).toList();
            own.forEach(c -> out.addCopy(
                    c.store, CopyRow.landed(c.landed, c.bytes).gone(c.gone <= at ? c.gone : History.NEVER)));
            order.addAll(own);
        }
        runs.stream().filter(r -> !r.started().isAfter(now)).forEach(out::add);
        return new DatabaseFacts(database, out.build(), List.of(), List.of());
    }
}
