package firth.runner;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.engines.AgeKey;
import firth.engines.Keys;
import firth.engines.Packed;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What servers archive their logs with, run as they run it. */
class ArchiveLogTest {

    private static final String SEGMENT = "000000010000000000000007";

    @TempDir
    private Path directory;

    private Path script;
    private Path from;
    private Path to;
    private String said = "";

    @BeforeEach
    void lay() throws Exception {
        script = directory.resolve("archive-log");
        try (InputStream in = Objects.requireNonNull(Runner.class.getResourceAsStream("archive-log"))) {
            Files.copy(in, script);
        }
        from = directory.resolve(SEGMENT);
        byte[] content = new byte[3_000_000];
        new Random(1).nextBytes(content);
        Files.write(from, content);
        to = Files.createDirectories(directory.resolve("a store's log")).resolve(SEGMENT);
    }

    private int archive(String... how) throws Exception {
        List<String> command = new ArrayList<>(List.of("sh", script.toString(), from.toString(), to.toString()));
        command.addAll(List.of(how));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return process.waitFor();
    }

    private List<String> there() throws Exception {
        try (Stream<Path> all = Files.list(to.getParent())) {
            return all.map(p -> p.getFileName().toString()).toList();
        }
    }

    @Test
    void bringsTheWholeFileAndNothingElse() throws Exception {
        assertEquals(0, archive(), said);
        assertArrayEquals(Files.readAllBytes(from), Files.readAllBytes(to));
        assertEquals(List.of(SEGMENT), there());
    }

    @Test
    void bringsItTwiceWhereTheServerDidNotHearOfTheFirstTime() throws Exception {
        archive();
        assertEquals(0, archive(), said);
    }

    @Test
    void neverWritesOverAnother() throws Exception {
        Files.writeString(to, "another server's");
        assertEquals(1, archive());
        assertTrue(said.contains("with other content"), said);
        assertEquals("another server's", Files.readString(to));
        assertEquals(List.of(SEGMENT), there());
    }

    @Test
    void goesOnWhereItDiedBefore() throws Exception {
        Files.writeString(to.resolveSibling("." + SEGMENT + ".part"), "cut o");
        assertEquals(0, archive(), said);
        assertArrayEquals(Files.readAllBytes(from), Files.readAllBytes(to));
        assertEquals(List.of(SEGMENT), there());
    }

    @Test
    void failsWhereTheStoreIsNotThere() throws Exception {
        Files.delete(to.getParent());
        assertTrue(archive() != 0);
    }

    @Test
    void compressesWhereItIsToldTo() throws Exception {
        Files.write(from, new byte[3_000_000]);
        assertEquals(0, archive("zstd"), said);
        assertEquals(List.of(SEGMENT + ".zst"), there());
        Path packed = to.resolveSibling(SEGMENT + ".zst");
        assertTrue(Files.size(packed) < 10_000, Files.size(packed) + " bytes");
        Process unpack = new ProcessBuilder("zstd", "-qdc", packed.toString()).start();
        assertArrayEquals(Files.readAllBytes(from), unpack.getInputStream().readAllBytes());
        assertEquals(0, archive("zstd"), said);
        Files.write(from, new byte[] {1});
        assertEquals(1, archive("zstd"), "another of the name");
    }

    @Test
    void encryptsWhereItIsToldTo() throws Exception {
        String key = AgeKey.write(directory.resolve("quay.key")).toString();
        for (List<String> how : List.of(List.of("age", key), List.of("zstd", "age", key))) {
            String[] words = how.toArray(String[]::new);
            Path sealed = to.resolveSibling(SEGMENT + (how.size() > 2 ? ".zst" : "") + ".age");
            assertEquals(0, archive(words), said);
            assertEquals(List.of(sealed.getFileName().toString()), there());
            try (InputStream in = Packed.open(sealed, Keys.of(Map.of("quay", Path.of(key))))) {
                assertArrayEquals(Files.readAllBytes(from), in.readAllBytes());
            }
            assertEquals(0, archive(words), "the same twice is no failure: " + said);
            byte[] first = Files.readAllBytes(from);
            Files.write(from, new byte[] {1});
            assertEquals(1, archive(words), "another of the name");
            Files.write(from, first);
            Files.delete(sealed);
        }
        assertTrue(archive("age", key + "s") != 0, "no such key");
        assertEquals(List.of(), there());
    }

    @Test
    void whatCannotBeWrittenLeavesNothing() throws Exception {
        assertEquals(1, archive("lzip"));
        assertTrue(said.contains("lzip is unknown here"), said);
        Files.delete(from);
        assertTrue(archive() != 0);
        assertEquals(List.of(), there());
    }
}
