package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.record.Deed;
import firth.exchange.RecordLines;
import firth.store.FactStore;
import firth.store.People;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

class VerifyRecordTest {

    @TempDir
    Path directory;

    private final StringWriter said = new StringWriter();

    private int verify(String... arguments) {
        CommandLine line = FirthCommand.commandLine();
        line.setOut(new PrintWriter(said));
        line.setErr(new PrintWriter(said));
        List<String> all = new ArrayList<>(List.of("verify-record"));
        all.addAll(List.of(arguments));
        return line.execute(all.toArray(String[]::new));
    }

    private Path facts() {
        Path file = directory.resolve("firth.db");
        try (FactStore store = FactStore.open(file)) {
            People people = store.people();
            for (String id : List.of("ines", "tomas", "maren")) {
                people.put(
                        new People.Person(id, id, Optional.empty(), Set.of("viewer"), false, 0, Optional.empty()),
                        new Deed.Told("root", "person", id, "{}"),
                        Instant.now());
            }
        }
        return file;
    }

    private Path exported(Path facts) throws IOException {
        Path file = directory.resolve("record.ndjson");
        try (OutputStream to = Files.newOutputStream(file);
                RecordLines.Writing out = new RecordLines.Writing(to);
                FactStore store = FactStore.open(facts)) {
            store.deeds().all(out::write);
        }
        return file;
    }

    @Test
    void saysThatARecordIsWhole() throws IOException {
        Path facts = facts();
        assertEquals(0, verify(facts.toString()));
        assertEquals(0, verify(exported(facts).toString()));
        assertTrue(said.toString().contains("All 3 entries follow"));
    }

    @Test
    void findsWhatWasAltered() throws IOException {
        Path file = exported(facts());
        Files.writeString(file, Files.readString(file).replace("tomas", "thomas"));
        assertEquals(1, verify(file.toString()));
        assertTrue(said.toString().contains("Entry 2 does not fit"));
    }

    @Test
    void findsAnEndThatWasCutOffByTheHashKeptElsewhere() throws IOException {
        Path file = exported(facts());
        List<String> lines = Files.readAllLines(file);
        String last = lines.get(2).replaceFirst(".*\"hash\":\"(\\w+)\".*", "$1");
        assertEquals(0, verify(file.toString(), "--expect", last));
        Files.write(file, lines.subList(0, 2));
        assertEquals(1, verify(file.toString(), "--expect", last));
        assertTrue(said.toString().contains("cut off"));
    }

    @Test
    void saysWhatItCannotRead() throws IOException {
        Path file = directory.resolve("x");
        Files.writeString(file, "not a record\n");
        assertEquals(2, verify(file.toString()));
        assertTrue(said.toString().contains("line 1"));
        assertEquals(2, verify(directory.resolve("none").toString()));
    }
}
