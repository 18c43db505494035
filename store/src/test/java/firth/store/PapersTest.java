package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.record.Deed;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PapersTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00Z");

    @TempDir
    Path directory;

    @Test
    void theNewestIsThatOfItsSortAndSubject() {
        try (FactStore store = FactStore.open(directory.resolve("firth.db"))) {
            for (String id : new String[] {"drill b 2", "drill a 3", "restore a 4", "drill a 1"}) {
                String[] of = id.split(" ");
                store.papers()
                        .keep(
                                new Papers.Paper(
                                        id, of[0], of[1], "ines", NOW.plusSeconds(Long.parseLong(of[2])), "{}"),
                                new Deed.Told("ines", of[0], id, "{}"));
            }
            assertEquals(
                    Optional.of("drill a 3"),
                    store.papers().newest("drill", "a").map(Papers.Paper::id));
            assertEquals(Optional.empty(), store.papers().newest("restore", "b"));
        }
    }
}
