package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** While a Firth has its file nobody else serves it or puts another in its place. */
class OwnFileIT {

    @TempDir
    Path beside;

    /** What a program says until it ends by itself, and its exit status. */
    private record Said(int status, String text) {}

    private Said run(List<String> command) throws IOException, InterruptedException {
        Path log = beside.resolve("log.txt");
        Files.deleteIfExists(log);
        Process process = Programs.start(command, beside);
        boolean ended = process.waitFor(60, TimeUnit.SECONDS);
        process.destroyForcibly().waitFor();
        assertTrue(ended, () -> command + " goes on");
        return new Said(process.exitValue(), Files.readString(log));
    }

    private static List<String> restoreSelf(Path copy, Path data) {
        return Programs.java(
                "-jar", Programs.jar("cli", "all"), "restore-self", copy.toString(), "--data", data.toString());
    }

    @Test
    void oneFirthHasItsFileAlone() throws Exception {
        try (Harbour harbour = new Harbour()) {
            harbour.startServer(0);
            String site = "{\"type\":\"site\",\"id\":\"north\"}\n";
            assertEquals(
                    200,
                    harbour.post("/api/import", "application/x-ndjson", site).statusCode());
            Path copy = beside.resolve("copy.db");
            harbour.killServer();
            Files.copy(harbour.data(), copy);
            harbour.startServer(0);

            Said restored = run(restoreSelf(copy, harbour.data()));
            assertEquals(1, restored.status());
            assertTrue(restored.text().contains("Stop it first"), restored.text());
            Said second = run(harbour.serving(0));
            assertNotEquals(0, second.status());
            assertTrue(second.text().contains("Stop it first"), second.text());
            assertFalse(second.text().contains("\tat "), second.text());
            assertTrue(harbour.text("/api/export").contains("north"), "it goes on undisturbed");

            harbour.killServer();
            assertEquals(0, run(restoreSelf(copy, harbour.data())).status(), "whoever was killed holds nothing");
        }
    }
}
