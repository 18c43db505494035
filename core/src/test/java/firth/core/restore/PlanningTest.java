package firth.core.restore;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Losses;
import firth.core.cover.Piece;
import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Evidence;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What must hold of every plan, whatever the history, the hazard and the losses. */
class PlanningTest {

    static LongStream seeds() {
        return Seeds.upTo(200, 328, 353, 617);
    }

    private static Planning planning(RandomFleet world, List<Backup> known, Instant now, Hazard hazard, Losses losses) {
        return new Planning(world.facts(known), world.fleet, now, hazard, losses);
    }

    private static Losses someLosses(Random random) {
        return switch (random.nextInt(4)) {
            case 0 -> new Losses(Set.of("n1"), Set.of());
            case 1 -> new Losses(Set.of("f1", "d1"), Set.of());
            case 2 -> new Losses(Set.of(), Set.of("south"));
            default -> Losses.NONE;
        };
    }

    private static boolean within(List<Piece> pieces, Instant target) {
        return pieces.stream().anyMatch(p -> !p.from().isAfter(target) && !p.to().isBefore(target));
    }

    private static List<Instant> targets(RandomFleet world, List<Piece> restorable) {
        List<Instant> out = new ArrayList<>(List.of(world.anyMoment(), world.anyMoment()));
        restorable.stream().limit(6).forEach(p -> {
            out.add(p.from());
            out.add(p.to());
            out.add(p.from().plus(Duration.between(p.from(), p.to()).dividedBy(3)));
        });
        return out;
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void thereIsAPlanForWhatIsRestorableAndItsStepsAloneReachTheTarget(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Instant now = world.anyMoment();
        for (Hazard hazard : Hazard.values()) {
            Losses losses = someLosses(world.random());
            Planning planning = planning(world, world.backups, now, hazard, losses);
            for (Instant target : targets(world, planning.restorable())) {
                RestorePlan plan = planning.to(target);
                assertEquals(within(planning.restorable(), target), plan.isPossible(), target + " under " + hazard);
                for (Way way : plan.ways()) {
                    List<Backup> steps = onlyTheSteps(world, way);
                    List<Piece> left =
                            planning(world, steps, now, hazard, losses).restorable();
                    assertTrue(
                            within(left, target), () -> target + " under " + hazard + " by " + way + " leaves " + left);
                }
            }
        }
    }

    private static List<Backup> onlyTheSteps(RandomFleet world, Way way) {
        return world.backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> way.steps().stream()
                                .anyMatch(s ->
                                        s.backup().equals(b.id()) && s.store().equals(c.store())))
                        .toList()))
                .toList();
    }

    /** All there is ends at the latest moment, reads no log less, and leads there by its own steps alone. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void allThereIsIsTheLatestMomentWithWhateverElseLeadsOn(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Instant now = world.anyMoment();
        for (Hazard hazard : Hazard.values()) {
            Planning planning = planning(world, world.backups, now, hazard, Losses.NONE);
            RestorePlan latest = planning.latest();
            RestorePlan all = planning.everything();
            assertEquals(latest.target(), all.target());
            assertEquals(latest.isPossible(), all.isPossible());
            for (Way way : all.ways()) {
                List<Piece> left = planning(world, onlyTheSteps(world, way), now, hazard, Losses.NONE)
                        .restorable();
                assertTrue(
                        within(left, latest.target().orElseThrow()),
                        () -> way + " under " + hazard + " leaves " + left);
            }
        }
    }

    @Test
    void aCommitWithinTheThousandthAtWhichTheLogBeforeEndsIsNotLeftOut() {
        Instant begin = Instant.parse("2026-02-01T00:00:00Z");
        long full = begin.toEpochMilli();
        long end = full + 60_000;
        Database database = new Database(
                "d",
                "d",
                Optional.empty(),
                Optional.empty(),
                ZoneId.of("UTC"),
                Optional.empty(),
                List.of(),
                begin,
                List.of(Database.DEFAULT_STREAM),
                OptionalDouble.empty(),
                OptionalDouble.empty(),
                List.of(),
                List.of(Lineage.FIRST));
        HistoryBuilder history = History.of(database);
        history.add(BackupRow.data("full", Kind.FULL, full, full).alone().between(10, 10))
                .addCopy("n1", CopyRow.landed(full, 1));
        history.add(BackupRow.log("a", 0, new BackupRow.Extent(10, 20, full, end)))
                .addCopy("n1", CopyRow.landed(end, 1));
        history.add(BackupRow.log("b", 0, new BackupRow.Extent(20, 40, end, end)))
                .addCopy("n1", CopyRow.landed(end, 1));
        Planning planning = new Planning(
                new DatabaseFacts(database, history.build(), List.of(), List.of()),
                new RandomFleet(1, true).fleet,
                begin.plusSeconds(90),
                Hazard.MISHAP,
                Losses.NONE);
        assertEquals(Optional.of(begin.plusSeconds(60)), planning.everything().target());
        assertEquals(1, planning.latest().ways().get(0).logCount());
        assertEquals(2, planning.everything().ways().get(0).logCount());
    }

    /** A way is known as well as the least known of the copies it reads, whatever is known of others. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aWayIsKnownAsWellAsTheLeastKnownOfItsCopies(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evidence[] all = Evidence.values();
        Map<String, Evidence> known = new HashMap<>();
        List<Backup> backups = world.backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .map(c -> {
                            Evidence e = all[world.random().nextInt(all.length)];
                            known.put(b.id() + " " + c.store(), e);
                            return new Copy(
                                    c.store(),
                                    c.landed(),
                                    c.statedLanding(),
                                    c.lockedUntil(),
                                    c.gone(),
                                    c.spoiled(),
                                    c.bytes(),
                                    e,
                                    c.rest());
                        })
                        .toList()))
                .toList();
        DatabaseFacts facts = world.facts(backups);
        Planning planning = new Planning(facts, world.fleet, world.anyMoment(), Hazard.MISHAP, Losses.NONE);
        planning.newestWay().ifPresent(way -> {
            List<Evidence> steps = way.steps().stream()
                    .filter(s -> s.kind() != Kind.CONFIG)
                    .map(s -> known.get(s.backup() + " " + s.store()))
                    .sorted()
                    .toList();
            Footing footing = Footing.of(way, facts.history());
            assertEquals(steps.get(0), footing.weakest());
            assertEquals(steps.size(), footing.read());
            Footing cover = planning.footing().orElseThrow();
            assertTrue(cover.weakest().compareTo(footing.weakest()) <= 0);
            assertTrue(cover.read() >= footing.read());
        });
        for (Piece piece : planning.restorable()) {
            for (Way way : planning.to(piece.to()).ways()) {
                List<Step> data = way.chain();
                Evidence least = data.stream()
                        .map(s -> known.get(s.backup() + " " + s.store()))
                        .min(Evidence::compareTo)
                        .orElseThrow();
                assertTrue(planning.footing().orElseThrow().weakest().compareTo(least) <= 0);
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void noStepCanBeLeftOut(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Planning planning = planning(world, world.backups, now, Hazard.MISHAP, Losses.NONE);
        for (Instant target : targets(world, planning.restorable())) {
            Optional<Way> best = planning.to(target).ways().stream().findFirst();
            for (Step step : best.map(Way::steps).orElse(List.of())) {
                if (step.kind() == Kind.CONFIG) {
                    continue;
                }
                List<Backup> without = onlyTheSteps(world, best.orElseThrow()).stream()
                        .map(b -> b.id().equals(step.backup()) ? b.withCopies(List.of()) : b)
                        .toList();
                List<Piece> left = planning(world, without, now, Hazard.MISHAP, Losses.NONE)
                        .restorable();
                assertFalse(within(left, target), () -> step + " is not needed for " + target);
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theConfigBackupComesFirstAndIsTheNewestNotAfterTheTarget(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Planning planning = planning(world, world.backups, world.end, Hazard.SITE_LOSS, Losses.NONE);
        for (Instant target : targets(world, planning.restorable())) {
            Optional<String> newest = world.backups.stream()
                    .filter(b -> b.kind() == Kind.CONFIG && !b.started().isAfter(target))
                    .filter(b -> b.copies().stream().anyMatch(c -> isLeft(c, world.end)))
                    .map(Backup::id)
                    .reduce((a, b) -> b);
            for (Way way : planning.to(target).ways()) {
                Optional<String> first = Optional.of(way.steps().get(0))
                        .filter(s -> s.kind() == Kind.CONFIG)
                        .map(Step::backup);
                assertEquals(newest, first);
            }
        }
    }

    private static boolean isLeft(Copy c, Instant now) {
        return Set.of("f1", "d1").contains(c.store())
                && !c.landed().isAfter(now)
                && c.gone().filter(g -> !g.isAfter(now)).isEmpty()
                && c.spoiled().filter(s -> !s.found().isAfter(now)).isEmpty();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theNearestMomentsAreTheEndsOfWhatIsRestorable(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Planning planning = planning(world, world.backups, now, Hazard.MISHAP, Losses.NONE);
        Instant target = world.anyMoment();
        RestorePlan plan = planning.to(target);
        plan.before().ifPresent(b -> assertTrue(!b.isAfter(target) && within(planning.restorable(), b)));
        plan.after().ifPresent(a -> assertTrue(!a.isBefore(target) && within(planning.restorable(), a)));
        for (Piece p : planning.restorable()) {
            assertTrue(p.from().isAfter(target)
                    || plan.before().filter(b -> !b.isBefore(p.from())).isPresent());
            assertTrue(p.to().isBefore(target)
                    || plan.after().filter(a -> !a.isAfter(p.to())).isPresent());
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theQuickestWayComesFirstAndTimesAddUp(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        RestorePlan plan = planning(world, world.backups, world.end, Hazard.MISHAP, Losses.NONE)
                .latest();
        Duration last = Duration.ZERO;
        for (Way way : plan.ways()) {
            assertTrue(way.timeKnown() && way.time().compareTo(last) >= 0);
            last = way.time();
            Duration sum = way.steps().stream().map(s -> s.time().orElseThrow()).reduce(Duration.ZERO, Duration::plus);
            assertEquals(sum, way.time());
            List<Kind> kinds = way.steps().stream().map(Step::kind).toList();
            assertTrue(kinds.lastIndexOf(Kind.FULL) == kinds.indexOf(Kind.FULL), "one full: " + kinds);
            assertTrue(kinds.indexOf(Kind.LOG) < 0 || kinds.indexOf(Kind.LOG) > kinds.indexOf(Kind.FULL));
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void withoutOneOfItsLogsAWayTakesMoreLogsOrIsNoQuicker(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Planning planning = planning(world, world.backups, now, Hazard.MISHAP, Losses.NONE);
        for (Instant target : targets(world, planning.restorable())) {
            Optional<Way> best = planning.to(target).ways().stream().findFirst();
            for (Step log : best.map(Way::logs).orElse(List.of())) {
                List<Backup> without = world.backups.stream()
                        .filter(b -> !b.id().equals(log.backup()))
                        .toList();
                for (Way other : planning(world, without, now, Hazard.MISHAP, Losses.NONE)
                        .to(target)
                        .ways()) {
                    if (other.tip().equals(best.get().tip())) {
                        assertTrue(other.logCount() >= best.get().logCount(), log + ": fewer would do for " + target);
                        assertTrue(
                                other.logCount() > best.get().logCount()
                                        || other.time().compareTo(best.get().time()) >= 0,
                                log + ": as many others are quicker for " + target);
                    }
                }
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void losingMoreNeverRestoresMore(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Losses losses = someLosses(world.random());
        List<Piece> all =
                planning(world, world.backups, now, Hazard.MISHAP, Losses.NONE).restorable();
        for (Piece p :
                planning(world, world.backups, now, Hazard.MISHAP, losses).restorable()) {
            assertTrue(all.stream()
                    .anyMatch(o -> o.lineage().equals(p.lineage())
                            && !o.from().isAfter(p.from())
                            && !o.to().isBefore(p.to())));
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aLostCopyIsAsGoodAsOneThatNeverWas(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        List<Losses.LostCopy> all = world.backups.stream()
                .flatMap(b -> b.copies().stream().map(c -> new Losses.LostCopy(b.id(), c.store())))
                .filter(c -> world.random().nextInt(4) == 0)
                .toList();
        Losses losses = new Losses(Set.of(), Set.of(), Set.copyOf(all));
        List<Backup> without = world.backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> !all.contains(new Losses.LostCopy(b.id(), c.store())))
                        .toList()))
                .toList();
        assertEquals(
                planning(world, without, world.end, Hazard.MISHAP, Losses.NONE).restorable(),
                planning(world, world.backups, world.end, Hazard.MISHAP, losses).restorable());
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatLeadsToAPositionHoldsEveryPositionUpToIt(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Planning planning = planning(world, world.backups, world.end, Hazard.MISHAP, Losses.NONE);
        Map<String, Backup> byId = new HashMap<>();
        world.backups.forEach(b -> byId.put(b.id(), b));
        String lineage = world.database.lineages().get(0).id();
        List<String> streams = world.database.streams();
        for (Backup tip : world.backups) {
            if (!tip.kind().isData()
                    || !tip.lineage().orElse(lineage).equals(lineage)
                    || !tip.positions().keySet().containsAll(streams)) {
                continue;
            }
            Map<String, Long> wanted = new HashMap<>();
            streams.forEach(s -> wanted.put(s, to(tip, s) + world.random().nextInt(400)));
            for (Way way : planning.toPositions(lineage, wanted)) {
                Backup from = byId.get(way.tip());
                for (String stream : streams) {
                    long at = from.selfContained() ? to(from, stream) : from(from, stream);
                    for (Step log : way.logs()) {
                        Backup b = byId.get(log.backup());
                        if (log.stream().orElseThrow().equals(stream)) {
                            assertTrue(from(b, stream) <= at, () -> "a hole before " + log + " in " + way);
                            at = Math.max(at, to(b, stream));
                        }
                    }
                    long reached = at;
                    assertTrue(reached >= wanted.get(stream), () -> way + " ends at " + reached + " of " + stream);
                }
            }
        }
    }

    private static long from(Backup b, String stream) {
        return b.positions().get(stream).from();
    }

    private static long to(Backup b, String stream) {
        return b.positions().get(stream).to();
    }

    @Test
    void aPositionOfEveryStreamIsAskedFor() {
        RandomFleet world = new RandomFleet(1, true);
        Planning planning = planning(world, world.backups, world.end, Hazard.MISHAP, Losses.NONE);
        String lineage = world.database.lineages().get(0).id();
        assertThrows(IllegalArgumentException.class, () -> planning.toPositions(lineage, Map.of()));
    }
}
