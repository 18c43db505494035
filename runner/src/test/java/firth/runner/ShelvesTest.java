package firth.runner;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.engines.Observer;
import firth.engines.postgres.PostgresFiles;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Supplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Over segments that a real server wrote. */
class ShelvesTest {

    private static final Instant ASKED = Instant.parse("2030-01-01T00:00:00Z");

    @TempDir
    private Path directory;

    private StoreDirectory near;
    private StoreDirectory far;
    private final List<String> said = new ArrayList<>();

    @BeforeEach
    void layOut() throws IOException {
        near = new StoreDirectory("near", Files.createDirectory(directory.resolve("near")));
        far = new StoreDirectory("far", Files.createDirectory(directory.resolve("far")));
    }

    private void lay(String major, String segment) throws IOException {
        String name = "000000010000000000000" + segment + ".gz";
        try (InputStream in =
                Objects.requireNonNull(PostgresFiles.class.getResourceAsStream("recorded/" + major + "/" + name))) {
            Files.copy(in, near.archive("harbour").resolve(name));
        }
    }

    /** A look of a program that is started for it. */
    private Shelves.Found look(String run, Optional<Instant> until) throws IOException, Trouble {
        return shelves().look(run, until, found -> {});
    }

    private Shelves shelves() {
        return shelves(() -> new Observer(List.of(new PostgresFiles())));
    }

    private Shelves shelves(Supplier<Observer> observer) {
        return new Shelves(
                "harbour", observer, List.of(near, far), Optional.empty(), directory, Clock.systemUTC(), said::add);
    }

    private static List<String> runs(List<ObjectNode> backups) {
        return backups.stream().map(b -> b.path("run").asText()).toList();
    }

    @Test
    void whatIsNewBelongsToTheRunAndIsToldOnce() throws Exception {
        lay("17", "007");
        assertEquals(List.of("r1"), runs(look("r1", Optional.empty()).brought()));
        assertEquals(List.of(), look("r2", Optional.empty()).untold());
        lay("17", "008");
        Shelves.Found found = look("r3", Optional.empty());
        assertEquals(List.of("r3"), runs(found.brought()));
        assertEquals(2, found.untold().size(), "the one before is complete until later now: " + found.untold());
        assertEquals(List.of("r1", "r3"), runs(found.untold()));
        assertEquals(List.of(), said);
    }

    @Test
    void whatTheServerSaidOfItsLastLogStaysTrue() throws Exception {
        lay("17", "007");
        ObjectNode log = look("r1", Optional.of(ASKED)).untold().get(0);
        assertEquals(ASKED.toString(), log.path("toTime").asText());
        assertEquals(List.of(), look("r2", Optional.empty()).untold(), "and is not taken back");
        shelves().copyTo(far, Throttle.NONE);
        ObjectNode copied = look("r2", Optional.empty()).untold().get(0);
        assertEquals(ASKED.toString(), copied.path("toTime").asText());
        assertEquals(2, copied.path("copies").size());
        assertEquals("r1", copied.path("run").asText());
    }

    @Test
    void whatIsBeingRenamedWhileTheStoreIsListedIsNotGone() throws Exception {
        lay("17", "007");
        lay("17", "008");
        look("r1", Optional.empty());
        Path archive = near.archive("harbour");
        Path whole = archive.resolve("000000010000000000000008.gz");
        Path aside = archive.resolve("aside");
        Files.move(whole, aside);
        AtomicInteger looks = new AtomicInteger();
        Supplier<Observer> sees = () -> {
            if (looks.incrementAndGet() == 2) {
                assertDoesNotThrow(() -> Files.move(aside, whole));
            }
            return new Observer(List.of(new PostgresFiles()));
        };
        assertEquals(
                List.of(),
                shelves(sees).look("r2", Optional.empty(), found -> {}).untold());
        assertEquals(2, looks.get());
        Files.delete(whole);
        List<ObjectNode> untold =
                shelves(sees).look("r3", Optional.empty(), found -> {}).untold();
        ObjectNode gone = untold.get(untold.size() - 1);
        assertTrue(gone.path("copies").path(0).has("gone"), "what is missed twice is gone: " + gone);
    }

    @Test
    void whatCouldNotBeToldIsToldTheNextTime() throws Exception {
        lay("17", "007");
        assertThrows(
                Trouble.class,
                () -> shelves().look("r1", Optional.empty(), found -> {
                    throw new Trouble("nobody listens");
                }));
        assertEquals(List.of("r2"), runs(look("r2", Optional.empty()).brought()));
    }

    @Test
    void backupsOfTwoServersInOnePlaceAreATrouble() throws Exception {
        lay("17", "007");
        lay("16", "008");
        Trouble e = assertThrows(Trouble.class, () -> look("r", Optional.empty()));
        assertTrue(e.why().contains("lie backups of 2 databases"), e.why());
    }

    @Test
    void aStoreThatIsEmptyAllAtOnceIsNotMountedAndNothingOfItIsGone() throws Exception {
        lay("17", "007");
        look("r1", Optional.empty());
        StoreDirectory.remove(near.root());
        Files.createDirectory(near.root());
        assertEquals(List.of(), look("r2", Optional.empty()).untold());
        assertTrue(said.get(0).startsWith("Nothing was found in the store near"), said.toString());
    }
}
