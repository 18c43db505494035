package firth.core.purge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * What is purged at a moment is missed at none to come: while copies that are on their way land and new backups are taken, nothing
 * is lost within a role's reach that keeping the copies would have saved.
 */
class PurgeOverTimeTest {

    static LongStream seeds() {
        // In the last logs follow a backup whose own log lands a day late.
        return LongStream.concat(Seeds.upTo(240), LongStream.of(1018)).distinct();
    }

    private static Set<Chosen> mayGo(RandomFleet world, Evaluation e) {
        DatabaseFacts facts = new DatabaseFacts(world.database, e.history(), world.holds, List.of());
        Random random = new Random(world.seed);
        Set<Chosen> out = new HashSet<>();
        StillComing coming = new StillComing(e);
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().verdict(k) != Verdict.NEEDED
                    && coming.keeps(e.retention().backup(k)).isEmpty()
                    && random.nextInt(4) > 0) {
                out.add(new Chosen(
                        e.history().id(e.retention().backup(k)), e.retention().store(k)));
            }
        }
        out.removeAll(PromisedReach.keeping(facts, world.fleet, e, out).keySet());
        return PurgeProof.of(facts, world.fleet, e, out).holds() ? out : Set.of();
    }

    /** What will be known later if nobody deletes anything more and nothing is found spoiled, without what was purged. */
    private static List<Backup> later(RandomFleet world, Instant purged, Set<Chosen> gone) {
        return world.backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> !gone.contains(new Chosen(b.id(), c.store())))
                        .map(c -> new Copy(
                                c.store(),
                                c.landed(),
                                c.statedLanding(),
                                c.lockedUntil(),
                                c.gone().filter(g -> !g.isAfter(purged)),
                                c.spoiled().filter(s -> !s.found().isAfter(purged)),
                                c.bytes(),
                                c.rest()))
                        .toList()))
                .toList();
    }

    static List<Backup> inRole(RandomFleet world, List<Backup> backups, Role role) {
        return backups.stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> world.fleet
                                .store(c.store())
                                .flatMap(s -> s.role())
                                .filter(role::equals)
                                .isPresent())
                        .toList()))
                .toList();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void nothingIsMissedLaterThatKeepingWouldHaveSaved(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Set<Chosen> gone = mayGo(world, world.evaluate(world.backups, now));
        List<Backup> kept = later(world, now, Set.of());
        List<Backup> purged = later(world, now, gone);
        for (int hours = 1;
                now.plus(Duration.ofHours(hours)).isBefore(world.end.plus(Duration.ofDays(10)));
                hours += 23) {
            Instant then = now.plus(Duration.ofHours(hours));
            Evaluation after = world.evaluate(purged, then);
            Evaluation without = world.evaluate(kept, then);
            assertEquals(
                    without.mishap().restorable().isEmpty(),
                    after.mishap().restorable().isEmpty(),
                    "a way back at " + then);
            for (Role role : Role.values()) {
                Optional<Duration> reach = without.version().orElseThrow().retain().stream()
                        .filter(r -> r.role() == role)
                        .map(RetainRule::reach)
                        .flatMap(Optional::stream)
                        .max(Duration::compareTo);
                if (reach.isPresent()) {
                    Instant since = Instant.ofEpochMilli(world.database
                            .clock()
                            .before(then.toEpochMilli(), reach.get().toMillis()));
                    List<Piece> own = world.evaluate(inRole(world, kept, role), then)
                            .mishap()
                            .restorable();
                    List<Piece> missing = PurgeProof.missing(
                            PurgeProof.since(own, since), after.mishap().restorable());
                    assertTrue(
                            missing.isEmpty(),
                            () -> "purged at " + now + ": " + gone + "; missed in " + role + " at " + then + ": "
                                    + missing);
                }
            }
        }
    }
}
