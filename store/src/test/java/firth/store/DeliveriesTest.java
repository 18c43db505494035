package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.record.Chain;
import firth.core.record.Deed;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What programs deliver is one entry of the record a source and hour. */
class DeliveriesTest {

    private static final Instant HOUR = Instant.parse("2026-11-24T10:00:00Z");

    @TempDir
    private Path directory;

    private FactStore facts;

    @BeforeEach
    void open() {
        facts = FactStore.open(directory.resolve("firth.db"));
    }

    @AfterEach
    void close() {
        facts.close();
    }

    private record Told(String source, Optional<Instant> newestFact, Optional<Deliveries.Came> came)
            implements FactStore.Delivery {}

    private void deliver(String source, long added, String digest, Instant at) throws IOException {
        Deliveries.Came came = new Deliveries.Came("runner " + source, source, added + 1, added, 0, 1, digest);
        facts.write(catalog -> came, c -> new Told(source, Optional.empty(), Optional.of(c)), at);
    }

    private List<Deed> record() {
        List<Deed> out = new ArrayList<>();
        facts.deeds().all(out::add);
        Chain chain = new Chain();
        out.forEach(chain::add);
        assertEquals(Optional.empty(), chain.broken());
        return out;
    }

    private List<String> entered() {
        return record().stream().map(d -> d.about() + " " + d.detail()).toList();
    }

    @Test
    void manyOfAnHourAreOneEntryWhenItIsOver() throws IOException {
        deliver("north-1", 3, "aa", HOUR.plusSeconds(5));
        deliver("north-1", 4, "bb", HOUR.plusSeconds(900));
        deliver("south-1", 1, "cc", HOUR.plusSeconds(901));
        assertEquals(List.of(), entered(), "the hour is not over");
        assertEquals(
                List.of("north-1 2 7", "south-1 1 1"),
                facts.deliveries().open().stream()
                        .map(h -> h.source() + " " + h.deliveries() + " " + h.added())
                        .toList());
        facts.deliveries().enter(HOUR.plusSeconds(3_599));
        assertEquals(List.of(), entered());
        facts.deliveries().enter(HOUR.plusSeconds(3_600));
        assertEquals(
                List.of(
                        "north-1 {\"first\":\"2026-11-24T10:00:05Z\",\"last\":\"2026-11-24T10:15:00Z\",\"deliveries\":2,\"lines\":9,"
                                + "\"added\":7,\"updated\":0,\"rejected\":2,\"digest\":\"" + AABB + "\"}",
                        "south-1 {\"first\":\"2026-11-24T10:15:01Z\",\"last\":\"2026-11-24T10:15:01Z\",\"deliveries\":1,\"lines\":2,"
                                + "\"added\":1,\"updated\":0,\"rejected\":1,\"digest\":\"cc\"}"),
                entered());
        assertEquals(List.of(), facts.deliveries().open());
        facts.deliveries().enter(HOUR.plusSeconds(9_000));
        assertEquals(2, record().size(), "nothing is entered twice");
    }

    /** SHA-256 of the text aabb. */
    private static final String AABB = sha256("aabb");

    private static String sha256(String text) {
        Function<String, byte[]> bytes = t -> t.getBytes(java.nio.charset.StandardCharsets.US_ASCII);
        try {
            return java.util.HexFormat.of()
                    .formatHex(
                            java.security.MessageDigest.getInstance("SHA-256").digest(bytes.apply(text)));
        } catch (java.security.NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void theFirstDeliveryOfTheNextHourEntersTheOneBefore() throws IOException {
        deliver("north-1", 3, "aa", HOUR.plusSeconds(5));
        deliver("north-1", 2, "bb", HOUR.plusSeconds(3_700));
        assertEquals(1, record().size());
        assertEquals(2, facts.deliveries().open().get(0).added());
        assertEquals(HOUR.plusSeconds(3_700), record().get(0).at());
    }
}
