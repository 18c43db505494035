package firth.runner;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;

/** A program of an engine, run to its end: what it said, and whether it went well. */
public final class Program {

    private static final Path POSTGRESQL = Path.of("/usr/lib/postgresql");

    /** Of what it says the last lines are kept. */
    private static final int KEPT = 60;

    private Program() {}

    /** Whether it can be started: it lies where it is named, or where programs are looked for. */
    public static boolean isThere(String program) {
        String looked = program.contains("/") ? "" : String.valueOf(System.getenv("PATH"));
        return Stream.of(looked.split(":", -1)).anyMatch(d -> Files.isExecutable(Path.of(d, program)));
    }

    /** Where a program of PostgreSQL lies: where it is said to, else that of the newest major installed. */
    public static String ofPostgresql(Optional<Path> programs, String name) {
        return programs.map(p -> p.resolve(name).toString()).orElseGet(() -> {
            try (Stream<Path> majors = Files.list(POSTGRESQL)) {
                return majors.map(m -> m.resolve("bin").resolve(name))
                        .filter(Files::isExecutable)
                        .max(Comparator.naturalOrder())
                        .map(Path::toString)
                        .orElse(name);
            } catch (IOException notThere) {
                return name;
            }
        });
    }

    /**
     * Runs it.
     *
     * @param says takes each line as it comes, of what it prints and of what it complains about; carriage returns end lines, too
     * @return the last lines it said
     */
    public static String run(List<String> command, Consumer<String> says) throws Trouble, InterruptedException {
        return run(command, Map.of(), says);
    }

    /** @param environment what it finds there beside what this program found */
    public static String run(List<String> command, Map<String, String> environment, Consumer<String> says)
            throws Trouble, InterruptedException {
        ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
        builder.redirectInput(ProcessBuilder.Redirect.from(new java.io.File("/dev/null")));
        builder.environment().put("LC_ALL", "C.UTF-8");
        builder.environment().put("PGCONNECT_TIMEOUT", "10");
        builder.environment().putAll(environment);
        Process process;
        try {
            process = builder.start();
        } catch (IOException e) {
            throw new Trouble(command.get(0) + " cannot be started: " + e.getMessage());
        }
        Deque<String> kept = new ArrayDeque<>();
        try (BufferedReader in =
                new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                says.accept(line);
                kept.add(line);
                if (kept.size() > KEPT) {
                    kept.removeFirst();
                }
            }
            int status = process.waitFor();
            String said = String.join("\n", kept);
            if (status != 0) {
                throw new Trouble(last(kept, name(command) + " ended with status " + status), said);
            }
            return said;
        } catch (IOException e) {
            throw new Trouble(name(command) + " could not be listened to: " + e.getMessage());
        } finally {
            process.destroy();
        }
    }

    private static String name(List<String> command) {
        return command.get(0).replaceFirst(".*/", "");
    }

    /** Programs say at last why they end. */
    private static String last(Deque<String> lines, String otherwise) {
        return lines.isEmpty() || lines.peekLast().isBlank() ? otherwise : lines.peekLast();
    }
}
