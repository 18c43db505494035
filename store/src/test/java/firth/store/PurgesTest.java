package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Deed;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What becomes of a list and its items, step by step. */
class PurgesTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00Z");

    @TempDir
    Path directory;

    private FactStore store;
    private Purges purges;

    @BeforeEach
    void askForFour() {
        store = FactStore.open(directory.resolve("firth.db"));
        purges = store.purges();
        purges.ask(
                new Purges.Purge(
                        "p1",
                        Optional.of("near"),
                        PurgeState.ASKED,
                        "ines",
                        NOW,
                        "room",
                        1,
                        "[]",
                        "h",
                        "",
                        Optional.empty()),
                IntStream.rangeClosed(1, 4).mapToObj(PurgesTest::item).toList(),
                told("purge-asked"));
    }

    private static Purges.Item item(int n) {
        return new Purges.Item(
                n,
                "d",
                "b" + n,
                "full",
                n == 4 ? "far" : "near",
                "/d/b" + n,
                100,
                "",
                NOW,
                "why",
                ItemState.WAITING,
                "",
                OptionalDouble.empty(),
                Optional.empty());
    }

    private static Deed.Told told(String act) {
        return new Deed.Told("ines", act, "p1", "{}");
    }

    private static Purges.Outcome outcome(int n, ItemState state) {
        return new Purges.Outcome(n, state, "", OptionalDouble.empty());
    }

    private static List<Integer> numbers(Map<String, List<Purges.Item>> open) {
        return open.getOrDefault("p1", List.of()).stream().map(Purges.Item::num).toList();
    }

    @Test
    void onlyAListThatRunsHasItemsToBeTakenAndOnlyInTheirStore() {
        assertEquals(Map.of(), purges.next("near", 9));
        purges.turn("p1", PurgeState.RUNNING, "", told("purge-begun"), NOW);
        assertEquals(List.of(1, 2), numbers(purges.next("near", 2)));
        assertEquals(List.of(4), numbers(purges.next("far", 9)));
        purges.note("p1", List.of(outcome(1, ItemState.HANDED)), Optional.empty(), NOW);
        assertEquals(List.of(1), numbers(purges.next("near", 9)));
        purges.note("p1", List.of(outcome(1, ItemState.DELETED)), Optional.empty(), NOW);
        assertEquals(List.of(2, 3), numbers(purges.next("near", 9)));
        purges.turn("p1", PurgeState.PAUSED, "", told("purge-paused"), NOW);
        assertEquals(Map.of(), purges.next("near", 9));
    }

    @Test
    void noListWaitsForWhatIsNotToldOfAnother() {
        purges.turn("p1", PurgeState.RUNNING, "", told("purge-begun"), NOW);
        purges.note("p1", List.of(outcome(1, ItemState.HANDED)), Optional.empty(), NOW);
        Purges.Purge other = new Purges.Purge(
                "p2",
                Optional.of("near"),
                PurgeState.RUNNING,
                "ines",
                NOW,
                "room",
                0,
                "[]",
                "h2",
                "",
                Optional.empty());
        purges.ask(other, List.of(item(1)), new Deed.Told("ines", "purge-asked", "p2", "{}"));
        assertEquals(Set.of("p1", "p2"), purges.next("near", 9).keySet());
        assertEquals(List.of(1), numbers(purges.next("near", 9)));
    }

    @Test
    void cancellingLeavesWhatAnAgentHasAndEndsTheRest() {
        purges.note("p1", List.of(outcome(1, ItemState.HANDED)), Optional.empty(), NOW);
        purges.turn("p1", PurgeState.CANCELLED, "", told("purge-cancelled"), NOW);
        assertEquals(Map.of(ItemState.HANDED, 1, ItemState.CANCELLED, 3), purges.tally("p1"));
        assertEquals(
                List.of("b1"),
                purges.items("p1", ItemState.HANDED).stream()
                        .map(Purges.Item::backup)
                        .toList());
    }

    @Test
    void onePersonApprovesOnce() {
        purges.approve(
                "p1", "tomas", PurgeState.ASKED, List.of(outcome(2, ItemState.DROPPED)), told("purge-approved"), NOW);
        assertEquals(Map.of("tomas", NOW), purges.approvals("p1"));
        assertThrows(
                StoreFailure.class,
                () -> purges.approve("p1", "tomas", PurgeState.APPROVED, List.of(), told("purge-approved"), NOW));
        assertEquals(PurgeState.ASKED, purges.find("p1").orElseThrow().state(), "nothing of the second is kept");
        assertEquals(1, purges.tally("p1").get(ItemState.DROPPED));
        assertEquals(1, store.deeds().about("p1", "purge-approved").size());
    }

    @Test
    void aCopyIsKnownToHaveBeenAskedForOnceItsListWasApprovedAndHandedOut() {
        assertEquals(Optional.empty(), purges.ofCopy("b1", "near"));
        purges.turn("p1", PurgeState.RUNNING, "", told("purge-begun"), NOW);
        assertEquals(Optional.empty(), purges.ofCopy("b1", "near"), "it still waits");
        purges.note("p1", List.of(outcome(1, ItemState.DELETED)), Optional.empty(), NOW);
        assertEquals(1, purges.ofCopy("b1", "near").orElseThrow().num());
        assertEquals(Optional.empty(), purges.ofCopy("b1", "far"));
    }

    @Test
    void outcomesAndFactsAreKeptTogetherOrNotAtAll() {
        FactStore.Delivery brought = new FactStore.Delivery() {
            @Override
            public String source() {
                return "purges";
            }

            @Override
            public Optional<Instant> newestFact() {
                return Optional.empty();
            }

            @Override
            public Optional<FactStore.PurgeOutcomes> purge() {
                return Optional.of(new FactStore.PurgeOutcomes("p1", List.of(outcome(1, ItemState.DELETED))));
            }

            @Override
            public Optional<Deed.Told> deed() {
                throw new IllegalStateException("it breaks off before the record is written");
            }
        };
        assertThrows(IllegalStateException.class, () -> store.write(catalog -> null, nothing -> brought, NOW));
        assertEquals(Map.of(ItemState.WAITING, 4), purges.tally("p1"));
    }

    @Test
    void theEndIsKeptWithWhatWasFound() {
        purges.finish("p1", "{\"equal\":true}", told("purge-done"), NOW);
        Purges.Purge done = purges.find("p1").orElseThrow();
        assertTrue(done.state().isOver());
        assertEquals(Optional.of("{\"equal\":true}"), done.after());
        assertEquals(List.of("p1"), purges.all().stream().map(Purges.Purge::id).toList());
    }
}
