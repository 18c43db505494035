package firth.store;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Deed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Firth's own file, copied while it is written to, and brought back. */
class OwnCopiesTest {

    private static final Instant NOW = Instant.parse("2026-11-20T09:00:00Z");

    @TempDir
    Path directory;

    private final List<FactStore> opened = new ArrayList<>();

    @AfterEach
    void close() {
        opened.forEach(FactStore::close);
    }

    private FactStore open(String name) {
        return open(directory.resolve(name));
    }

    private FactStore open(Path file) {
        opened.add(FactStore.open(file));
        return opened.get(opened.size() - 1);
    }

    private static void keepPaper(FactStore store, int n) {
        store.papers()
                .keep(
                        new Papers.Paper("p" + n, "report", "", "ines", NOW.plusSeconds(n), "{}"),
                        new Deed.Told("ines", "report", "p" + n, "{}"));
    }

    @Test
    void noCopyTakesThePlaceOfAFileThatIsServed() {
        FactStore store = open("firth.db");
        keepPaper(store, 1);
        OwnCopies.OwnCopy copy = store.ownCopies(directory.resolve("copies")).write(NOW, 3);
        keepPaper(store, 2);
        Path file = directory.resolve("firth.db");
        FileHold served = FileHold.of(file);
        try {
            StoreFailure second = assertThrows(StoreFailure.class, () -> FileHold.of(file));
            assertTrue(second.getMessage().contains("Stop it first"), second.getMessage());
            assertThrows(StoreFailure.class, () -> OwnCopies.restore(copy.file(), file, NOW));
            assertEquals(2, store.papers().all("report").size());
        } finally {
            served.close();
        }
        assertTrue(OwnCopies.restore(copy.file(), file, NOW).isPresent());
        assertEquals(1, open("firth.db").papers().all("report").size());
    }

    @Test
    void aCopyTakenWhileOthersWriteIsWholeAndHoldsWhatWasThere() throws Exception {
        FactStore store = open("firth.db");
        for (int n = 0; n < 50; n++) {
            keepPaper(store, n);
        }
        AtomicBoolean stop = new AtomicBoolean();
        Thread writer = new Thread(() -> {
            for (int n = 50; !stop.get(); n++) {
                keepPaper(store, n);
            }
        });
        writer.start();
        OwnCopies.OwnCopy copy = store.ownCopies(directory.resolve("copies")).write(NOW, 3);
        stop.set(true);
        writer.join();
        FactStore read = open(copy.file());
        assertTrue(read.papers().all("report").size() >= 50);
        int[] deeds = {0};
        read.deeds().all(d -> deeds[0]++);
        assertEquals(read.papers().all("report").size(), deeds[0], "each with its entry in the record");
    }

    @Test
    void aFewAreKeptAndOtherFilesLeftAlone() throws IOException {
        FactStore store = open("firth.db");
        Path copies = directory.resolve("copies");
        Files.createDirectories(copies);
        Files.writeString(copies.resolve("firth-notes.db"), "mine");
        for (int hour = 0; hour < 5; hour++) {
            store.ownCopies(copies).write(NOW.plus(Duration.ofHours(hour)), 2);
        }
        List<OwnCopies.OwnCopy> left = store.ownCopies(copies).all();
        assertEquals(
                List.of(NOW.plus(Duration.ofHours(4)), NOW.plus(Duration.ofHours(3))),
                left.stream().map(OwnCopies.OwnCopy::made).toList());
        assertTrue(Files.exists(copies.resolve("firth-notes.db")));
        assertEquals(List.of(), store.ownCopies(directory.resolve("none")).all());
    }

    @Test
    void whereItCannotBeWrittenThatIsSaidAndNothingIsLeft() throws IOException {
        FactStore store = open("firth.db");
        Path file = Files.writeString(directory.resolve("a file"), "");
        assertThrows(StoreFailure.class, () -> store.ownCopies(file).write(NOW, 2));
        assertEquals("", Files.readString(file));
    }

    @Test
    void aCopyTakesThePlaceOfWhatWasThereWhichIsKept() throws IOException {
        FactStore store = open("firth.db");
        keepPaper(store, 1);
        Path copy = store.ownCopies(directory.resolve("copies")).write(NOW, 2).file();
        keepPaper(store, 2);
        Optional<Path> aside = OwnCopies.restore(copy, directory.resolve("firth.db"), NOW);
        assertEquals(1, open("firth.db").papers().all("report").size());
        assertEquals(2, open(aside.orElseThrow()).papers().all("report").size());
        assertEquals(Optional.empty(), OwnCopies.restore(copy, directory.resolve("new/firth.db"), NOW));
        assertEquals(1, open("new/firth.db").papers().all("report").size());
    }

    @Test
    void whatIsNotWholeTakesNoPlace() throws IOException {
        FactStore store = open("firth.db");
        keepPaper(store, 1);
        Path copy = store.ownCopies(directory.resolve("copies")).write(NOW, 2).file();
        byte[] bytes = Files.readAllBytes(copy);
        for (int k = 5_000; k < 12_000; k++) {
            bytes[k] = 7;
        }
        Path broken = Files.write(directory.resolve("broken.db"), bytes);
        Path foreign = Files.writeString(directory.resolve("foreign.db"), "a letter");
        for (Path bad : List.of(broken, foreign, directory.resolve("nowhere.db"))) {
            assertThrows(
                    StoreFailure.class, () -> OwnCopies.restore(bad, directory.resolve("firth.db"), NOW), "" + bad);
        }
        assertEquals(1, open("firth.db").papers().all("report").size());
        try (Stream<Path> files = Files.list(directory)) {
            assertFalse(files.anyMatch(f -> f.toString().contains("before")));
        }
    }
}
