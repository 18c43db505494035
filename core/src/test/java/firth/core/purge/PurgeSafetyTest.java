package firth.core.purge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Role;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Purging everything that is not needed harms nothing that is promised (docs/semantics.md, "Purging must be safe"). */
class PurgeSafetyTest {

    static LongStream seeds() {
        return Seeds.upTo(300);
    }

    private static Map<String, Verdict> verdicts(Evaluation e) {
        Map<String, Verdict> out = new HashMap<>();
        for (int r = 0; r < e.retention().size(); r++) {
            out.put(
                    e.history().id(e.retention().backup(r)) + " "
                            + e.retention().store(r),
                    e.retention().verdict(r));
        }
        return out;
    }

    private static List<Backup> keeping(RandomFleet world, Instant now, Predicate<String> kept) {
        return world.knownBy(now).stream()
                .map(b -> b.withCopies(b.copies().stream()
                        .filter(c -> kept.test(b.id() + " " + c.store()))
                        .toList()))
                .toList();
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void purgingNeverShrinksCoverWithinReach(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Evaluation before = world.evaluate(world.backups, now);
        Map<String, Verdict> verdicts = verdicts(before);
        Evaluation after = world.evaluate(
                keeping(world, now, k -> !verdicts.containsKey(k) || verdicts.get(k) == Verdict.NEEDED), now);
        assertEquals(
                before.mishap().restorable().isEmpty(),
                after.mishap().restorable().isEmpty(),
                "a way back is left");
        for (Role role : Role.values()) {
            Duration reach = before.version().orElseThrow().retain().stream()
                    .filter(r -> r.role() == role)
                    .flatMap(r -> r.reach().stream())
                    .max(Duration::compareTo)
                    .orElse(null);
            if (reach != null) {
                Set<String> inRole = storesOf(world, role);
                List<Backup> alone = keeping(world, now, k -> inRole.contains(k.substring(k.indexOf(' ') + 1)));
                assertWithinSince(world.evaluate(alone, now), after, now.minus(reach), role);
            }
        }
    }

    private static Set<String> storesOf(RandomFleet world, Role role) {
        Set<String> out = new HashSet<>();
        world.fleet.stores().stream()
                .filter(s -> s.role().filter(role::equals).isPresent())
                .forEach(s -> out.add(s.id()));
        return out;
    }

    private static void assertWithinSince(Evaluation role, Evaluation after, Instant w, Role name) {
        for (Piece piece : role.mishap().restorable()) {
            if (!piece.to().isBefore(w)) {
                Instant from = piece.from().isBefore(w) ? w : piece.from();
                assertTrue(
                        after.mishap().restorable().stream()
                                .anyMatch(p -> !p.from().isAfter(from) && !p.to().isBefore(piece.to())),
                        name + " restored " + from + " to " + piece.to() + "; left: "
                                + after.mishap().restorable());
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void purgingNeverBreaksWhatIsNeeded(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Evaluation before = world.evaluate(world.backups, now);
        Map<String, Verdict> verdicts = verdicts(before);
        Evaluation after = world.evaluate(
                keeping(world, now, k -> !verdicts.containsKey(k) || verdicts.get(k) == Verdict.NEEDED), now);
        Set<String> whole = unusable(before);
        for (String id : unusable(after)) {
            assertTrue(whole.contains(id), id + " was whole before the purge");
        }
        verdicts(after)
                .forEach((key, verdict) -> assertFalse(
                        verdict == Verdict.UNUSABLE && !whole.contains(key.substring(0, key.indexOf(' '))), key));
    }

    /** Data backups that restore nothing by themselves: torn, or without their chain. */
    private static Set<String> unusable(Evaluation e) {
        Set<String> out = new HashSet<>();
        for (int r = 0; r < e.retention().size(); r++) {
            List<String> reasons = e.retention().reasons(r);
            if (reasons.contains("torn") || reasons.contains("chain-broken")) {
                out.add(e.history().id(e.retention().backup(r)));
            }
        }
        return out;
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void everyCopyHasItsReasonUnlessNothingReplacesIt(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Evaluation e = world.evaluate(world.backups, world.anyMoment());
        for (int r = 0; r < e.retention().size(); r++) {
            if (e.retention().verdict(r) != Verdict.OBSOLETE) {
                assertFalse(e.retention().reasons(r).isEmpty());
            } else {
                assertTrue(e.retention().reasons(r).stream().allMatch(x -> x.startsWith("replaced-by:")));
            }
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void aLockedCopyIsAlwaysNeeded(long seed) {
        RandomFleet world = new RandomFleet(seed, true);
        Instant now = world.anyMoment();
        Map<String, Verdict> verdicts = verdicts(world.evaluate(world.backups, now));
        for (Backup b : world.backups) {
            for (Copy c : b.copies()) {
                Verdict verdict = verdicts.get(b.id() + " " + c.store());
                assertTrue(verdict == null
                        || c.lockedUntil().filter(now::isBefore).isEmpty()
                        || verdict == Verdict.NEEDED);
            }
        }
    }
}
