package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Chain;
import firth.core.record.Deed;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The record is written with what it tells of, one entry after the other, and never altered. */
class DeedsTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00.123Z");

    @TempDir
    Path directory;

    private Path file;
    private FactStore store;

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void open() {
        file = directory.resolve("firth.db");
        store = FactStore.open(file);
    }

    private void enrol(String id) {
        store.people()
                .put(
                        new People.Person(id, id, Optional.empty(), Set.of("viewer"), false, 0, Optional.empty()),
                        new Deed.Told("root", "person", id, "{}"),
                        NOW);
    }

    private record Brought(Optional<Instant> newestFact, Optional<Deed.Told> deed) implements FactStore.Delivery {
        @Override
        public String source() {
            return "test";
        }
    }

    private Chain walked() {
        Chain chain = new Chain();
        store.deeds().all(chain::add);
        return chain;
    }

    @Test
    void manyWhoWriteAtOnceMakeOneChain() throws InterruptedException, ExecutionException {
        ExecutorService writers = Executors.newFixedThreadPool(4);
        List<Future<?>> written = new ArrayList<>();
        for (int n = 0; n < 40; n++) {
            String id = "p" + n;
            written.add(writers.submit(() -> enrol(id)));
        }
        for (Future<?> w : written) {
            w.get();
        }
        writers.shutdown();
        Chain chain = walked();
        assertEquals(40, chain.length());
        assertTrue(chain.broken().isEmpty());
        assertEquals(40, store.people().all().size());
    }

    @Test
    void whatWasNotDoneIsNotInIt() throws IOException {
        Brought told = new Brought(Optional.empty(), Optional.of(new Deed.Told("ines", "import", "x", "{}")));
        assertThrows(
                IOException.class,
                () -> store.write(
                        catalog -> {
                            throw new IOException("broken off");
                        },
                        nothing -> told,
                        NOW));
        assertEquals(0, walked().length());
        store.write(catalog -> null, nothing -> told, NOW);
        assertEquals(1, walked().length());
    }

    @Test
    void theFileRefusesToAlterOrForgetAnEntry() throws SQLException {
        enrol("ines");
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file)) {
            for (String sql : List.of("UPDATE deed SET who = 'nobody'", "DELETE FROM deed")) {
                SQLException refused = assertThrows(
                        SQLException.class, () -> connection.createStatement().executeUpdate(sql));
                assertTrue(refused.getMessage().contains("only added to"), refused.getMessage());
            }
        }
        assertEquals(1, walked().length());
    }

    @Test
    void entriesAreFoundByWordsAndPageByPage() {
        for (String id : List.of("ines", "tomas", "maren")) {
            enrol(id);
        }
        assertEquals(
                List.of(3L, 2L),
                store.deeds().before(Long.MAX_VALUE, "", 2).stream()
                        .map(Deed::number)
                        .toList());
        assertEquals(
                List.of(1L),
                store.deeds().before(2, "", 2).stream().map(Deed::number).toList());
        assertEquals(
                "tomas", store.deeds().before(Long.MAX_VALUE, "TOMAS", 9).get(0).about());
        assertEquals(List.of(), store.deeds().before(Long.MAX_VALUE, "nobody", 9));
        assertEquals(NOW, store.deeds().about("ines", "person").get(0).at());
    }
}
