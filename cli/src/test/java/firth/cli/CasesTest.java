package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** {@code firth check} against fleets whose answers are known, worked out by hand or by an independent reference. */
class CasesTest {

    private static final Path CASES = Path.of("src/test/resources/cases");
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir
    private Path directory;

    private static JsonNode check(Path fleet, List<String> args) throws IOException {
        List<String> all = new ArrayList<>(List.of("check", fleet.toString(), "--format", "json"));
        all.addAll(args);
        PrintStream before = System.out;
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        StringWriter err = new StringWriter();
        try {
            System.setOut(new PrintStream(out, true, StandardCharsets.UTF_8));
            CommandLine command = FirthCommand.commandLine().setErr(new PrintWriter(err));
            assertEquals(0, command.execute(all.toArray(String[]::new)), err.toString());
        } finally {
            System.setOut(before);
        }
        return JSON.readTree(out.toByteArray());
    }

    @TestFactory
    Stream<DynamicTest> referenceFleets() throws IOException {
        try (Stream<Path> files = Files.list(CASES)) {
            return files.filter(f -> f.toString().endsWith(".ndjson")).sorted().toList().stream()
                    .map(f -> DynamicTest.dynamicTest(name(f), () -> agrees(f)));
        }
    }

    private static String name(Path fleet) {
        return fleet.getFileName().toString().replace(".ndjson", "");
    }

    private static void agrees(Path fleet) throws IOException {
        JsonNode actual = check(fleet, Files.readAllLines(CASES.resolve(name(fleet) + ".args")));
        JsonNode expected =
                JSON.readTree(CASES.resolve(name(fleet) + ".expected.json").toFile());
        Set<String> refused = new java.util.HashSet<>();
        for (JsonNode database : actual.get("databases")) {
            if (database.has("notComputed")) {
                refused.add(database.get("id").asText());
            }
        }
        if (name(fleet).startsWith("plain") || name(fleet).startsWith("chains")) {
            assertEquals(Set.of(), refused, "all of it is computed");
        }
        List<String> differences = new Comparison().of(without(expected, refused), without(actual, refused));
        assertTrue(differences.isEmpty(), () -> String.join("\n", differences));
    }

    private static JsonNode without(JsonNode answer, Set<String> databases) {
        ObjectNode out = answer.deepCopy();
        out.withArray("databases").removeIf(d -> databases.contains(d.get("id").asText()));
        return out;
    }

    @TestFactory
    Stream<DynamicTest> fleetsWorkedOutByHand() throws IOException {
        List<DynamicTest> out = new ArrayList<>();
        try (Stream<Path> files = Files.list(CASES)) {
            for (Path file : files.filter(f -> f.getFileName().toString().startsWith("hand-"))
                    .sorted()
                    .toList()) {
                for (JsonNode c : JSON.readTree(file.toFile())) {
                    if (isComputed(c)) {
                        out.add(DynamicTest.dynamicTest(c.get("name").asText(), () -> agreesByHand(c)));
                    }
                }
            }
        }
        assertTrue(out.size() >= 236, "only " + out.size() + " of the cases worked out by hand are left");
        return out.stream();
    }

    private static boolean isComputed(JsonNode c) {
        for (JsonNode line : c.get("lines")) {
            if (line.path("streamed").asBoolean()
                    || line.path("lineages").size() > 1
                    || line.path("streams").size() > 1) {
                return false;
            }
        }
        return true;
    }

    private void agreesByHand(JsonNode c) throws IOException {
        Path fleet = directory.resolve("fleet.ndjson");
        StringBuilder lines = new StringBuilder();
        c.get("lines").forEach(l -> lines.append(l).append('\n'));
        Files.writeString(fleet, lines);
        List<String> args = new ArrayList<>();
        c.get("args").forEach(a -> args.add(a.asText()));
        List<String> differences = new Comparison().of(c.get("expect"), check(fleet, args));
        assertTrue(differences.isEmpty(), () -> c.get("rule") + "\n" + String.join("\n", differences));
    }

    @Test
    void whatIsNotComputedIsRefusedAndNamed() throws IOException {
        JsonNode answer = check(CASES.resolve("streamed-01.ndjson"), List.of());
        assertEquals("streamed logs", answer.at("/databases/0/notComputed/0").asText());
        assertTrue(answer.at("/databases/0/grade").isMissingNode(), "nothing else is said of it");
    }
}
