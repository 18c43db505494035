package firth.engines;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.engines.Recipe.Part;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a script reads from a store, run by a shell as it would be. */
class ScriptLinesTest {

    private static final int SIZE = 1_000_000;

    @TempDir
    private Path directory;

    private Path store;
    private Path key;
    private final byte[] content = new byte[SIZE];

    @BeforeEach
    void lay() throws IOException {
        store = Files.createDirectories(directory.resolve("store/harbour/base one"));
        key = AgeKey.write(directory.resolve("key"));
        new Random(1).nextBytes(content);
        Files.write(store.resolve("plain"), content);
        Files.createDirectory(store.resolve("within"));
        Keys keys = Keys.of(Map.of("quay", key));
        try (OutputStream file = keys.seal(store.resolve("within/sealed.zst.age"), "quay");
                OutputStream out = Packed.zstd(file)) {
            out.write(content);
        }
        try (OutputStream out = Packed.zstd(Files.newOutputStream(store.resolve("packed.zst")))) {
            out.write(content);
        }
        Path sleeps = Files.writeString(
                Files.createDirectory(directory.resolve("bin")).resolve("sleep"),
                "#!/bin/sh\necho slept >>\"$SLEPT\"\n");
        Files.setPosixFilePermissions(sleeps, PosixFilePermissions.fromString("rwx------"));
    }

    private String said = "";

    private int run(Map<String, String> environment) throws Exception {
        Part part = new Part(Kind.FULL, "near", "harbour/base one");
        ScriptLines lines = new ScriptLines("Restores it", List.of(part));
        lines.add("must_be_empty");
        lines.add("mkdir -p \"$new\"");
        lines.add("fetch_all " + lines.place(part) + " \"$new\"");
        Path script = Files.writeString(directory.resolve("restore.sh"), lines.toString());
        ProcessBuilder builder = new ProcessBuilder(
                "sh", script.toString(), directory.resolve("new").toString());
        builder.environment().put("STORE_1", directory.resolve("store").toString());
        builder.environment().put("SLEPT", directory.resolve("slept").toString());
        builder.environment().merge("PATH", "", (path, none) -> directory.resolve("bin") + ":" + path);
        builder.environment().putAll(environment);
        Process process = builder.redirectErrorStream(true).start();
        said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return process.waitFor();
    }

    private void isWhole() throws IOException {
        for (String file : List.of("plain", "packed", "within/sealed")) {
            assertArrayEquals(
                    content, Files.readAllBytes(directory.resolve("new").resolve(file)), file);
        }
        try (var all = Files.walk(directory.resolve("new"))) {
            assertEquals(3, all.filter(Files::isRegularFile).count());
        }
    }

    @Test
    void readsWhatIsPackedAndEncrypted() throws Exception {
        assertEquals(0, run(Map.of("KEYS", key.toString())), said);
        isWhole();
        assertTrue(Files.notExists(directory.resolve("slept")));
    }

    @Test
    void waitsASecondForAsMuchAsItMayReadInOne() throws Exception {
        assertEquals(0, run(Map.of("KEYS", key.toString(), "RATE", "300000")), said);
        isWhole();
        long slept = Files.readAllLines(directory.resolve("slept")).size();
        assertEquals(3 * SIZE / 300_000, slept, "of three million bytes and a little");
    }

    @Test
    void withoutTheKeyItSaysWhatItWants() throws Exception {
        assertTrue(run(Map.of()) != 0);
        assertTrue(said.contains("say in which file the keys are"), said);
    }

    @Test
    void whatWasCutOffIsNotRestored() throws Exception {
        for (String file : List.of("within/sealed.zst.age", "packed.zst")) {
            Path cut = store.resolve(file);
            byte[] whole = Files.readAllBytes(cut);
            Files.write(cut, java.util.Arrays.copyOf(whole, whole.length / 2));
            assertTrue(run(Map.of("KEYS", key.toString())) != 0, file);
            Files.write(cut, whole);
            try (var all = Files.walk(directory.resolve("new"))) {
                for (Path p : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
                    Files.delete(p);
                }
            }
        }
    }
}
