package firth.core.restore;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What must hold of every schedule of restores, and what some small ones are. */
class RestoreScheduleTest {

    private static final Map<String, Double> RATES = Map.of("near", 100.0, "far", 20.0, "deep", 5.0);

    static LongStream seeds() {
        return Seeds.upTo(120);
    }

    private static Restoring reading(String id, String store, double bytes, Duration promised) {
        return new Restoring(
                id, List.of(new Restoring.Part(store, bytes, Duration.ZERO)), Optional.ofNullable(promised));
    }

    private static List<Restoring> any(Random random, int count) {
        List<Restoring> out = new ArrayList<>();
        List<String> stores = List.of("near", "far", "deep");
        for (int k = 0; k < count; k++) {
            List<Restoring.Part> parts = new ArrayList<>();
            for (int p = 0; p <= random.nextInt(3); p++) {
                parts.add(new Restoring.Part(
                        stores.get(random.nextInt(3)), random.nextInt(5_000), Duration.ofSeconds(random.nextInt(60))));
            }
            out.add(new Restoring(
                    "d" + k,
                    parts,
                    random.nextBoolean() ? Optional.of(Duration.ofSeconds(random.nextInt(900))) : Optional.empty()));
        }
        return out;
    }

    private static double alone(Restoring r) {
        return r.parts().stream()
                .mapToDouble(p -> p.bytes() / RATES.get(p.store()) + p.work().toSeconds())
                .sum();
    }

    @Test
    void twoThatReadFromOneStoreShareItsRate() {
        RestoreSchedule found = RestoreSchedule.inOrder(
                List.of(reading("a", "near", 1_000, null), reading("b", "near", 3_000, null)), RATES, 2);
        assertEquals(Duration.ofSeconds(20), found.entries().get(0).ends());
        assertEquals(Duration.ofSeconds(40), found.entries().get(1).ends());
        assertEquals(Duration.ofSeconds(40), found.total());
    }

    @Test
    void thePressingOneGoesFirst() {
        RestoreSchedule found = RestoreSchedule.of(
                List.of(
                        reading("large", "near", 9_000, Duration.ofSeconds(200)),
                        reading("small", "near", 1_000, Duration.ofSeconds(10))),
                RATES,
                1);
        assertEquals("small", found.entries().get(0).what().database());
        assertEquals(2, found.kept());
    }

    @Test
    void nothingToRestoreTakesNoTime() {
        assertEquals(new RestoreSchedule(List.of(), Duration.ZERO, 0), RestoreSchedule.of(List.of(), RATES, 3));
        assertThrows(IllegalArgumentException.class, () -> RestoreSchedule.of(List.of(), RATES, 0));
        List<Restoring> lost = List.of(reading("a", "nowhere", 1, null));
        assertThrows(IllegalArgumentException.class, () -> RestoreSchedule.inOrder(lost, RATES, 1));
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void noStoreGivesMoreThanItsRateAndAllIsReadInOrder(long seed) {
        Random random = new Random(seed);
        List<Restoring> all = any(random, 1 + random.nextInt(12));
        int most = 1 + random.nextInt(4);
        RestoreSchedule found = RestoreSchedule.of(all, RATES, most);
        assertEquals(all.size(), found.entries().size());
        TreeSet<Double> moments = new TreeSet<>();
        found.entries().forEach(e -> e.reads().forEach(r -> moments.add(r.from())));
        for (double at : moments) {
            RATES.forEach((store, rate) -> assertTrue(
                    found.entries().stream()
                                    .flatMap(e -> e.reads().stream())
                                    .filter(r -> r.store().equals(store) && r.from() <= at && at < r.to())
                                    .mapToDouble(RestoreSchedule.Read::bytesPerSecond)
                                    .sum()
                            <= rate * 1.000001,
                    store + " at " + at));
            assertTrue(found.entries().stream()
                            .filter(e -> e.begins().toMillis() / 1000.0 <= at - 0.001
                                    && at + 0.001 < e.ends().toMillis() / 1000.0)
                            .count()
                    <= most);
        }
        for (RestoreSchedule.Entry e : found.entries()) {
            double bytes = e.reads().stream()
                    .mapToDouble(r -> (r.to() - r.from()) * r.bytesPerSecond())
                    .sum();
            assertEquals(
                    e.what().parts().stream().mapToDouble(Restoring.Part::bytes).sum(), bytes, 0.01);
            double took = e.ends().minus(e.begins()).toMillis() / 1000.0;
            assertTrue(took >= alone(e.what()) - 0.01, "none is faster beside others than alone");
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void noOrderThatKeepsAsManyPromisesIsATenthShorter(long seed) {
        Random random = new Random(1_000 + seed);
        List<Restoring> all = any(random, 2 + random.nextInt(5));
        int most = 1 + random.nextInt(3);
        RestoreSchedule found = RestoreSchedule.of(all, RATES, most);
        eachOrder(new ArrayList<>(), all, order -> {
            RestoreSchedule other = RestoreSchedule.inOrder(order, RATES, most);
            assertTrue(found.kept() >= other.kept(), () -> "keeps " + found.kept() + " of " + other.kept());
            assertTrue(
                    other.kept() < found.kept()
                            || found.total().toMillis() <= other.total().toMillis() * 1.1,
                    () -> found.total() + " where " + other.total() + " is possible");
        });
    }

    /** Two that would share a store both miss; one after the other both keep their promise. */
    @Test
    void fewerAtATimeMayKeepMore() {
        List<Restoring> all = List.of(
                reading("a", "near", 1_000, Duration.ofSeconds(12)),
                reading("b", "near", 1_000, Duration.ofSeconds(20)));
        RestoreSchedule.Compared found = RestoreSchedule.compared(all, RATES, 2);
        assertEquals(2, found.best().kept());
        assertEquals(
                List.of(false, true),
                found.best().entries().stream()
                        .map(RestoreSchedule.Entry::heldBack)
                        .toList());
        assertEquals(1, RestoreSchedule.inOrder(all, RATES, 2).kept());
    }

    /** While a slow store keeps one busy, the other two take turns at the fast one. */
    @Test
    void oneIsHeldBackThoughOthersRunSideBySide() {
        List<Restoring> all = List.of(
                reading("slow", "deep", 500, null),
                reading("a", "near", 1_000, Duration.ofSeconds(12)),
                reading("b", "near", 1_000, Duration.ofSeconds(20)));
        RestoreSchedule.Compared found = RestoreSchedule.compared(all, RATES, 3);
        assertEquals(2, found.best().kept());
        assertEquals(Duration.ofSeconds(100), found.best().total(), "nothing waits for the slow one");
        assertEquals(
                List.of("b"),
                found.best().entries().stream()
                        .filter(RestoreSchedule.Entry::heldBack)
                        .map(e -> e.what().database())
                        .toList());
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void moreSideBySideIsNeverWorseAndHoldingBackOnlyHelps(long seed) {
        Random random = new Random(2_000 + seed);
        List<Restoring> all = any(random, 1 + random.nextInt(8));
        int most = 1 + random.nextInt(5);
        RestoreSchedule.Compared found = RestoreSchedule.compared(all, RATES, most);
        assertEquals(Math.min(most, all.size()), found.upTo().size());
        for (int n = 1; n < found.upTo().size(); n++) {
            assertTrue(!found.upTo().get(n - 1).isBetterThan(found.upTo().get(n)), "with " + (n + 1));
        }
        for (RestoreSchedule one : found.upTo()) {
            assertTrue(!one.isBetterThan(found.best()), () -> one + " is better than " + found.best());
        }
        if (most == 1) {
            assertTrue(found.best().entries().stream().noneMatch(RestoreSchedule.Entry::heldBack));
        }
    }

    private static void eachOrder(
            List<Restoring> begun, List<Restoring> left, java.util.function.Consumer<List<Restoring>> action) {
        if (left.isEmpty()) {
            action.accept(begun);
        }
        for (Restoring next : left) {
            List<Restoring> others = new ArrayList<>(left);
            others.remove(next);
            List<Restoring> longer = new ArrayList<>(begun);
            longer.add(next);
            eachOrder(longer, others, action);
        }
    }
}
