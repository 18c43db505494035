package firth.runner;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.function.Consumer;

/** A program of an engine, run to its end: what it said, and whether it went well. */
final class Program {

    /** Of what it says the last lines are kept. */
    private static final int KEPT = 60;

    private Program() {}

    /**
     * Runs it.
     *
     * @param says takes each line as it comes, of what it prints and of what it complains about; carriage returns end lines, too
     * @return the last lines it said
     */
    static String run(List<String> command, Consumer<String> says) throws Trouble, InterruptedException {
        ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
        builder.redirectInput(ProcessBuilder.Redirect.from(new java.io.File("/dev/null")));
        builder.environment().put("LC_ALL", "C.UTF-8");
        builder.environment().put("PGCONNECT_TIMEOUT", "10");
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
