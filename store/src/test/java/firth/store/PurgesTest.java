package firth.store;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Deed;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
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

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void askForFour() {
        store = FactStore.open(directory.resolve("firth.db"));
        purges = store.purges();
        ask(
                list("p1", PurgeState.ASKED),
                IntStream.rangeClosed(1, 4).mapToObj(PurgesTest::item).toList());
    }

    private static Purges.Purge list(String id, PurgeState state) {
        return new Purges.Purge(
                id, Optional.of("near"), state, "ines", NOW, "room", 1, "[]", "h", "", Optional.empty(), 1);
    }

    private void ask(Purges.Purge list, List<Purges.Item> items) {
        act(s -> s.ask(list, items, new Deed.Told("ines", "purge-asked", list.id(), "{}")));
    }

    private void act(Consumer<Purges.Steps> doing) {
        purges.act("It could not be done", steps -> {
            doing.accept(steps);
            return null;
        });
    }

    private Purges.Purge now() {
        return purges.find("p1").orElseThrow();
    }

    private void turn(PurgeState next) {
        Purges.Purge seen = now();
        act(s -> s.turn(seen, next, "", told("purge-turned"), NOW));
    }

    private void hand(int item, ItemState from, ItemState to) {
        Purges.Purge seen = now();
        act(s -> s.hand(seen, List.of(outcome(item, from, to)), Optional.empty(), NOW));
    }

    private List<Integer> next(String store, int most) {
        return purges.act("It could not be read", s -> s.next("p1", store, most)).stream()
                .map(Purges.Item::num)
                .toList();
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
                Optional.empty(),
                "");
    }

    private static Deed.Told told(String act) {
        return new Deed.Told("ines", act, "p1", "{}");
    }

    private static Purges.Outcome outcome(int n, ItemState from, ItemState to) {
        return new Purges.Outcome(n, from, to, "", OptionalDouble.empty(), "agent");
    }

    @Test
    void onlyAListThatRunsHasItemsToBeTakenAndOnlyInTheirStore() {
        assertEquals(List.of(), purges.waiting("near"));
        turn(PurgeState.RUNNING);
        assertEquals(List.of("p1"), purges.waiting("near"));
        assertEquals(List.of(1, 2), next("near", 2));
        assertEquals(List.of(4), next("far", 9));
        hand(1, ItemState.WAITING, ItemState.HANDED);
        assertEquals(List.of(1), next("near", 9), "what is out comes first");
        hand(1, ItemState.HANDED, ItemState.DELETED);
        assertEquals(List.of(2, 3), next("near", 9));
        turn(PurgeState.PAUSED);
        assertEquals(List.of(), purges.waiting("near"));
    }

    @Test
    void noListWaitsForWhatIsNotToldOfAnother() {
        turn(PurgeState.RUNNING);
        hand(1, ItemState.WAITING, ItemState.HANDED);
        ask(list("p2", PurgeState.RUNNING), List.of(item(1)));
        assertEquals(List.of("p1", "p2"), purges.waiting("near"));
    }

    @Test
    void cancellingLeavesWhatAnAgentHasAndEndsTheRest() {
        turn(PurgeState.RUNNING);
        hand(1, ItemState.WAITING, ItemState.HANDED);
        turn(PurgeState.CANCELLED);
        assertEquals(Map.of(ItemState.HANDED, 1, ItemState.CANCELLED, 3), purges.tally("p1"));
        assertEquals(
                List.of("b1"),
                purges.items("p1", ItemState.HANDED).stream()
                        .map(Purges.Item::backup)
                        .toList());
    }

    @Test
    void whoeverActsOnWhatHasChangedSinceDoesNothing() {
        turn(PurgeState.RUNNING);
        Purges.Purge seen = now();
        turn(PurgeState.CANCELLED);
        Changed late = assertThrows(
                Changed.class,
                () -> act(s -> s.hand(
                        seen,
                        List.of(outcome(1, ItemState.WAITING, ItemState.HANDED)),
                        Optional.of(told("purge-handed")),
                        NOW)));
        assertTrue(
                late.getMessage().contains("was running") && late.getMessage().contains("cancelled now"));
        assertEquals(Map.of(ItemState.CANCELLED, 4), purges.tally("p1"), "nothing was handed out");
        assertEquals(List.of(), store.deeds().about("p1", "purge-handed"));
        assertThrows(Changed.class, () -> act(s -> s.turn(seen, PurgeState.PAUSED, "", told("purge-paused"), NOW)));
    }

    @Test
    void theSameStateOfAnotherTimeIsNotTheOneThatWasSeen() {
        turn(PurgeState.RUNNING);
        Purges.Purge seen = now();
        turn(PurgeState.PAUSED);
        turn(PurgeState.RUNNING);
        assertThrows(Changed.class, () -> act(s -> s.turn(seen, PurgeState.DONE, "", told("purge-done"), NOW)));
    }

    @Test
    void anItemBecomesSomethingFromTheStateItWasSeenInAlone() {
        turn(PurgeState.RUNNING);
        hand(1, ItemState.WAITING, ItemState.HANDED);
        hand(1, ItemState.HANDED, ItemState.DELETED);
        assertThrows(Changed.class, () -> hand(1, ItemState.HANDED, ItemState.FAILED));
        Purges.Item item = purges.items("p1").get(0);
        assertEquals(ItemState.DELETED, item.state());
        assertEquals("agent", item.toldBy());
    }

    @Test
    void onePersonApprovesOnce() {
        Purges.Purge seen = now();
        act(s -> s.approve(
                seen,
                "tomas",
                PurgeState.ASKED,
                List.of(outcome(2, ItemState.WAITING, ItemState.DROPPED)),
                told("purge-approved"),
                NOW));
        assertEquals(Map.of("tomas", NOW), purges.approvals("p1"));
        assertThrows(
                StoreFailure.class,
                () -> act(s -> s.approve(now(), "tomas", PurgeState.APPROVED, List.of(), told("purge-approved"), NOW)));
        assertEquals(PurgeState.ASKED, now().state(), "nothing of the second is kept");
        assertEquals(1, purges.tally("p1").get(ItemState.DROPPED));
        assertEquals(1, store.deeds().about("p1", "purge-approved").size());
    }

    @Test
    void twoWhoApproveAtOnceCountOneAfterTheOther() throws Exception {
        CountDownLatch bothLooked = new CountDownLatch(2);
        List<Throwable> failed = new CopyOnWriteArrayList<>();
        List<Thread> people = List.of("tomas", "maren").stream()
                .map(person -> new Thread(() -> {
                    Purges.Purge seen = now();
                    bothLooked.countDown();
                    try {
                        bothLooked.await();
                        act(s -> s.approve(seen, person, PurgeState.APPROVED, List.of(), told("purge-approved"), NOW));
                    } catch (Throwable e) {
                        failed.add(e);
                    }
                }))
                .toList();
        people.forEach(Thread::start);
        for (Thread t : people) {
            t.join();
        }
        assertEquals(1, failed.size(), failed.toString());
        assertTrue(failed.get(0) instanceof Changed, failed.toString());
        assertEquals(PurgeState.APPROVED, now().state());
        assertEquals(1, purges.approvals("p1").size(), "the second looks again and is counted then");
    }

    @Test
    void whatIsReadWhileOneActsIsWhatHoldsWhenItTakesEffect() throws Exception {
        turn(PurgeState.RUNNING);
        CountDownLatch deciding = new CountDownLatch(1);
        Thread canceller = new Thread(() -> {
            try {
                deciding.await();
                act(s -> s.turn(s.find("p1").orElseThrow(), PurgeState.CANCELLED, "", told("purge-cancelled"), NOW));
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        canceller.start();
        act(s -> {
            Purges.Purge seen = s.find("p1").orElseThrow();
            deciding.countDown();
            await().until(() -> Arrays.stream(canceller.getStackTrace())
                    .anyMatch(e -> e.getMethodName().equals("lock")));
            assertEquals(PurgeState.RUNNING, purges.find("p1").orElseThrow().state(), "the other one waits");
            s.hand(seen, List.of(outcome(1, ItemState.WAITING, ItemState.HANDED)), Optional.empty(), NOW);
        });
        canceller.join();
        assertEquals(Map.of(ItemState.HANDED, 1, ItemState.CANCELLED, 3), purges.tally("p1"));
    }

    @Test
    void aCopyIsKnownToHaveBeenAskedForOnceItsListWasApprovedAndHandedOut() {
        assertEquals(Optional.empty(), purges.ofCopy("b1", "near"));
        turn(PurgeState.RUNNING);
        assertEquals(Optional.empty(), purges.ofCopy("b1", "near"), "it still waits");
        hand(1, ItemState.WAITING, ItemState.DELETED);
        assertEquals(1, purges.ofCopy("b1", "near").orElseThrow().num());
        assertEquals(Optional.empty(), purges.ofCopy("b1", "far"));
    }

    @Test
    void aCopyIsListedForAsLongAsItsListMayDeleteIt() {
        assertEquals("p1", purges.listed().get(new Purges.Listed("b1", "near")));
        turn(PurgeState.RUNNING);
        hand(1, ItemState.WAITING, ItemState.DELETED);
        assertEquals(3, purges.listed().size());
        turn(PurgeState.CANCELLED);
        assertEquals(Map.of(), purges.listed());
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
                return Optional.of(
                        new FactStore.PurgeOutcomes("p1", List.of(outcome(1, ItemState.WAITING, ItemState.DELETED))));
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
        Purges.Purge seen = now();
        act(s -> s.finish(seen, "{\"equal\":true}", told("purge-done"), NOW));
        Purges.Purge done = purges.find("p1").orElseThrow();
        assertTrue(done.state().isOver());
        assertEquals(Optional.of("{\"equal\":true}"), done.after());
        assertEquals(List.of("p1"), purges.all().stream().map(Purges.Purge::id).toList());
        assertEquals(List.of("p1"), ids(purges.latest(1)));
        assertEquals(List.of(), ids(purges.latest(0)), "it is over");
    }

    @Test
    void listsThatAreNotOverAreAmongTheLatestAndThoseOfAPeriodAreFoundToTheInstant() {
        Instant asked = now().askedAt();
        assertEquals(List.of("p1"), ids(purges.latest(0)));
        assertEquals(List.of("p1"), ids(purges.askedFrom(asked)));
        assertEquals(List.of(), ids(purges.askedFrom(asked.plusNanos(1))));
    }

    private static List<String> ids(List<Purges.Purge> lists) {
        return lists.stream().map(Purges.Purge::id).toList();
    }
}
