package firth.core;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Availability;
import firth.core.cover.Gap;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.objective.AgePieces;
import firth.core.time.RunningTime;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What must hold of cover whatever the history; each seed is a history of its own. */
class CoverPropertiesTest {

    static LongStream seeds() {
        return Seeds.upTo(200, 530);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void agreesWithTheRulesTakenWordByWord(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        for (int n = 0; n < 4; n++) {
            Instant now = world.anyMoment();
            Evaluation e = world.evaluate(world.backups, now);
            for (Hazard hazard : Hazard.values()) {
                NaiveCover naive = new NaiveCover(world, now, hazard);
                assertEquals(naive.restorable(now), e.under(hazard).restorable(), hazard + " as of " + now);
                assertEquals(naive.recoveryPoint(now), e.under(hazard).recoveryPoint(), hazard + " at " + now);
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatIsLeftNowIsTheSameWithoutThePast(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        DatabaseFacts facts = world.facts();
        History history = facts.history();
        for (int n = 0; n < 4; n++) {
            Availability availability = new Availability(
                    facts.database(), world.fleet, history, world.anyMoment().toEpochMilli());
            Lines lines = new Lines(history, availability);
            for (Hazard hazard : Hazard.values()) {
                HazardCover whole = HazardCover.of(history, lines, availability, hazard);
                HazardCover now = HazardCover.now(history, lines, availability, hazard);
                assertEquals(whole.restorable(), now.restorable());
                for (int i : history.others()) {
                    if (history.kind(i).isData()) {
                        assertEquals(whole.usable(i), now.usable(i));
                        assertEquals(whole.torn(i), now.torn(i));
                        assertEquals(whole.restorable(i), now.restorable(i));
                        assertEquals(!whole.restoredBy(i).isEmpty(), now.restorable(i));
                    }
                }
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theAgeAtEveryMomentIsThatOfItsOwnRecoveryPoint(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Evaluation e = world.evaluate(world.backups, world.end);
        Spans stopped = Spans.NONE;
        if (!world.database.stopped().isEmpty()) {
            stopped = Spans.of(
                    world.database.stopped().get(0).from().toEpochMilli(),
                    world.database.stopped().get(0).to().orElseThrow().toEpochMilli());
        }
        RunningTime clock = new RunningTime(stopped);
        for (Hazard hazard : Hazard.values()) {
            AgePieces ages = e.under(hazard).ages();
            NaiveCover naive = new NaiveCover(world, world.end, hazard);
            for (int n = 0; n < 15; n++) {
                Instant t = world.anyMoment();
                if (t.isBefore(Instant.ofEpochMilli(e.onboarding().until()))) {
                    continue;
                }
                Instant point = naive.recoveryPoint(t).orElse(world.database.inServiceFrom());
                assertEquals(
                        clock.between(point.toEpochMilli(), t.toEpochMilli()),
                        ageAt(ages, t.toEpochMilli()),
                        hazard + " at " + t);
            }
        }
    }

    private static long ageAt(AgePieces ages, long t) {
        for (int i = 0; i < ages.size(); i++) {
            if (ages.fromMs(i) <= t && t < ages.toMs(i)) {
                return ages.ageMs(i) + ages.slope(i) * (t - ages.fromMs(i));
            }
        }
        throw new AssertionError("no age at " + t);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void asOfAMomentEqualsTheHistoryKnownByThen(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant then = world.anyMoment();
        Evaluation whole = world.evaluate(world.backups, then);
        Evaluation cut = world.evaluate(world.knownBy(then), then);
        assertEquals(described(cut), described(whole));
    }

    static String described(Evaluation e) {
        StringBuilder out = new StringBuilder(e.grade() + " " + e.reach() + "\n");
        for (Hazard hazard : Hazard.values()) {
            HazardEvaluation h = e.under(hazard);
            out.append(h.recoveryPoint())
                    .append(h.age())
                    .append(h.achieved())
                    .append(h.breaches())
                    .append(h.restorable())
                    .append('\n');
        }
        e.gaps().forEach(g -> out.append(g).append('\n'));
        List<String> verdicts = new ArrayList<>();
        for (int r = 0; r < e.retention().size(); r++) {
            verdicts.add(e.history().id(e.retention().backup(r)) + " "
                    + e.retention().store(r) + " " + e.retention().verdict(r) + " "
                    + e.retention().reasons(r).stream().sorted().toList());
        }
        return out.append(String.join("\n", verdicts.stream().sorted().toList()))
                .toString();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void fewerCopiesNeverRestoreMore(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Evaluation before = world.evaluate(world.backups, now);
        List<Backup> fewer = world.backups.stream()
                .map(b -> {
                    List<Copy> left = b.copies().stream()
                            .filter(c -> world.random().nextInt(6) > 0)
                            .toList();
                    return b.withCopies(left);
                })
                .toList();
        Evaluation after = world.evaluate(fewer, now);
        for (Hazard hazard : Hazard.values()) {
            assertWithin(after.under(hazard).restorable(), before.under(hazard).restorable());
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void oneMoreLogNeverMakesAnAgeWorse(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        List<Backup> logs = world.backups.stream()
                .filter(b -> b.kind() == firth.core.model.Kind.LOG)
                .toList();
        Backup one = logs.get(world.random().nextInt(logs.size()));
        List<Backup> without =
                world.backups.stream().filter(b -> !b.id().equals(one.id())).toList();
        Evaluation more = world.evaluate(world.backups, world.end);
        Evaluation less = world.evaluate(without, world.end);
        for (Hazard hazard : Hazard.values()) {
            AgePieces ages = more.under(hazard).ages();
            AgePieces before = less.under(hazard).ages();
            long begin = Math.max(more.onboarding().until(), less.onboarding().until());
            for (long t = begin; t < world.end.toEpochMilli(); t += 1_800_000) {
                long at = t;
                assertTrue(ageAt(ages, t) <= ageAt(before, t), () -> hazard + " at " + Instant.ofEpochMilli(at));
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aVersionThatChangesNothingChangesNothing(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        PolicyVersion known = world.fleet.versions("p").get(0);
        PolicyVersion again = new PolicyVersion(
                "p",
                2,
                notBeforeTheFirstDataSlot(world, known, world.anyMoment()),
                known.name(),
                known.enabled(),
                known.objective(),
                known.schedules(),
                known.openHours(),
                known.retain(),
                known.copies());
        Fleet fleet = new Fleet(world.fleet.stores(), List.of(known, again));
        Span period = new Span(RandomFleet.BEGIN, world.end);
        Evaluation before = Evaluation.of(world.facts(), world.fleet, world.end, period);
        Evaluation after = Evaluation.of(world.facts(), fleet, world.end, period);
        assertEquals(described(before), described(after));
        assertEquals(verdicts(before), verdicts(after));
    }

    /** How long onboarding may last depends on whether a data slot opens before the first version is replaced. */
    private static Instant notBeforeTheFirstDataSlot(RandomFleet world, PolicyVersion first, Instant moment) {
        Instant inService = world.database.inServiceFrom();
        Instant opens = first.live().stream()
                .filter(s -> s.kind().isData())
                .flatMap(s -> s.openings(first, world.database.zone(), inService, world.end).stream())
                .min(Comparator.naturalOrder())
                .orElse(world.end);
        boolean between = moment.isAfter(inService) && !moment.isAfter(opens);
        return between ? opens.plusSeconds(60) : moment;
    }

    private static List<String> verdicts(Evaluation e) {
        return e.slots().stream()
                .map(s -> s.schedule() + s.open() + s.verdict() + s.runs() + s.spill())
                .toList();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aHazardLeavesNoMoreThanAMishap(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        assertWithin(e.under(Hazard.SITE_LOSS).restorable(), e.mishap().restorable());
        assertWithin(e.under(Hazard.SABOTAGE).restorable(), e.mishap().restorable());
    }

    static void assertWithin(List<Piece> inner, List<Piece> outer) {
        for (Piece piece : inner) {
            assertTrue(
                    outer.stream().anyMatch(o -> !o.from().isAfter(piece.from()) && !o.to().isBefore(piece.to())),
                    piece + " is not within " + outer);
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void attainmentAndBreachesTellTheSameStory(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Evaluation e = world.evaluate(world.backups, world.end);
        HazardEvaluation h = e.mishap();
        Instant begin = Instant.ofEpochMilli(e.onboarding().until());
        Duration broken = h.breaches().stream()
                .map(b -> Duration.between(b.from(), b.to()))
                .reduce(Duration.ZERO, Duration::plus);
        double share = 1
                - (double) broken.toMillis()
                        / Duration.between(begin, world.end).toMillis();
        assertEquals(share, h.achieved().attainment().orElseThrow(), 1e-9);
        long worst = h.breaches().stream().mapToLong(b -> b.worstMs()).max().orElse(0);
        long objective = Duration.ofHours(6).toMillis();
        assertEquals(worst > 0, h.achieved().max() > objective);
        assertTrue(worst == 0 || worst == h.achieved().max(), "the worst breach is the worst age");
        assertTrue(h.achieved().p50() <= h.achieved().p95()
                && h.achieved().p95() <= h.achieved().p99());
        assertTrue(h.achieved().p99() <= h.achieved().max()
                && h.achieved().mean() <= h.achieved().max());
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void gapsLieApartAndNoAvailableLogHoldsThem(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Evaluation e = world.evaluate(world.backups, now);
        Map<String, Long> reached = new HashMap<>();
        for (Gap gap : e.gaps()) {
            String line = gap.lineage() + " " + gap.stream();
            assertTrue(
                    gap.from() > reached.getOrDefault(line, -1L) && gap.to() > gap.from(), gap + " after " + reached);
            reached.put(line, gap.to());
            for (int i = 0; i < e.history().size(); i++) {
                boolean overlaps = e.history().kind(i) == firth.core.model.Kind.LOG
                        && line.equals(lineOf(world, e, i))
                        && e.history().logFrom(i) < e.history().logTo(i)
                        && e.history().logFrom(i) < gap.to()
                        && e.history().logTo(i) > gap.from();
                assertTrue(!overlaps || !available(e, i), e.history().id(i) + " holds " + gap);
            }
        }
    }

    private static String lineOf(RandomFleet world, Evaluation e, int log) {
        return world.database.lineages().get(e.history().lineage(log)).id() + " "
                + world.database.streams().get(e.history().stream(log));
    }

    private static boolean available(Evaluation e, int i) {
        for (int r = 0; r < e.retention().size(); r++) {
            if (e.retention().backup(r) == i) {
                return true;
            }
        }
        return false;
    }
}
