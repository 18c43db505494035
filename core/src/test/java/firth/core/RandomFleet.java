package firth.core;

import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.BackupStore;
import firth.core.model.CopiesRule;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Demands;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Hold;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Objective;
import firth.core.model.PolicyVersion;
import firth.core.model.Positions;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.model.RungUnit;
import firth.core.model.Schedule;
import firth.core.model.SourceLogs;
import firth.core.model.Spoilage;
import firth.core.model.Taking;
import firth.core.model.Then;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Random;
import java.util.Set;
import java.util.stream.Stream;

/**
 * A small, mean history of one database from a seed: holes, overlaps, empty logs, torn and hanging backups, late
 * landings, deletions, spoilages and locks, all within ten days.
 */
public final class RandomFleet {

    private static final int HOURS = 260;
    private static final List<String> STORES = List.of("n1", "n2", "f1", "d1", "nowhere");
    private static final List<Duration> LAGS =
            List.of(Duration.ZERO, Duration.ofSeconds(5), Duration.ofMinutes(10), Duration.ofMinutes(95));

    public static final Instant BEGIN = Instant.parse("2026-02-01T00:00:00Z");

    public final long seed;
    public final Instant end = BEGIN.plus(Duration.ofDays(10));
    public final Database database;
    public final Fleet fleet;
    public final List<Hold> holds = new ArrayList<>();
    public List<Backup> backups = new ArrayList<>();
    private final Random random;

    private final boolean steady;
    private final Shape shape;
    private final List<String> streams;
    private final int[] opensAt;
    /** Where each lineage and stream stands at each hour. */
    private final long[][][] positionAt;

    /** What makes a history hard. */
    public enum Shape {
        PLAIN,
        /** Logs never overlap, and copies come and go once. */
        BEHAVED,
        LINEAGES,
        STREAMS,
        STREAMED,
        EVERYTHING;

        boolean forks() {
            return this == LINEAGES || this == EVERYTHING;
        }

        boolean manyStreams() {
            return this == STREAMS || this == EVERYTHING;
        }

        boolean streamed() {
            return this == STREAMED || this == EVERYTHING;
        }
    }

    /** A history in which even positions and times contradict each other. */
    public RandomFleet(long seed) {
        this(seed, false);
    }

    /** @param steady whether positions grow with time, as they do in a real database */
    public RandomFleet(long seed, boolean steady) {
        this(seed, steady, Shape.values()[(int) (seed / 2 % Shape.values().length)]);
    }

    public RandomFleet(long seed, boolean steady, Shape shape) {
        this.seed = seed;
        this.steady = steady;
        this.shape = shape;
        this.random = new Random(seed);
        this.streams = shape.manyStreams() && random.nextInt(4) > 0 ? List.of("a", "b") : List.of("main");
        List<Database.Stop> stopped = random.nextInt(3) == 0
                ? List.of(new Database.Stop(hours(50), Optional.of(hours(50 + random.nextInt(40)))))
                : List.of();
        int count = shape.forks() ? 2 + random.nextInt(3) : 1;
        opensAt = new int[count];
        positionAt = new long[count][streams.size()][HOURS];
        List<Lineage> lineages = lineages(count);
        int latestService = count > 1 ? opensAt[1] : 30;
        database = new Database(
                "d",
                "d",
                Optional.empty(),
                Optional.of("north"),
                ZoneId.of("Europe/Lisbon"),
                Optional.of("p"),
                List.of(),
                random.nextInt(4) == 0 ? hours(random.nextInt(latestService)) : BEGIN,
                streams,
                OptionalDouble.empty(),
                OptionalDouble.of(0.01),
                stopped,
                lineages);
        fleet = new Fleet(
                List.of(
                        store("n1", "north", Role.NEAR, 0.02),
                        store("n2", "north", Role.NEAR, 0.03),
                        store("f1", "south", Role.FAR, 0.01),
                        store("d1", "south", Role.DEEP, 0.001)),
                List.of(policy()));
        logs();
        data();
        for (int h = 20; h < 230; h += 24 + random.nextInt(30)) {
            backups.add(backup("config-" + h, Kind.CONFIG, null, 0, Map.of(), h, h, false));
        }
        if (random.nextInt(5) == 0) {
            holds.add(new Hold(
                    "g",
                    Optional.of(backups.get(random.nextInt(backups.size())).id()),
                    Optional.empty(),
                    Optional.empty(),
                    "",
                    "",
                    Optional.empty(),
                    Optional.empty()));
        }
        if (random.nextInt(3) == 0) {
            holds.add(new Hold(
                    "h",
                    Optional.empty(),
                    Optional.of("d"),
                    Optional.of(hours(random.nextInt(200))),
                    "",
                    "",
                    Optional.empty(),
                    Optional.empty()));
        }
    }

    private List<Lineage> lineages(int count) {
        List<Lineage> out = new ArrayList<>(List.of(Lineage.FIRST));
        grow(0, 0, new long[] {100, 300});
        for (int l = 1; l < count; l++) {
            int parent = random.nextInt(5) == 0 ? -1 : random.nextInt(3) == 0 ? random.nextInt(l) : l - 1;
            opensAt[l] = opensAt[l - 1] + 10 + random.nextInt(70);
            long[] from = {random.nextInt(90), random.nextInt(90)};
            Map<String, Long> fork = new HashMap<>();
            int forkedAt = parent < 0 ? 0 : Math.max(opensAt[parent], opensAt[l] - 1 - random.nextInt(30));
            for (int s = 0; s < streams.size() && parent >= 0; s++) {
                from[s] = positionAt[parent][s][forkedAt];
                fork.put(streams.get(s), from[s]);
            }
            grow(l, opensAt[l], from);
            out.add(new Lineage(
                    String.valueOf(l + 1),
                    parent < 0 ? Optional.empty() : Optional.of(String.valueOf(parent + 1)),
                    fork,
                    Optional.of(hours(opensAt[l]))));
        }
        return out;
    }

    /** Lets the positions of a lineage grow from an hour on, with idle hours. */
    private void grow(int lineage, int from, long[] begin) {
        for (int s = 0; s < streams.size(); s++) {
            long[] at = positionAt[lineage][s];
            for (int h = 0; h < HOURS; h++) {
                boolean idle = h % 16 < 5 && random.nextInt(3) > 0;
                at[h] = h <= from ? begin[s] : at[h - 1] + (idle ? 0 : 1 + random.nextInt(12));
            }
        }
    }

    private int inForceAt(int hour) {
        int found = 0;
        for (int l = 1; l < opensAt.length; l++) {
            found = opensAt[l] <= hour ? l : found;
        }
        return found;
    }

    private static BackupStore store(String id, String site, Role role, double readRate) {
        return new BackupStore(
                id,
                id,
                Optional.of(site),
                Optional.of("disk"),
                Optional.of(role),
                OptionalDouble.empty(),
                OptionalDouble.of(readRate));
    }

    private PolicyVersion policy() {
        List<RetainRule> rules = new ArrayList<>();
        for (Role role : Role.values()) {
            for (int n = random.nextInt(4); n > 0; n -= 2) {
                rules.add(new RetainRule(
                        role,
                        random.nextBoolean()
                                ? Optional.of(Duration.ofHours(12 + random.nextInt(120)))
                                : Optional.empty(),
                        random.nextBoolean() ? OptionalInt.of(random.nextInt(4)) : OptionalInt.empty(),
                        random.nextBoolean(),
                        random.nextInt(3) == 0
                                ? Map.of(RungUnit.values()[random.nextInt(4)], 1 + random.nextInt(3))
                                : Map.of(),
                        random.nextInt(3) == 0 ? OptionalInt.of(random.nextInt(3)) : OptionalInt.empty(),
                        Optional.empty()));
            }
        }
        return new PolicyVersion(
                "p",
                1,
                BEGIN.minus(Duration.ofDays(9)),
                "p",
                true,
                new Objective(promises(), Optional.of(Duration.ofDays(3))),
                List.of(
                        daily("nightly", Kind.FULL, 2),
                        daily("second", Kind.INCR, 4),
                        new Schedule(
                                "logs",
                                Kind.LOG,
                                Optional.empty(),
                                Optional.of(Duration.ofHours(4)),
                                Optional.empty(),
                                false,
                                Duration.ofMinutes(30),
                                true,
                                Optional.empty())),
                List.of(),
                rules,
                random.nextInt(3) == 0
                        ? new CopiesRule(1 + random.nextInt(2), random.nextInt(2), random.nextInt(2), random.nextInt(2))
                        : CopiesRule.NONE,
                Demands.NONE,
                taking(new Random(rules.hashCode())));
    }

    /** @param own of its own, so that what else there is stays the same */
    private static Taking taking(Random own) {
        return own.nextBoolean()
                ? Taking.NONE
                : new Taking(
                        List.of(),
                        Optional.of(new SourceLogs(SourceLogs.By.ENGINE, Optional.of(1 + own.nextInt(2)))),
                        own.nextBoolean() ? List.of(Kind.FULL, Kind.INCR) : List.of(Kind.INCR, Kind.FULL),
                        List.of(new Then(
                                Set.of(Kind.FULL, Kind.INCR),
                                own.nextBoolean() ? Kind.CONFIG : Kind.LOG,
                                Duration.ofMinutes(1 + own.nextInt(600)))));
    }

    /** A loss after a mishap is always promised, after the others now and then. */
    private Map<Hazard, Duration> promises() {
        Map<Hazard, Duration> out = new HashMap<>();
        out.put(Hazard.MISHAP, Duration.ofHours(6));
        if (seed % 3 == 0) {
            out.put(Hazard.SITE_LOSS, Duration.ofHours(30));
        }
        if (seed % 4 == 0) {
            out.put(Hazard.SABOTAGE, Duration.ofHours(60));
        }
        return out;
    }

    private static Schedule daily(String id, Kind kind, int hour) {
        return new Schedule(
                id,
                kind,
                Optional.of((start, zone, from, to) -> Stream.iterate(start, d -> d.plusDays(1))
                        .map(d -> d.atTime(hour, 0).atZone(zone).toInstant())
                        .takeWhile(t -> t.isBefore(to))
                        .filter(t -> !t.isBefore(from))
                        .toList()),
                Optional.empty(),
                Optional.of(Duration.ofHours(3)),
                true,
                Duration.ofMinutes(15),
                true,
                Optional.empty());
    }

    private Instant hours(int h) {
        return BEGIN.plus(Duration.ofHours(h));
    }

    private void logs() {
        for (int l = 0; l < opensAt.length; l++) {
            int end = l + 1 < opensAt.length ? opensAt[l + 1] + random.nextInt(12) : 230;
            for (int s = 0; s < streams.size(); s++) {
                for (int h = opensAt[l]; h < Math.min(end, 230); h += 4) {
                    long[] at = positionAt[l][s];
                    long from = shape != Shape.BEHAVED && random.nextInt(9) == 0
                            ? Math.max(0, at[h] - random.nextInt(60))
                            : at[h];
                    if (random.nextInt(14) > 0) {
                        String id = "log-" + (l + 1) + "-" + streams.get(s) + "-" + h;
                        backups.add(backup(
                                id,
                                Kind.LOG,
                                null,
                                l,
                                Map.of(streams.get(s), new Positions(from, at[h + 4])),
                                h,
                                h + 4,
                                false));
                    }
                }
            }
        }
    }

    private void data() {
        String full = null;
        String last = null;
        for (int h = 3; h < 230; h += 8 + random.nextInt(20)) {
            Kind kind =
                    full == null || random.nextInt(3) == 0 ? Kind.FULL : random.nextBoolean() ? Kind.DIFF : Kind.INCR;
            String parent =
                    kind == Kind.FULL ? null : random.nextInt(15) == 0 ? "unheard-of" : kind == Kind.DIFF ? full : last;
            int lineage = random.nextInt(12) == 0 ? Math.max(0, inForceAt(h) - 1) : inForceAt(h);
            long at = 100L + h * 7L;
            Map<String, Positions> positions = new HashMap<>();
            for (int s = 0; s < streams.size(); s++) {
                if (random.nextInt(10) > 0) {
                    long[] own = positionAt[lineage][s];
                    positions.put(
                            streams.get(s),
                            steady ? new Positions(own[h], own[h + 1]) : new Positions(at, at + random.nextInt(40)));
                }
            }
            String id = kind.word() + "-" + h;
            backups.add(backup(id, kind, parent, lineage, positions, h, h + 1, random.nextInt(3) == 0));
            full = kind == Kind.FULL ? id : full;
            last = id;
        }
    }

    private Backup backup(
            String id,
            Kind kind,
            String parent,
            int lineage,
            Map<String, Positions> positions,
            int from,
            int to,
            boolean whole) {
        boolean streamed = kind == Kind.LOG && shape.streamed() && random.nextInt(3) > 0;
        List<Copy> copies = new ArrayList<>();
        if (shape == Shape.BEHAVED) {
            copies.add(copy(random.nextInt(3) == 0 ? "f1" : "n1", hours(to)));
        }
        for (String store : shape == Shape.BEHAVED ? List.<String>of() : STORES) {
            if (random.nextInt(store.equals("n1") ? 8 : 3) > (store.equals("n1") ? 0 : 1)) {
                Copy copy = copy(store, hours(to));
                copies.add(streamed && random.nextInt(4) > 0 ? received(copy, hours(from), hours(to)) : copy);
            }
        }
        return new Backup(
                id,
                "d",
                kind,
                Optional.ofNullable(parent),
                Optional.empty(),
                hours(kind == Kind.LOG && !streamed ? to : from),
                hours(to),
                OptionalDouble.of(1),
                lineage == 0 ? Optional.empty() : Optional.of(String.valueOf(lineage + 1)),
                positions,
                kind == Kind.LOG ? Optional.of(new Backup.LogTimes(hours(from), hours(to))) : Optional.empty(),
                hours(to),
                whole,
                streamed,
                streamed ? LAGS.get(random.nextInt(LAGS.size())) : Duration.ZERO,
                Optional.empty(),
                copies,
                "");
    }

    /** A copy that came while the log was written; now and then it goes before that is done. */
    private Copy received(Copy copy, Instant from, Instant to) {
        Optional<Instant> gone =
                random.nextInt(6) == 0 ? Optional.of(from.plus(Duration.ofMinutes(random.nextInt(400)))) : copy.gone();
        return new Copy(copy.store(), to, false, copy.lockedUntil(), gone, copy.spoiled(), OptionalDouble.empty(), "");
    }

    private Copy copy(String store, Instant ended) {
        Instant landed =
                ended.plus(Duration.ofMinutes(random.nextInt(5) == 0 ? random.nextInt(3_000) : random.nextInt(50)));
        Optional<Instant> gone = random.nextInt(6) == 0
                ? Optional.of(landed.plus(Duration.ofHours(1 + random.nextInt(150))))
                : Optional.empty();
        Optional<Spoilage> spoiled = random.nextInt(12) == 0
                ? Optional.of(new Spoilage(
                        landed.plus(Duration.ofHours(random.nextInt(90))),
                        random.nextBoolean()
                                ? Optional.of(landed.plus(Duration.ofHours(random.nextInt(20))))
                                : Optional.empty()))
                : Optional.empty();
        Optional<Instant> locked = random.nextInt(3) == 0
                ? Optional.of(landed.plus(Duration.ofHours(random.nextInt(100))))
                : Optional.empty();
        return new Copy(store, landed, true, locked, gone, spoiled, OptionalDouble.empty(), "");
    }

    /** A moment within the history, not always on the hour. */
    public Instant anyMoment() {
        return BEGIN.plus(Duration.ofMinutes(random.nextInt(10 * 24 * 60)));
    }

    public Random random() {
        return random;
    }

    public DatabaseFacts facts() {
        return facts(backups);
    }

    public DatabaseFacts facts(List<Backup> known) {
        HistoryBuilder history = History.of(database);
        known.forEach(history::add);
        return new DatabaseFacts(database, history.build(), holds, List.of());
    }

    public Evaluation evaluate(List<Backup> known, Instant asOf) {
        return Evaluation.of(facts(known), fleet, asOf, new Span(BEGIN, end));
    }

    /** The history as it was known at a moment: what began, landed, went or was found later taken out. */
    public List<Backup> knownBy(Instant moment) {
        return backups.stream()
                .filter(b -> !b.started().isAfter(moment))
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> !arrives(b, c).isAfter(moment))
                        .map(c -> new Copy(
                                c.store(),
                                c.landed(),
                                c.statedLanding(),
                                c.lockedUntil(),
                                c.gone().filter(g -> !g.isAfter(moment)),
                                c.spoiled().filter(s -> !s.found().isAfter(moment)),
                                c.bytes(),
                                c.rest()))
                        .toList()))
                .toList();
    }

    private static Instant arrives(Backup b, Copy c) {
        if (!b.streamed()) {
            return c.landed();
        }
        Backup.LogTimes times = b.times().orElseThrow();
        boolean plain = c.statedLanding() && c.landed().isAfter(times.to().plus(b.lag()));
        return plain ? c.landed() : times.from().plus(b.lag());
    }
}
