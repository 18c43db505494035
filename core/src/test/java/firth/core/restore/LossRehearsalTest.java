package firth.core.restore;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Losses;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Hazard;
import firth.core.restore.LossRehearsal.Cure;
import firth.core.restore.LossRehearsal.Left;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What is left when things are gone, and that the change proposed would have left something. */
class LossRehearsalTest {

    static LongStream seeds() {
        return Seeds.upTo(200, 404);
    }

    private static Losses losses(RandomFleet world) {
        Set<String> stores = new HashSet<>();
        for (String s : List.of("n1", "n2", "f1", "d1")) {
            if (world.random().nextInt(3) > 0) {
                stores.add(s);
            }
        }
        return new Losses(stores, world.random().nextInt(4) == 0 ? Set.of("south") : Set.of());
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void theMoreIsLostTheLessIsLeftAndACureLeavesSomething(long seed) {
        RandomFleet world = new RandomFleet(seed, seed % 2 == 0);
        Losses losses = losses(world);
        for (Hazard hazard : Hazard.values()) {
            Instant now = world.anyMoment();
            Left nothingLost = LossRehearsal.of(world.facts(), world.fleet, now, Hazard.MISHAP, Losses.NONE);
            Left left = LossRehearsal.of(world.facts(), world.fleet, now, hazard, losses);
            assertTrue(
                    left.reached().isEmpty()
                            || !left.reached()
                                    .get()
                                    .isAfter(nothingLost.reached().orElseThrow()),
                    "fewer copies never restore more");
            assertEquals(left.reached().isPresent(), left.way().isPresent());
            if (left.reached().isEmpty() && nothingLost.reached().isPresent()) {
                Cure cure = left.cure().orElseThrow();
                if (cure.store().isPresent()) {
                    List<Backup> cured = cured(world.backups, cure, now);
                    assertTrue(
                            LossRehearsal.of(world.facts(cured), world.fleet, now, hazard, losses)
                                    .reached()
                                    .isPresent(),
                            () -> cure + " cures nothing");
                }
            }
        }
    }

    /** As if the change had been made: whatever is known lies there too, or is locked there. */
    private static List<Backup> cured(List<Backup> backups, Cure cure, Instant now) {
        String store = cure.store().orElseThrow();
        return backups.stream()
                .map(b -> {
                    List<Copy> copies = new ArrayList<>();
                    for (Copy c : b.copies()) {
                        copies.add(c.store().equals(store) && cure.what().equals("lock") ? locked(c, now) : c);
                    }
                    if (cure.what().equals("copy")) {
                        copies.removeIf(c -> c.store().equals(store));
                        b.copies().stream()
                                .filter(c -> c.isThereAt(now) || isBeingReceived(b, c, now))
                                .findFirst()
                                .ifPresent(c -> copies.add(locked(at(c, store), now)));
                    }
                    return b.withCopies(copies);
                })
                .toList();
    }

    /** The part of a log that has come can be sent on. */
    private static boolean isBeingReceived(Backup b, Copy c, Instant now) {
        return b.streamed() && !c.statedLanding() && !b.started().isAfter(now) && now.isBefore(b.ended());
    }

    private static Copy at(Copy c, String store) {
        return new Copy(
                store, c.landed(), c.statedLanding(), c.lockedUntil(), c.gone(), c.spoiled(), c.bytes(), c.rest());
    }

    private static Copy locked(Copy c, Instant now) {
        return new Copy(
                c.store(),
                c.landed(),
                c.statedLanding(),
                Optional.of(now.plus(Duration.ofDays(1))),
                c.gone(),
                c.spoiled(),
                c.bytes(),
                c.rest());
    }
}
