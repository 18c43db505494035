package firth.core;

import static firth.core.World.hour;
import static firth.core.World.verdict;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.cover.Gap;
import firth.core.cover.Hole;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Role;
import firth.core.objective.Breach;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;

/** Evaluations small enough to work out by hand. */
class EvaluationTest {

    private static Piece piece(double from, double to) {
        return new Piece("1", hour(from), hour(to));
    }

    @Nested
    class WithNothing {

        @Test
        void isNewForADayAndAgesFromTheInServiceMoment() {
            Evaluation e = new World().at(10);
            assertEquals(Grade.NEW, e.grade());
            assertEquals(0, e.mishap().achieved().max());
            assertEquals(Duration.ofHours(10), e.mishap().age());
            assertEquals(Grade.NEW, new World().at(23.9).grade());
            assertEquals(Grade.STRANDED, new World().at(24).grade());
            assertEquals(Optional.empty(), e.mishap().recoveryPoint());
            assertEquals(List.of(), e.gaps());
            assertEquals(0, e.retention().size());
            assertEquals(Duration.ZERO, e.reach().achieved());
        }

        @Test
        void looksBackToBeforeItWasInServiceWithoutTrouble() {
            Evaluation e = new World().full("f", 1, 100).at(-5);
            assertEquals(Grade.STRANDED, e.grade());
            assertEquals(Duration.ZERO, e.mishap().age());
            assertEquals(0, e.mishap().achieved().max());
            assertEquals(Optional.empty(), e.mishap().achieved().attainment());
        }
    }

    @Nested
    class Cover {

        @Test
        void goesFromTheFullToTheLastLogThatExtendsIt() {
            Evaluation e = new World()
                    .full("f", 2, 100)
                    .log("a", 1, 3, 90, 120)
                    .log("b", 3, 5, 120, 150)
                    .at(6);
            assertEquals(List.of(piece(2, 5)), e.mishap().restorable());
            assertEquals(Optional.of(hour(5)), e.mishap().recoveryPoint());
            assertEquals(Duration.ofHours(1), e.mishap().age());
            assertEquals(Grade.COVERED, e.grade());
        }

        @Test
        void stopsAtAHoleHoweverShort() {
            Evaluation e = new World()
                    .full("f", 2, 100)
                    .log("a", 2, 3, 100, 120)
                    .log("b", 3, 5, 121, 150)
                    .at(6);
            assertEquals(List.of(piece(2, 3)), e.mishap().restorable());
        }

        @Test
        void movesOnWhenALateLogFillsTheHole() {
            World world = new World().full("f", 2, 100).log("b", 3, 5, 120, 150).log("late", 2, 7, 100, 120);
            assertEquals(List.of(piece(2, 2)), world.at(6).mishap().restorable());
            assertEquals(List.of(piece(2, 7)), world.at(8).mishap().restorable());
        }

        @Test
        void anIdleLogMovesTimeOn() {
            Evaluation e =
                    new World().full("f", 2, 100).log("idle", 2, 9, 100, 100).at(9);
            assertEquals(List.of(piece(2, 9)), e.mishap().restorable());
        }

        @Test
        void isNarrowerWhereAHazardTakesCopies() {
            Evaluation e =
                    new World().full("f", 2, 100).log("a", 2, 5, 100, 150).at(6);
            assertEquals(List.of(piece(2, 5)), e.mishap().restorable());
            assertEquals(List.of(piece(2, 2)), e.under(Hazard.SITE_LOSS).restorable());
            assertEquals(List.of(piece(2, 2)), e.under(Hazard.SABOTAGE).restorable());
            Evaluation later = new World().full("f", 2, 100).at(40);
            assertEquals(List.of(), later.under(Hazard.SABOTAGE).restorable(), "the lock has ended");
        }

        @Test
        void leavesATornIncrementalOut() {
            World torn = new World().full("f", 1, 100).incr("i", "f", 5, 150, 170);
            assertEquals(List.of(piece(1, 1)), torn.at(6).mishap().restorable());
            World whole =
                    new World().full("f", 1, 100).incr("i", "f", 5, 150, 170).log("l", 4, 5.5, 140, 180);
            assertEquals(
                    List.of(piece(1, 1), piece(5, 5.5)), whole.at(6).mishap().restorable());
        }

        @Test
        void comesBackToAnOlderPointWhenLogsArePurged() {
            Evaluation e =
                    new World().full("f", 2, 100).log("a", 2, 5, 100, 150, 7).at(8);
            assertEquals(Optional.of(hour(2)), e.mishap().recoveryPoint());
            assertEquals(
                    Duration.ofHours(6).toMillis(), (long) e.mishap().achieved().max());
        }
    }

    @Nested
    class Promises {

        @Test
        void areBrokenFromTheMomentTheAgeExceedsThem() {
            Evaluation e = new World()
                    .promising(0, Duration.ofHours(4))
                    .full("f", 6, 100)
                    .at(12);
            assertEquals(
                    List.of(new Breach(hour(10), hour(12), Duration.ofHours(6).toMillis())),
                    e.mishap().breaches());
            assertEquals(1 - 2.0 / 6, e.mishap().achieved().attainment().orElseThrow(), 1e-9);
            assertEquals(Grade.BEHIND, e.grade());
        }

        @Test
        void areNotBrokenWhileTheDatabaseIsStopped() {
            Evaluation e = new World().stopped(3, 11).full("f", 1, 100).at(13);
            assertEquals(Duration.ofHours(4), e.mishap().age());
            assertEquals(List.of(), e.mishap().breaches());
            assertEquals(Grade.COVERED, e.grade());
            assertEquals(
                    (double) Duration.ofHours(2).toMillis(),
                    e.mishap().achieved().p50(),
                    "eight of thirteen hours stood still");
        }

        @Test
        void areThoseOfTheirTime() {
            Evaluation e = new World()
                    .promising(0, Duration.ofHours(24))
                    .promising(10, Duration.ofHours(1))
                    .full("f", 1, 100)
                    .at(12);
            assertEquals(hour(10), e.mishap().breaches().get(0).from());
            assertEquals(2, e.version().orElseThrow().version());
        }

        @Test
        void ofReachAreShortWhereAHoleIsInside() {
            World world = new World()
                    .reaching(Duration.ofHours(20))
                    .promising(0, Duration.ofHours(4))
                    .full("f", 1, 100)
                    .log("a", 1, 10, 100, 200)
                    .log("b", 15, 30, 300, 400)
                    .full("g", 18, 330);
            Evaluation e = world.at(30);
            assertEquals(Grade.SHORT, e.grade());
            assertEquals(12.0 / 20, e.reach().cover().orElseThrow(), 1e-9);
            assertEquals(Duration.ofHours(12), e.reach().achieved());
        }
    }

    @Nested
    class Gaps {

        private World holed() {
            return new World()
                    .full("f", 1, 100)
                    .log("a", 1, 10, 100, 200)
                    .log("gone", 10, 12, 200, 250, 13)
                    .log("b", 12, 20, 250, 400);
        }

        @Test
        void knowTheirEndsAndThatALogWasPurged() {
            Gap gap = holed().at(21).gaps().get(0);
            assertEquals(200, gap.from());
            assertEquals(250, gap.to());
            assertEquals(Optional.of(hour(10)), gap.after());
            assertEquals(Optional.of(hour(12)), gap.before());
            assertEquals(Gap.Cause.PURGED, gap.cause());
            assertEquals(List.of("gone"), gap.logs());
            assertFalse(gap.bridged());
        }

        @Test
        void areBridgedByTheFirstBackupBeyondThem() {
            Gap gap = holed().full("late", 19, 390)
                    .full("first", 15, 300)
                    .at(21)
                    .gaps()
                    .get(0);
            assertEquals(Optional.of("first"), gap.bridgedBy());
        }

        @Test
        void nameTheRunsThatFailedMeanwhile() {
            World world = new World()
                    .full("f", 1, 100)
                    .log("a", 1, 10, 100, 200)
                    .failed("r", Kind.LOG, 11)
                    .failed("other", Kind.FULL, 11)
                    .log("b", 12, 20, 250, 400);
            Gap gap = world.at(21).gaps().get(0);
            assertEquals(Gap.Cause.FAILED, gap.cause());
            assertEquals(List.of("r"), gap.failedRuns());
            assertEquals(List.of(), world.at(11.5).gaps(), "what has not come yet is age, not gap");
        }

        @Test
        void areTheHolesOfTheRibbonToo() {
            Evaluation e = holed().full("late", 19, 390).at(21);
            List<Hole> holes = Hole.between(e.mishap().restorable(), World.START, hour(21), e.gaps());
            assertEquals(
                    List.of(Hole.Where.BEFORE, Hole.Where.BETWEEN, Hole.Where.AFTER),
                    holes.stream().map(Hole::where).toList());
            assertEquals(200, holes.get(1).gap().orElseThrow().from());
            assertEquals(Optional.empty(), holes.get(2).gap());
            assertEquals(
                    Hole.Where.EVERYWHERE,
                    Hole.between(List.of(), World.START, hour(1), List.of())
                            .get(0)
                            .where());
        }
    }

    @Nested
    class Retaining {

        private World weekly() {
            World world = new World().retaining(Role.NEAR, Duration.ofHours(20), 1);
            for (int i = 0; i < 5; i++) {
                world.full("f" + i, i * 10, 100L * i);
                world.log("l" + i, i * 10, i * 10 + 10, 100L * i, 100L * i + 100);
            }
            return world;
        }

        @Test
        void keepsTheAnchorOfReachAndWhatIsInside() {
            Evaluation e = weekly().at(50);
            assertEquals("needed floor, inside-reach, newest-fulls", verdict(e, "f4", "near"));
            assertEquals("needed reach-anchor", verdict(e, "f3", "near"));
            assertEquals("obsolete replaced-by:f3, replaced-by:f4", verdict(e, "f2", "near"));
            assertEquals("needed log-for-reach", verdict(e, "l3", "near"));
            assertEquals("obsolete replaced-by:f3, replaced-by:f4", verdict(e, "l2", "near"));
        }

        @Test
        void saysThatNoRuleSpeaksOfTheFarStore() {
            assertEquals("needed floor, locked, no-rule", verdict(weekly().at(25), "f2", "far"));
        }

        @Test
        void keepsWhatIsHeldWithItsParents() {
            World world = weekly().incr("i", "f0", 5, 50, 60).held("i");
            Evaluation e = world.at(50);
            assertEquals("needed held", verdict(e, "i", "near"));
            assertEquals("needed parent-of:i", verdict(e, "f0", "near"));
            assertEquals("needed log-for-consistency:i", verdict(e, "l0", "near"));
        }

        @Test
        void keepsEverythingWhereNoPolicyIsInForce() {
            Evaluation e = new World()
                    .promising(99, Duration.ofHours(1))
                    .full("f", 1, 100)
                    .full("g", 2, 200)
                    .at(10);
            assertTrue(verdict(e, "f", "near").contains("no-rule"));
            assertEquals(Optional.empty(), e.mishap().objective());
        }
    }
}
