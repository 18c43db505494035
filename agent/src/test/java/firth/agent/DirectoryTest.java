package firth.agent;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import firth.agent.Directory.Limits;
import firth.agent.Storage.Doomed;
import firth.agent.Storage.Outcome.Word;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A real directory, with the locks of its file system. */
class DirectoryTest extends StorageContract {

    @Override
    protected Storage storage(Path home) throws IOException {
        return Directory.at(home.resolve("files"), home.resolve("sums"), Limits.NONE);
    }

    private static boolean ran(String... command) throws InterruptedException {
        try {
            return new ProcessBuilder(command).start().waitFor() == 0;
        } catch (IOException notInstalled) {
            return false;
        }
    }

    @Override
    protected boolean lock(Path home, String path) throws InterruptedException {
        return ran("chattr", "+i", home.resolve("files" + path).toString());
    }

    @Override
    protected void unlock(Path home) throws InterruptedException {
        ran("chattr", "-R", "-i", home.toString());
    }

    @Test
    void whatADirectoryKeepsStays() throws Exception {
        Path root = Files.createDirectories(directory.resolve("kept/files"));
        Files.writeString(root.resolve("a"), "abc");
        assumeTrue(ran("chattr", "+i", root.toString()), "no directory can be locked here");
        try {
            Storage storage = storage(directory.resolve("kept"));
            Intents intents = new Intents(directory.resolve("kept-intents"));
            assertEquals(
                    Word.LOCKED,
                    storage.delete(new Doomed("p 1", "/a", 3, ""), intents).word());
            Storage.Room room = storage.room();
            assertFalse(room.writable().orElseThrow());
            assertEquals("Operation not permitted", room.trouble());
            assertEquals(Lock.Manner.IMMUTABLE, room.locks());
        } finally {
            ran("chattr", "-i", root.toString());
        }
    }

    @Test
    void whatCannotBePutRightKeepsNothingElseFromBeingDone() throws Exception {
        Path root = Files.createDirectories(directory.resolve("stuck/files"));
        Files.writeString(root.resolve("b"), "b");
        Path left = Files.createDirectories(root.resolve(".firth-going-x"));
        Files.writeString(left.resolve("1"), "page");
        Path notes = directory.resolve("stuck-intents");
        Intents before = new Intents(notes);
        before.aside(new Doomed("p 1", "/a", 4, ""), ".firth-going-x", 4);
        before.reached("p 1", Intents.Stage.GOING);
        assumeTrue(ran("chattr", "+i", left.resolve("1").toString()), "no file can be locked here");
        try {
            Storage storage = storage(directory.resolve("stuck"));
            Intents intents = new Intents(notes);
            storage.recover(intents);
            Storage.Outcome told = storage.delete(new Doomed("p 1", "/a", 4, ""), intents);
            assertEquals(Word.DELETED, told.word());
            assertTrue(told.text().startsWith("part of it is left as .firth-going-x"), told.text());
            assertEquals(
                    Word.DELETED,
                    storage.delete(new Doomed("p 2", "/b", 1, ""), intents).word());
            intents.told(List.of("p 1", "p 2"));
        } finally {
            ran("chattr", "-R", "-i", root.toString());
        }
        Intents intents = new Intents(notes);
        storage(directory.resolve("stuck")).recover(intents);
        assertFalse(Files.exists(left), "it goes as soon as it can");
    }

    @Test
    void aMountThatCanOnlyBeReadIsALockAndAnotherFileSystemIsNotEntered() throws Exception {
        Path home = directory.resolve("mounted");
        Path inner = Files.createDirectories(home.resolve("files/inner"));
        assumeTrue(ran("mount", "-t", "tmpfs", "none", inner.toString()), "nothing can be mounted here");
        try {
            Files.writeString(inner.resolve("a"), "abc");
            Intents intents = new Intents(directory.resolve("mount-intents"));
            Storage around = storage(home);
            assertEquals(
                    "another file system is mounted at " + inner.toRealPath(),
                    around.delete(new Doomed("p 1", "/inner/a", 3, ""), intents).text());
            around.list(
                    false,
                    e -> assertEquals("/inner unseen", e.path() + (e.size().isEmpty() ? " unseen" : "")));
            assertTrue(ran("mount", "-o", "remount,ro", inner.toString()));
            Storage own = Directory.at(inner, directory.resolve("own-sums"), Limits.NONE);
            assertEquals(
                    Word.LOCKED,
                    own.delete(new Doomed("p 2", "/a", 3, ""), intents).word());
            own.list(false, e -> assertEquals(Lock.Manner.READ_ONLY, e.lock().manner()));
            assertEquals("Read-only file system", own.room().trouble());
        } finally {
            ran("umount", inner.toString());
        }
    }

    @Test
    void whereNothingTellsOfAttributesNothingIsTold() throws Exception {
        Locks silent = new AttributeLocks("/nonexistent/lsattr");
        assertEquals(Lock.UNKNOWN, silent.in("", directory).apply("a"));
    }

    @Test
    void writesNothingWhereItIsNotTo() throws Exception {
        Path root = Files.createDirectories(directory.resolve("quiet"));
        Storage storage = Directory.at(root, directory.resolve("quiet-sums"), new Limits(0, 0, false));
        storage.lay("a.txt", "a");
        assertTrue(storage.room().writable().isEmpty());
        try (var all = Files.list(root)) {
            assertEquals(0, all.count());
        }
    }

    @Test
    void neverWorksOnTheWholeMachine() {
        assertThrows(IOException.class, () -> storage(Path.of("/nonexistent")));
        assertThrows(IOException.class, () -> Directory.at(Path.of("/"), directory.resolve("s"), Limits.NONE));
    }

    @Test
    void mountsAreReadWithTheBlanksOfTheirNames() {
        List<String> table = List.of(
                "36 35 98:0 / /srv rw - ext4 /dev/a rw",
                "37 36 98:1 / /srv/near\\040quay/x rw - ext4 /dev/b rw",
                "38 35 98:2 / /srv2 rw - ext4 /dev/c rw");
        assertEquals(List.of(Path.of("/srv/near quay/x")), Mounts.below(Path.of("/srv"), table));
    }

    @Test
    void aRateIsKept() throws Exception {
        Rate rate = new Rate(1000);
        long begun = System.nanoTime();
        for (int n = 0; n < 4; n++) {
            rate.spend(20);
        }
        assertTrue(Duration.ofNanos(System.nanoTime() - begun).toMillis() >= 59, "60 before the fourth twenty");
    }
}
