package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.store.Lives.Life;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** How long findings last, as they come and go. */
class LivesTest {

    @TempDir
    private Path directory;

    private Lives lives;

    private FactStore store;

    @AfterEach
    void close() {
        store.close();
    }

    @BeforeEach
    void open() {
        store = FactStore.open(directory.resolve("f.db"));
        lives = store.lives();
    }

    private static Instant hour(int h) {
        return Instant.parse("2026-11-23T00:00:00Z").plusSeconds(3600L * h);
    }

    private void found(int hour, String... keys) {
        lives.note(
                Arrays.stream(keys)
                        .map(k -> new Life(k, hour(hour), Optional.empty(), "behind", "d", "title of " + k))
                        .toList(),
                hour(hour));
    }

    @Test
    void beginWhenFirstSeenAndEndWhenNoLongerFound() {
        found(1, "a", "b");
        found(2, "a");
        assertEquals(Set.of("a"), lives.open().keySet());
        assertEquals(hour(1), lives.open().get("a").first());
        Life b = lives.movedBetween(hour(1), hour(2)).get(0);
        assertEquals(new Life("b", hour(1), Optional.of(hour(2)), "behind", "d", "title of b"), b);
    }

    @Test
    void oneThatComesBackLivesAnew() {
        found(1, "a");
        found(2);
        found(3, "a");
        List<Life> both = lives.movedBetween(hour(0), hour(4));
        assertEquals(List.of(hour(1), hour(3)), both.stream().map(Life::first).toList());
        assertEquals(Optional.empty(), both.get(1).gone());
    }

    @Test
    void nothingMovesWhileTheSameIsFound() {
        found(1, "a");
        found(2, "a");
        found(2, "a");
        assertEquals(List.of(), lives.movedBetween(hour(1), hour(9)));
    }
}
