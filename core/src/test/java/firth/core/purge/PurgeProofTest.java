package firth.core.purge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Hazard;
import firth.core.purge.PurgeProof.Chosen;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** The proof agrees with evaluating what is really left, and is refused where something promised would go. */
class PurgeProofTest {

    static LongStream seeds() {
        return Seeds.upTo(300);
    }

    private static Set<Chosen> judged(Evaluation e, Predicate<Verdict> verdict) {
        Set<Chosen> out = new HashSet<>();
        for (int k = 0; k < e.retention().size(); k++) {
            if (verdict.test(e.retention().verdict(k))) {
                out.add(new Chosen(
                        e.history().id(e.retention().backup(k)), e.retention().store(k)));
            }
        }
        return out;
    }

    private static Set<Chosen> some(Set<Chosen> all, Random random) {
        Set<Chosen> out = new HashSet<>(all);
        out.removeIf(c -> random.nextInt(3) == 0);
        return out;
    }

    private static List<Backup> without(RandomFleet world, Instant now, Set<Chosen> gone) {
        return world.knownBy(now).stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> !gone.contains(new Chosen(b.id(), c.store())))
                        .toList()))
                .toList();
    }

    private static PurgeProof proof(RandomFleet world, Evaluation e, Set<Chosen> chosen) {
        DatabaseFacts facts = new DatabaseFacts(world.database, e.history(), world.holds, List.of());
        return PurgeProof.of(facts, world.fleet, e, chosen);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void anyPartOfWhatNoRuleNeedsMayGo(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Evaluation e = world.evaluate(world.backups, now);
        Set<Chosen> chosen = some(judged(e, v -> v != Verdict.NEEDED), new Random(seed));
        chosen.removeAll(promised(world, e, chosen).keySet());
        PurgeProof proof = proof(world, e, chosen);
        // Only a newest moment that no rule reaches back to may hold it up: the rules would let it go, the proof does
        // not.
        assertTrue(
                proof.flaws().stream()
                        .allMatch(f -> f instanceof Flaw.NewestMoves moves
                                        && moves.after().isPresent()
                                || f instanceof Flaw.NothingToRestore
                                        && proof.pointBefore().isEmpty()),
                proof.flaws().toString());
        assertEquals(chosen.size(), proof.copies());
        // What it says of what is left is what evaluating what is left says.
        Evaluation after = world.evaluate(without(world, now, chosen), now);
        assertEquals(after.mishap().restorable().stream().map(p -> p.to()).max(Instant::compareTo), proof.pointAfter());
        proof.reachFrom()
                .ifPresent(from -> assertEquals(
                        after.mishap().restorable().stream()
                                .filter(p -> !p.to().isBefore(from))
                                .count(),
                        proof.after().size()));
    }

    private static Map<Chosen, Hazard> promised(RandomFleet world, Evaluation e, Set<Chosen> chosen) {
        DatabaseFacts facts = new DatabaseFacts(world.database, e.history(), world.holds, List.of());
        return PromisedReach.keeping(facts, world.fleet, e, chosen);
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatIsPromisedStaysUnderEachHazardFromAllRolesTogether(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Evaluation e = world.evaluate(world.backups, now);
        Set<Chosen> all = judged(e, v -> v != Verdict.NEEDED);
        Map<Chosen, Hazard> kept = promised(world, e, all);
        boolean breaks = proof(world, e, all).flaws().stream().anyMatch(Flaw.PromisedReachTorn.class::isInstance);
        assertEquals(breaks, !kept.isEmpty());
        assertTrue(all.containsAll(kept.keySet()));
        all.removeAll(kept.keySet());
        Evaluation after = world.evaluate(without(world, now, all), now);
        Instant since = now.minus(Duration.ofDays(3));
        for (Hazard hazard : Hazard.values()) {
            boolean promised = e.under(hazard).objective().isPresent();
            assertTrue(promised || !kept.containsValue(hazard));
            for (Piece p : promised ? e.under(hazard).restorable() : List.<Piece>of()) {
                Instant from = p.from().isBefore(since) ? since : p.from();
                assertTrue(
                        p.to().isBefore(since)
                                || !world.database.stopped().isEmpty()
                                || after.under(hazard).restorable().stream()
                                        .anyMatch(q -> !q.from().isAfter(from) && !q.to().isBefore(p.to())),
                        hazard + " " + p);
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void nothingThatARuleNeedsMayGo(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        for (Chosen one : judged(e, v -> v == Verdict.NEEDED)) {
            PurgeProof proof = proof(world, e, Set.of(one));
            assertFalse(proof.holds(), one + " may go");
            Flaw.CopyNeeded needed = (Flaw.CopyNeeded) proof.flaws().get(0);
            assertEquals(one, new Chosen(needed.backup(), needed.store()));
            assertFalse(needed.reasons().isEmpty());
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void takingEverythingIsFoundOutByWhatIsLeft(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        PurgeProof proof = proof(world, e, judged(e, v -> true));
        if (!e.mishap().restorable().isEmpty()) {
            assertTrue(proof.flaws().stream()
                    .anyMatch(f ->
                            f instanceof Flaw.NewestMoves moves && moves.after().isEmpty()));
            assertEquals(0, proof.after().size());
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void choosingNothingChangesNothing(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        PurgeProof proof = proof(world, e, Set.of(new Chosen("nobody", "n1")));
        assertTrue(proof.holds());
        assertEquals(0, proof.copies());
        assertEquals(proof.before(), proof.after());
        assertEquals(proof.pointBefore(), proof.pointAfter());
    }
}
