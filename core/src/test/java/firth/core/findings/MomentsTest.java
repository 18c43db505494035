package firth.core.findings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.model.Backup;
import firth.core.model.Hazard;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Time alone changes what is said of a database at the moments that are foreseen, and at no other. */
class MomentsTest {

    private static final Duration FAR = Duration.ofDays(10);

    static LongStream seeds() {
        return Seeds.upTo(40);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void betweenTwoMomentsNothingButAgesMoves(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        for (int n = 0; n < 3; n++) {
            Instant now = world.anyMoment();
            Evaluation e = world.evaluate(world.backups, now);
            Instant next = Moments.next(e, world.facts(), world.fleet, List.of(), FAR);
            assertTrue(next.isAfter(now), "the next moment is later");
            long between = Duration.between(now, next).toMillis();
            for (long later : List.of(between - 1, (long) (world.random().nextDouble() * (between - 1)))) {
                Instant then = now.plusMillis(Math.max(0, later));
                assertSaysTheSame(world, e, world.evaluate(world.backups, then));
            }
        }
    }

    /** Once nothing more is known of the future, the moments are those of rules and promises alone. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void norDoesItWhereNothingMoreIsTold(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        List<Backup> known = world.knownBy(now);
        Instant at = now;
        for (int n = 0; n < 20; n++) {
            Evaluation e = world.evaluate(known, at);
            Instant next = Moments.next(e, world.facts(known), world.fleet, List.of(), FAR);
            assertSaysTheSame(world, e, world.evaluate(known, next.minusMillis(1)));
            at = next;
        }
    }

    /** Everything but how old the recovery point is, and what follows from that by growing. */
    private static String said(RandomFleet world, Evaluation e) {
        List<String> out = new ArrayList<>();
        out.add(e.grade() + " " + e.version().map(v -> v.version()) + " " + e.pointsOnly() + " " + e.onboarding());
        for (Hazard hazard : Hazard.values()) {
            HazardEvaluation h = e.under(hazard);
            out.add(hazard + " " + h.isMissed() + " " + h.objective());
        }
        e.gaps().forEach(g -> out.add(g.toString()));
        e.slots().forEach(s -> out.add(s.schedule() + " " + s.open() + " " + s.verdict()));
        e.cadence().forEach(c -> out.add(c.toString()));
        for (int r = 0; r < e.retention().size(); r++) {
            out.add(e.history().id(e.retention().backup(r)) + " "
                    + e.retention().store(r) + " " + e.retention().verdict(r) + " "
                    + e.retention().reasons(r));
        }
        Findings.of(e, world.facts(), world.fleet).forEach(f -> out.add(key(f)));
        return String.join("\n", out);
    }

    /**
     * A hole shrinks while a log before it is being received, and what helps soonest after a lost site may be another store.
     */
    private static String key(Finding f) {
        return switch (f.code()) {
            case "hole-in-reach" -> f.code();
            case "site-loss-missed", "sabotage-missed" -> f.code() + " " + f.since();
            default -> f.code() + " " + f.about() + " " + f.since();
        };
    }

    private static void assertSaysTheSame(RandomFleet world, Evaluation e, Evaluation later) {
        Duration between = Duration.between(e.asOf(), later.asOf());
        assertEquals(said(world, e), said(world, later), () -> "from " + e.asOf() + " to " + later.asOf());
        for (Hazard hazard : Hazard.values()) {
            List<Piece> before = e.under(hazard).restorable();
            List<Piece> after = later.under(hazard).restorable();
            assertEquals(before.size(), after.size(), () -> hazard + ": " + before + " became " + after);
            for (int i = 0; i < before.size(); i++) {
                Piece one = before.get(i);
                Piece other = after.get(i);
                boolean received = one.to().plus(between).equals(other.to());
                assertTrue(
                        one.equals(other) || received && one.from().equals(other.from()),
                        () -> hazard + ": " + one + " became " + other);
            }
        }
    }
}
