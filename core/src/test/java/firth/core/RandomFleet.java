package firth.core;

import firth.core.cover.Hazard;
import firth.core.fleet.BackupStore;
import firth.core.fleet.CopiesRule;
import firth.core.fleet.Database;
import firth.core.fleet.Fleet;
import firth.core.fleet.Hold;
import firth.core.fleet.Lineage;
import firth.core.fleet.Objective;
import firth.core.fleet.PolicyVersion;
import firth.core.fleet.RetainRule;
import firth.core.fleet.Role;
import firth.core.fleet.RungUnit;
import firth.core.history.Backup;
import firth.core.history.Copy;
import firth.core.history.History;
import firth.core.history.Kind;
import firth.core.history.Positions;
import firth.core.history.Spoilage;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Random;

/**
 * A small, mean history of one database from a seed: holes, overlaps, empty logs, torn and hanging backups, late
 * landings, deletions, spoilages and locks, all within ten days.
 */
public final class RandomFleet {

    public static final Instant BEGIN = Instant.parse("2026-02-01T00:00:00Z");

    public final long seed;
    public final Instant end = BEGIN.plus(Duration.ofDays(10));
    public final Database database;
    public final Fleet fleet;
    public final List<Hold> holds = new ArrayList<>();
    public List<Backup> backups = new ArrayList<>();
    private final Random random;

    private final boolean steady;
    private final long[] positionAt = new long[260];

    /** A history in which even positions and times contradict each other. */
    public RandomFleet(long seed) {
        this(seed, false);
    }

    /** @param steady whether positions grow with time, as they do in a real database */
    public RandomFleet(long seed, boolean steady) {
        this.seed = seed;
        this.steady = steady;
        this.random = new Random(seed);
        List<Database.Stop> stopped = random.nextInt(3) == 0
                ? List.of(new Database.Stop(hours(50), Optional.of(hours(50 + random.nextInt(40)))))
                : List.of();
        database = new Database(
                "d",
                "d",
                Optional.empty(),
                Optional.of("north"),
                ZoneId.of("Europe/Lisbon"),
                Optional.of("p"),
                List.of(),
                BEGIN,
                List.of("main"),
                OptionalDouble.empty(),
                stopped,
                List.of(Lineage.FIRST));
        fleet = new Fleet(
                List.of(
                        store("n1", "north", Role.NEAR),
                        store("n2", "north", Role.NEAR),
                        store("f1", "south", Role.FAR),
                        store("d1", "south", Role.DEEP)),
                List.of(policy()));
        logs();
        data();
        if (random.nextInt(3) == 0) {
            holds.add(new Hold(
                    "h",
                    Optional.empty(),
                    Optional.of("d"),
                    Optional.of(hours(random.nextInt(200))),
                    "",
                    Optional.empty(),
                    Optional.empty()));
        }
    }

    private static BackupStore store(String id, String site, Role role) {
        return new BackupStore(
                id, id, Optional.of(site), Optional.of("disk"), Optional.of(role), OptionalDouble.empty());
    }

    private PolicyVersion policy() {
        List<RetainRule> rules = new ArrayList<>();
        for (Role role : Role.values()) {
            if (random.nextInt(4) > 0) {
                rules.add(new RetainRule(
                        role,
                        random.nextBoolean()
                                ? Optional.of(Duration.ofHours(12 + random.nextInt(120)))
                                : Optional.empty(),
                        random.nextBoolean() ? OptionalInt.of(random.nextInt(4)) : OptionalInt.empty(),
                        random.nextBoolean(),
                        random.nextInt(3) == 0 ? Map.of(RungUnit.DAY, 3) : Map.of(),
                        OptionalInt.empty(),
                        Optional.empty()));
            }
        }
        return new PolicyVersion(
                "p",
                1,
                BEGIN.minus(Duration.ofDays(9)),
                "p",
                true,
                new Objective(Map.of(Hazard.MISHAP, Duration.ofHours(6)), Optional.of(Duration.ofDays(3))),
                List.of(),
                List.of(),
                rules,
                random.nextInt(3) == 0 ? new CopiesRule(2, 1, 0, 0) : CopiesRule.NONE);
    }

    private Instant hours(int h) {
        return BEGIN.plus(Duration.ofHours(h));
    }

    private void logs() {
        positionAt[0] = 100;
        for (int h = 1; h < positionAt.length; h++) {
            boolean idle = h % 16 < 5 && random.nextInt(3) > 0;
            positionAt[h] = positionAt[h - 1] + (idle ? 0 : 1 + random.nextInt(12));
        }
        for (int h = 0; h < 230; h += 4) {
            long to = positionAt[h + 4];
            long from = random.nextInt(9) == 0 ? Math.max(0, positionAt[h] - random.nextInt(60)) : positionAt[h];
            if (random.nextInt(14) > 0) {
                backups.add(backup("log-" + h, Kind.LOG, null, new Positions(from, to), h, h + 4, false));
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
            long at = 100L + h * 7L;
            Positions positions = random.nextInt(10) == 0
                    ? null
                    : steady
                            ? new Positions(positionAt[h], positionAt[h + 1])
                            : new Positions(at, at + random.nextInt(40));
            String id = kind.word() + "-" + h;
            backups.add(backup(id, kind, parent, positions, h, h + 1, random.nextInt(3) == 0));
            full = kind == Kind.FULL ? id : full;
            last = id;
        }
    }

    private Backup backup(String id, Kind kind, String parent, Positions positions, int from, int to, boolean whole) {
        List<Copy> copies = new ArrayList<>();
        for (String store : List.of("n1", "n2", "f1", "d1", "nowhere")) {
            if (random.nextInt(store.equals("n1") ? 8 : 3) > (store.equals("n1") ? 0 : 1)) {
                copies.add(copy(store, hours(to)));
            }
        }
        return new Backup(
                id,
                "d",
                kind,
                Optional.ofNullable(parent),
                Optional.empty(),
                hours(kind == Kind.LOG ? to : from),
                hours(to),
                OptionalDouble.of(1),
                Optional.empty(),
                positions == null ? Map.of() : Map.of("main", positions),
                kind == Kind.LOG ? Optional.of(new Backup.LogTimes(hours(from), hours(to))) : Optional.empty(),
                hours(to),
                whole,
                false,
                Duration.ZERO,
                Optional.empty(),
                copies,
                "");
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
        History.Builder history = History.of(database);
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
                        .filter(c -> !c.landed().isAfter(moment))
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
}
