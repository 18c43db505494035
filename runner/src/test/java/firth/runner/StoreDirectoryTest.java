package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A directory that is asked whether it takes what is written. */
class StoreDirectoryTest {

    @TempDir
    private Path directory;

    @Test
    void severalMayAskAtOneMoment() throws IOException {
        StoreDirectory store = new StoreDirectory("near", directory);
        List<Optional<String>> refusals = IntStream.range(0, 400)
                .parallel()
                .mapToObj(n -> store.refusal())
                .filter(Optional::isPresent)
                .toList();
        assertEquals(List.of(), refusals);
        try (Stream<Path> left = Files.list(directory.resolve(".firth-part"))) {
            assertEquals(List.of(), left.toList());
        }
    }

    @Test
    void whereItIsNotItTakesNothing() {
        StoreDirectory gone = new StoreDirectory("near", directory.resolve("gone"));
        assertTrue(gone.refusal().orElseThrow().contains("is not there"));
    }
}
