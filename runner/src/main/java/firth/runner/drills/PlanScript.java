package firth.runner.drills;

import firth.runner.Program;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** The script of a plan, with what it is told of stores and programs. */
final class PlanScript implements Scratch.Script {

    private final Path script;
    private final Path files;
    private final Map<String, String> environment;

    private PlanScript(Path script, Path files, Map<String, String> environment) {
        this.script = script;
        this.files = files;
        this.environment = environment;
    }

    /**
     * Writes it down.
     *
     * @param directory of whoever runs it
     * @param files where it restores to
     */
    static PlanScript of(Plan plan, Path directory, Path files, Scratch scratch) throws IOException {
        Map<String, String> environment = new TreeMap<>(plan.stores());
        environment.putAll(scratch.environment());
        return new PlanScript(Files.writeString(directory.resolve("restore.sh"), plan.script()), files, environment);
    }

    @Override
    public void again(List<String> arguments) throws Trouble, InterruptedException {
        List<String> command = new ArrayList<>(List.of("sh", script.toString(), files.toString()));
        command.addAll(arguments);
        Program.run(command, environment, line -> {});
    }
}
