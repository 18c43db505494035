package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.record.Deed;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Nothing is lost and nothing is sent twice. */
class OutboxTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00Z");

    @TempDir
    Path directory;

    private Outbox outbox;

    private FactStore store;

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void open() {
        store = FactStore.open(directory.resolve("firth.db"));
        outbox = store.outbox();
    }

    private static Outbox.Message message(String id, Instant next) {
        return new Outbox.Message(id, "l", "mail", "title " + id, "{}", NOW, "waiting", 0, next, "");
    }

    private static List<String> ids(List<Outbox.Message> messages) {
        return messages.stream().map(Outbox.Message::id).toList();
    }

    @Test
    void aMessageIsTakenOnceHoweverOftenItIsAdded() {
        outbox.add(List.of(message("a", NOW), message("b", NOW.plusSeconds(60))));
        outbox.add(List.of(message("a", NOW)));
        assertEquals(List.of("a"), ids(outbox.take(NOW, 10)));
        assertEquals(List.of(), ids(outbox.take(NOW, 10)));
        outbox.add(List.of(message("a", NOW)));
        assertEquals(List.of(), ids(outbox.take(NOW, 10)));
        assertEquals(List.of("b"), ids(outbox.take(NOW.plusSeconds(60), 10)));
    }

    @Test
    void aFailureIsTriedAgainAndTold() {
        outbox.add(List.of(message("a", NOW)));
        Outbox.Message taken = outbox.take(NOW, 10).get(0);
        outbox.tell(taken, "waiting", NOW.plusSeconds(30), "nobody answered");
        assertEquals(List.of("a"), ids(outbox.troubled(NOW)));
        assertEquals(List.of(), ids(outbox.take(NOW.plusSeconds(29), 10)));
        Outbox.Message again = outbox.take(NOW.plusSeconds(30), 10).get(0);
        assertEquals(1, again.tries());
        outbox.tell(again, "sent", NOW, "");
        assertEquals(List.of(), outbox.troubled(NOW));
        assertEquals("sent", outbox.newest(5).get(0).state());
        assertEquals(2, outbox.newest(5).get(0).tries());
    }

    @Test
    void whatWasBeingSentAsFirthEndedIsNotSentAgain() {
        outbox.add(List.of(message("a", NOW)));
        outbox.take(NOW, 10);
        outbox.forgetSending();
        assertEquals(List.of(), outbox.take(NOW.plusSeconds(9_000), 10));
        assertEquals("unknown", outbox.troubled(NOW).get(0).state());
    }

    @Test
    void aListKeepsSinceWhenItIsThere() {
        Deed.Told deed = new Deed.Told("ines", "sending-list", "l", "{}");
        outbox.put(new Outbox.SendingList("l", NOW, "{\"a\":1}"), deed, NOW);
        outbox.put(new Outbox.SendingList("l", NOW.plusSeconds(60), "{\"a\":2}"), deed, NOW);
        assertEquals(List.of(new Outbox.SendingList("l", NOW, "{\"a\":2}")), outbox.lists());
        outbox.remove("l", deed, NOW);
        assertEquals(List.of(), outbox.lists());
    }
}
