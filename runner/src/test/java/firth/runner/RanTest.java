package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RanTest {

    private static final Instant NOW = Instant.parse("2026-11-30T10:00:00Z");

    @TempDir
    private Path directory;

    private static ObjectNode run(String id, Instant started, String outcome) {
        return Json.MAPPER
                .createObjectNode()
                .put("type", "run")
                .put("id", id)
                .put("started", started.toString())
                .put("outcome", outcome)
                .put("output", "what the engine said");
    }

    private List<String> known(Ran ran) throws Exception {
        return ran.lines(NOW).stream()
                .map(l -> l.replaceFirst(".*\"id\":\"([^\"]*)\".*\"outcome\":\"([^\"]*)\".*", "$1 $2"))
                .toList();
    }

    @Test
    void eachIsKnownAsItWasToldLastWithoutWhatItsEngineSaid() throws Exception {
        Ran ran = new Ran(directory);
        assertEquals(List.of(), ran.lines(NOW));
        ran.note(List.of(run("a", NOW, "running")));
        ran.note(List.of(run("old", NOW.minus(Duration.ofDays(4)), "ok"), run("a", NOW, "ok")));
        ObjectNode under = run("b", NOW, "running");
        under.putArray("course");
        ran.note(List.of(under, Json.MAPPER.createObjectNode().put("type", "backup")));
        assertEquals(List.of("a ok"), known(new Ran(directory)));
        assertTrue(ran.lines(NOW).stream().noneMatch(l -> l.contains("engine")));
    }

    @Test
    void aLineThatWasCutOffTakesNoOtherWithIt() throws Exception {
        Path file = directory.resolve("runs.ndjson");
        Ran ran = new Ran(directory);
        ran.note(List.of(run("a", NOW, "ok")));
        Files.writeString(file, "{\"type\":\"run\",\"id\":\"half", StandardOpenOption.APPEND);
        ran.note(List.of(run("b", NOW, "ok")));
        assertEquals(List.of("a ok", "b ok"), known(ran));
    }

    @Test
    void whatIsOldGoesBeforeItFillsTheDisk() throws Exception {
        Ran ran = new Ran(directory);
        List<ObjectNode> many = IntStream.range(0, 2_000)
                .mapToObj(n -> run("old" + n, NOW.minus(Duration.ofDays(5)), "ok"))
                .toList();
        for (int round = 0; round < 8; round++) {
            ran.note(many);
        }
        ran.note(List.of(run("new", NOW, "ok")));
        assertTrue(Files.size(directory.resolve("runs.ndjson")) < 2_500_000, "it was shortened");
        assertEquals(List.of("new ok"), known(ran));
    }

    @Test
    void aLastWordThatWasCutOffSaysNothingAndIsAskedForAgain() throws Exception {
        for (String half : List.of("", "{\"heard\":\"2026-11-", "{}")) {
            Files.writeString(directory.resolve("last-word.json"), half);
            LastWord word = new LastWord(directory);
            assertTrue(word.said().isEmpty(), half);
            assertTrue(word.isWanted(NOW));
        }
    }
}
