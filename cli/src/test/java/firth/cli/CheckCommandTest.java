package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import picocli.CommandLine;

/** The command as a script sees it: text, exit status, and what stands on standard error. */
class CheckCommandTest {

    private static final String FLEET = """
            {"type":"site","id":"north"}
            {"type":"store","id":"n1","site":"north","medium":"disk","role":"near"}
            {"type":"policy","id":"p","version":1,"effectiveFrom":"2026-01-01T00:00:00Z","objective":{"mishap":"PT1H"},"retain":[{"role":"near","fulls":1}]}
            {"type":"database","id":"tides","site":"north","zone":"UTC","policy":"p","inServiceFrom":"2026-01-01T00:00:00Z"}
            {"type":"backup","id":"f1","database":"tides","kind":"full","ended":"2026-01-02T00:00:00Z","bytes":2e9,"to":10,"selfContained":true,"copies":[{"store":"n1"}]}
            {"type":"backup","id":"f2","database":"tides","kind":"full","ended":"2026-01-03T00:00:00Z","bytes":2e9,"to":20,"selfContained":true,"copies":[{"store":"n1"}]}
            """;

    @TempDir
    private Path directory;

    private Path fleet;
    private final StringWriter out = new StringWriter();
    private final StringWriter err = new StringWriter();

    @BeforeEach
    void write() throws IOException {
        fleet = Files.writeString(directory.resolve("fleet.ndjson"), FLEET);
    }

    private int run(String... args) {
        CommandLine command =
                FirthCommand.commandLine().setOut(new PrintWriter(out)).setErr(new PrintWriter(err));
        int status = command.execute(args);
        command.getErr().flush();
        return status;
    }

    @Test
    void saysEachDatabaseInALine() {
        assertEquals(0, run("check", fleet.toString()));
        assertTrue(out.toString().contains("As of 2026-01-03T00:00:00Z"), out.toString());
        assertTrue(
                out.toString().matches("(?s).*tides +covered +0 s +1 h +.*points only +1 copies, 2\\.0 GB.*"),
                out.toString());
    }

    @ParameterizedTest
    @CsvSource({"behind, 1", "short, 1", "covered, 1", "stranded, 0"})
    void failsAtOrBelowTheGradeAskedFor(String grade, int status) {
        assertEquals(status, run("check", fleet.toString(), "--as-of", "2026-01-04T00:00:00Z", "--fail-on", grade));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "--as-of yesterday               | --as-of is not an RFC 3339 instant",
                "--period 2026-01-01T00:00:00Z   | --period is not FROM/TO",
                "--period 2026-01-02T00:00:00Z/2026-01-01T00:00:00Z | ends before it begins",
                "--format xml                    | --format is none of",
                "--hazard flood                  | --hazard is none of",
                "--fail-on bad                   | --fail-on is none of",
                "--database nobody               | no database nobody",
            })
    void saysWhichOptionIsWrong(String options, String message) {
        String[] words = options.strip().split(" ");
        assertEquals(2, run("check", fleet.toString(), words[0], words[1]));
        assertTrue(err.toString().contains(message.strip()), err.toString());
    }

    @Test
    void saysWhatCannotBeUsed() throws IOException {
        Path empty = Files.writeString(directory.resolve("empty.ndjson"), "");
        assertEquals(
                2, run("check", empty.toString(), directory.resolve("nowhere").toString()));
        assertTrue(err.toString().contains("empty.ndjson is empty"), err.toString());
        assertTrue(err.toString().contains("nowhere does not exist"), err.toString());
    }

    @Test
    void namesBadLinesAndAnswersForTheRest() throws IOException {
        Files.writeString(fleet, FLEET + "{\"type\":\"site\",\"id\":\"a b\"}\n");
        assertEquals(0, run("check", fleet.toString()));
        assertTrue(out.toString().contains("fleet.ndjson line 7, id: is not an id"), out.toString());
        assertTrue(out.toString().contains("tides"), out.toString());
    }

    @Test
    void namesTheStreamOfAGapAndRecordsThatContradict() throws IOException {
        Files.writeString(
                fleet, FLEET.replace("\"zone\":\"UTC\"", "\"zone\":\"UTC\",\"streams\":[\"main\",\"side\"]") + """
                {"type":"backup","id":"a","database":"tides","kind":"log","stream":"side","from":0,"to":5,"fromTime":"2026-01-02T00:00:00Z","toTime":"2026-01-02T06:00:00Z","copies":[{"store":"n1"}]}
                {"type":"backup","id":"b","database":"tides","kind":"log","stream":"side","from":9,"to":12,"fromTime":"2026-01-02T09:00:00Z","toTime":"2026-01-02T10:00:00Z","copies":[{"store":"n1","landed":"2026-01-02T11:00:00Z"}]}
                {"type":"backup","id":"c","database":"tides","kind":"full","ended":"2026-01-02T20:00:00Z","copies":[{"store":"n1","gone":"2026-01-02T19:00:00Z"}]}
                """);
        assertEquals(0, run("check", fleet.toString()));
        assertTrue(out.toString().contains("gap 5-9 in stream side, 2026-01-02T06:00:00Z to"), out.toString());
        assertTrue(
                out.toString()
                        .contains(
                                "contradiction: records contradict one another. The copy of c in n1 was deleted before"),
                out.toString());
    }
}
