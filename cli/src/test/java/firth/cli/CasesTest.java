package firth.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
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
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
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
        List<String> differences = new Comparison().of(expected, actual);
        assertTrue(differences.isEmpty(), () -> String.join("\n", differences));
    }

    @TestFactory
    Stream<DynamicTest> fleetsWorkedOutByHand() throws IOException {
        List<DynamicTest> out = new ArrayList<>();
        try (Stream<Path> files = Files.list(CASES)) {
            for (Path file : files.filter(f -> f.getFileName().toString().startsWith("hand-"))
                    .sorted()
                    .toList()) {
                for (JsonNode c : JSON.readTree(file.toFile())) {
                    out.add(DynamicTest.dynamicTest(c.get("name").asText(), () -> agreesByHand(c)));
                }
            }
        }
        assertTrue(out.size() >= 283, "only " + out.size() + " of the cases worked out by hand are left");
        return out.stream();
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
}
