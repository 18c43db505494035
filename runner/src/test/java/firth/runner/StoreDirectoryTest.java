package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
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

    @Test
    void whatATryLeftThatWasKilledIsTakenAway() throws IOException {
        Path aside = Files.createDirectory(directory.resolve(".firth-part"));
        Path left = Files.writeString(aside.resolve("probe-1-1"), "");
        Path going = Files.writeString(aside.resolve("probe-2-1"), "");
        Path backup = Files.writeString(aside.resolve("harbour-base"), "");
        for (Path old : List.of(left, backup)) {
            Files.setLastModifiedTime(old, FileTime.from(Instant.now().minusSeconds(90)));
        }
        assertEquals(Optional.empty(), new StoreDirectory("near", directory).refusal());
        assertEquals(
                List.of(false, true, true), List.of(Files.exists(left), Files.exists(going), Files.exists(backup)));
    }
}
