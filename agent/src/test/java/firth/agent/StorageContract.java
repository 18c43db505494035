package firth.agent;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import firth.agent.Storage.Doomed;
import firth.agent.Storage.Entry;
import firth.agent.Storage.Outcome;
import firth.agent.Storage.Outcome.Word;
import firth.core.stocktake.MemberSum;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What every store has to do for its agent, be it real or made up: whatever happens, nothing goes but what was written there and is asked for. */
public abstract class StorageContract {

    private static final String ABC = "sha256:ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";

    @TempDir
    Path directory;

    private Path root;
    private Path notes;
    private Intents intents;
    private Storage storage;

    /** The store whose files lie below {@code home/files}. */
    protected abstract Storage storage(Path home) throws IOException;

    /** Locks a file, at a path from the root; false where that cannot be done here. */
    protected abstract boolean lock(Path home, String path) throws IOException, InterruptedException;

    /** Takes all locks off again. */
    protected abstract void unlock(Path home) throws IOException, InterruptedException;

    @BeforeEach
    void begin() throws IOException {
        root = Files.createDirectories(directory.resolve("store/files"));
        notes = directory.resolve("intents");
        intents = new Intents(notes);
        write("/d/abc", "abc");
        write("/d/long", "longer than abc");
        write("/base/backup_label", "where");
        write("/base/data/1", "page");
        storage = storage(directory.resolve("store"));
    }

    private void write(String path, String content) throws IOException {
        Path file = at(path);
        Files.createDirectories(file.getParent());
        Files.writeString(file, content);
    }

    private Path at(String path) {
        return root.resolve(path.substring(1));
    }

    private boolean lies(String path) {
        return Files.exists(at(path), LinkOption.NOFOLLOW_LINKS);
    }

    private Outcome delete(String path, long bytes, String checksum) throws IOException, InterruptedException {
        return storage.delete(new Doomed("p 1", path, bytes, checksum), intents);
    }

    private Map<String, Entry> listed(boolean sums) throws IOException, InterruptedException {
        Map<String, Entry> out = new TreeMap<>();
        storage.list(sums, e -> out.put(e.path(), e));
        return out;
    }

    /** What the directory of a store holds, of the agent's own as well. */
    private List<String> names(String path) throws IOException {
        try (var all = Files.list(at(path))) {
            return all.map(p -> p.getFileName().toString()).sorted().collect(Collectors.toList());
        }
    }

    @Test
    void listsEveryFileWithItsSizeAndWhatItAddsUpToWhenAsked() throws Exception {
        Map<String, Entry> plain = listed(false);
        assertEquals(List.of("/base/backup_label", "/base/data/1", "/d/abc", "/d/long"), List.copyOf(plain.keySet()));
        assertEquals(OptionalLong.of(3), plain.get("/d/abc").size());
        assertTrue(plain.get("/d/abc").checksum().isEmpty());
        assertEquals(ABC, listed(true).get("/d/abc").checksum().orElseThrow());
    }

    @Test
    void readsAFileThatChangedOnceMore() throws Exception {
        write("/d/abc", "abd");
        String before = listed(true).get("/d/abc").checksum().orElseThrow();
        Files.delete(at("/d/abc"));
        write("/d/abc", "abc");
        Files.setLastModifiedTime(at("/d/abc"), java.nio.file.attribute.FileTime.fromMillis(1_000_000));
        assertFalse(before.equals(ABC));
        assertEquals(ABC, listed(true).get("/d/abc").checksum().orElseThrow());
    }

    @Test
    void aLinkIsThereAndNotLookedInto() throws Exception {
        Path outside = Files.createDirectories(directory.resolve("outside"));
        Files.writeString(outside.resolve("x"), "x");
        Files.createSymbolicLink(at("/linked"), outside);
        Map<String, Entry> listed = listed(false);
        assertEquals(OptionalLong.empty(), listed.get("/linked").size());
        assertFalse(listed.containsKey("/linked/x"));
    }

    @Test
    void aListingThatIsNotWholeIsNone() throws Exception {
        Path moved = Files.move(root, directory.resolve("elsewhere"));
        Files.createDirectories(root);
        assertThrows(IOException.class, () -> listed(false), "an empty directory where the store was mounted");
        assertTrue(Files.exists(moved.resolve("d/abc")));
    }

    @Test
    void deletesWhatWasWrittenAndTellsWhatWasFreed() throws Exception {
        assertEquals(new Outcome(Word.DELETED, 3, ""), delete("/d/abc", 3, ABC));
        assertEquals(List.of("long"), names("/d"));
    }

    @Test
    void deletesADirectoryWithItsMembersAndNothingBesideIt() throws Exception {
        write("/base2/1", "x");
        assertEquals(new Outcome(Word.DELETED, 9, ""), delete("/base/", 9, "manifest:x"));
        assertFalse(lies("/base"));
        assertTrue(lies("/base2/1"));
    }

    @Test
    void deletesNoDirectoryThatIsLargerOrOfUnknownSize() throws Exception {
        assertEquals(
                "it is a directory, and nobody said how large it is",
                delete("/base", 0, "").text());
        assertEquals(
                "it is not as large as it was written", delete("/base", 5, "").text());
        assertTrue(lies("/base/data/1"));
    }

    @Test
    void deletesNoDirectoryWhoseMembersAreOthers() throws Exception {
        String sum = MemberSum.of(Map.of("backup_label", 5L, "data/1", 4L));
        write("/base/data/2", "");
        assertEquals(
                "its files are not those that were written",
                delete("/base", 9, sum).text());
        Files.delete(at("/base/data/2"));
        Files.move(at("/base/data/1"), at("/base/data/3"));
        assertEquals(
                "its files are not those that were written",
                delete("/base", 9, sum).text());
        Files.move(at("/base/data/3"), at("/base/data/1"));
        assertEquals(new Outcome(Word.DELETED, 9, ""), delete("/base", 9, sum));
    }

    @Test
    void deletesNothingThatIsNotTheFileThatWasWritten() throws Exception {
        assertEquals(
                "it is not as large as it was written", delete("/d/abc", 4, "").text());
        assertEquals("its checksum is another", delete("/d/long", 15, ABC).text());
        assertEquals(List.of("abc", "long"), names("/d"));
    }

    @Test
    void whatIsNotThereIsMissing() throws Exception {
        assertEquals(Word.MISSING, delete("/d/none", 3, "").word());
        assertEquals(Word.MISSING, delete("/none/abc", 3, "").word());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "/",
                "..",
                "/../outside/x",
                "/d/../../outside/x",
                "/d//abc",
                "/./d/abc",
                "/recovery-sheets/a.txt",
                "/d/.firth-x"
            })
    void deletesNothingAtAPathThatIsNotStrictlyBelowItsRootOrIsItsOwn(String path) throws Exception {
        Files.createDirectories(directory.resolve("outside"));
        Files.writeString(directory.resolve("outside/x"), "abc");
        write("/recovery-sheets/a.txt", "abc");
        write("/d/.firth-x", "abc");
        assertEquals(Word.FAILED, delete(path, 3, "").word());
        assertTrue(Files.exists(directory.resolve("outside/x")));
        assertTrue(lies("/d/abc") && lies("/recovery-sheets/a.txt") && lies("/d/.firth-x"));
    }

    @Test
    void followsNoLink() throws Exception {
        Path outside = Files.createDirectories(directory.resolve("outside"));
        Files.writeString(outside.resolve("abc"), "abc");
        Files.createSymbolicLink(at("/linked"), outside);
        Files.createSymbolicLink(at("/d/link"), outside.resolve("abc"));
        assertEquals(
                "a link lies on the way to it", delete("/linked/abc", 3, "").text());
        assertEquals(Word.FAILED, delete("/d/link", 3, "").word());
        Files.createSymbolicLink(at("/base/spaces"), outside);
        assertEquals(Word.DELETED, delete("/base", 9, "").word());
        assertTrue(Files.exists(outside.resolve("abc")), "a link in a directory goes, what it leads to stays");
    }

    @Test
    void whatIsExchangedAfterItWasLookedAtStays() throws Exception {
        intents = new Intents(notes) {
            @Override
            void aside(Doomed what, String aside, long bytes) throws IOException {
                super.aside(what, aside, bytes);
                Files.writeString(at("/d/new"), "new");
                Files.move(at("/d/new"), at("/d/abc"), java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            }
        };
        assertEquals(
                "it changed while it was looked at", delete("/d/abc", 3, ABC).text());
        assertEquals("new", Files.readString(at("/d/abc")));
        assertEquals(List.of("abc", "long"), names("/d"));
    }

    @Test
    void whoPutsALinkInThePlaceOfADirectoryLeadsNobodyOut() throws Exception {
        Path outside = Files.createDirectories(directory.resolve("outside"));
        Files.writeString(outside.resolve("abc"), "abc");
        intents = new Intents(notes) {
            @Override
            void aside(Doomed what, String aside, long bytes) throws IOException {
                super.aside(what, aside, bytes);
                Files.move(at("/d"), at("/was-d"));
                Files.createSymbolicLink(at("/d"), outside);
            }
        };
        assertEquals(Word.DELETED, delete("/d/abc", 3, ABC).word(), "the one that was looked at goes");
        assertTrue(Files.exists(outside.resolve("abc")));
        assertEquals(List.of("long"), names("/was-d"));
    }

    @Test
    void whatIsLockedStays() throws Exception {
        Path home = directory.resolve("store");
        assumeTrue(lock(home, "/d/abc"), "no file can be locked here");
        try {
            assertEquals(Word.LOCKED, delete("/d/abc", 3, "").word());
            assertTrue(lies("/d/abc"));
            assertTrue(listed(false).get("/d/abc").lock().holdsAt(java.time.Instant.now()));
            assertEquals(Lock.NONE, listed(false).get("/d/long").lock());
            assertTrue(lock(home, "/base/data/1"));
            assertEquals(Word.LOCKED, delete("/base", 9, "").word(), "a member keeps its directory");
            assertTrue(lies("/base/backup_label"));
        } finally {
            unlock(home);
        }
    }

    /** The death of the agent. */
    private static final class Death extends Error {
        private static final long serialVersionUID = 1;
    }

    /** Whenever it dies: after it was started again the file is in its place, or it is gone and told to be deleted. */
    @ParameterizedTest
    @ValueSource(strings = {"/d/abc", "/base"})
    void afterDyingItTellsWhatItDeletedFromWhatWasGoneBefore(String path) throws Exception {
        long bytes = path.equals("/base") ? 9 : 3;
        List<Word> second = new ArrayList<>();
        for (int dies = 0; dies < 6; dies++) {
            begin();
            Files.deleteIfExists(notes);
            int at = dies;
            intents = new Intents(notes) {
                private int noted;

                @Override
                void aside(Doomed what, String aside, long size) throws IOException {
                    die();
                    super.aside(what, aside, size);
                    die();
                }

                @Override
                void reached(String deed, Stage stage) throws IOException {
                    die();
                    super.reached(deed, stage);
                    die();
                }

                private void die() {
                    if (noted++ == at) {
                        throw new Death();
                    }
                }
            };
            Doomed doomed = new Doomed("p 1", path, bytes, "");
            assertThrows(Death.class, () -> storage.delete(doomed, intents));
            intents = new Intents(notes);
            storage.recover(intents);
            boolean there = lies(path);
            second.add(delete(path, bytes, "").word());
            assertEquals(Word.DELETED, second.get(second.size() - 1), "died at note " + dies);
            assertEquals(dies < 3, there, "died at note " + dies);
            assertFalse(lies(path));
            assertFalse(names("/").stream().anyMatch(n -> n.startsWith(".firth")));
        }
        assertEquals(6, second.size());
    }

    @Test
    void forgetsWhatFirthWasTold() throws Exception {
        delete("/d/abc", 3, "");
        assertEquals(Word.DELETED, delete("/d/abc", 3, "").word(), "it was this agent");
        intents.told(List.of("p 1"));
        assertEquals(Word.MISSING, delete("/d/abc", 3, "").word());
        intents = new Intents(notes);
        assertEquals(Word.MISSING, delete("/d/abc", 3, "").word());
    }

    @Test
    void laysSheetsWhereAListingDoesNotTellOfThem() throws Exception {
        storage.lay("d.txt", "d");
        assertEquals("d", Files.readString(root.resolve("recovery-sheets/d.txt")));
        assertEquals(4, listed(false).size());
    }

    @Test
    void tellsItsRoomAndWhetherItCanBeWrittenTo() throws Exception {
        Storage.Room room = storage.room();
        assertTrue(room.freeBytes() > 0 && room.freeBytes() <= room.capacityBytes());
        assertEquals("", room.trouble());
        assertTrue(room.writable().orElseThrow());
        assertEquals(List.of("base", "d"), names("/"), "and leaves nothing behind");
    }
}
