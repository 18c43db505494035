package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Deed;
import firth.store.FactStore;
import firth.store.Papers;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** The rehearsal of the day on which Firth itself was lost. */
class RestoreSelfTest {

    @TempDir
    Path directory;

    private final StringWriter said = new StringWriter();

    private int run(String... arguments) {
        CommandLine command = FirthCommand.commandLine();
        command.setOut(new PrintWriter(said, true));
        command.setErr(new PrintWriter(said, true));
        return command.execute(arguments);
    }

    @Test
    void whatWasLostIsThereAgain() throws Exception {
        Path data = directory.resolve("firth.db");
        Instant now = Instant.parse("2026-11-20T09:00:00Z");
        String copy;
        try (FactStore store = FactStore.open(data)) {
            store.papers()
                    .keep(
                            new Papers.Paper("p", "report", "", "ines", now, "{}"),
                            new Deed.Told("ines", "report", "p", "{}"));
            copy = store.ownCopies(directory.resolve("copies"))
                    .write(now, 2)
                    .file()
                    .toString();
        }
        Files.delete(data);
        Files.deleteIfExists(directory.resolve("firth.db-wal"));
        Files.deleteIfExists(directory.resolve("firth.db-shm"));
        assertEquals(0, run("restore-self", copy, "--data", data.toString()));
        try (FactStore store = FactStore.open(data)) {
            assertEquals(1, store.papers().all("report").size());
        }
        assertEquals(0, run("verify-record", data.toString()), said::toString);
    }

    @Test
    void whatIsNoCopyIsRefused() throws Exception {
        Path letter = Files.writeString(directory.resolve("letter"), "dear");
        assertEquals(
                1,
                run(
                        "restore-self",
                        letter.toString(),
                        "--data",
                        directory.resolve("firth.db").toString()));
        assertTrue(said.toString().contains("not a copy of Firth's facts"), said::toString);
        assertTrue(Files.notExists(directory.resolve("firth.db")));
    }
}
