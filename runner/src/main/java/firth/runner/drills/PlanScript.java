package firth.runner.drills;

import firth.runner.Program;
import firth.runner.Trouble;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.TreeMap;

/** The script of a plan, with what it is told of stores, keys and programs. */
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
     * @param rate the most it may read from the stores, in bytes a second; empty: there is no limit
     */
    static PlanScript of(Plan plan, Path directory, Path files, Scratch scratch, OptionalLong rate) throws IOException {
        Map<String, String> environment = new TreeMap<>(plan.stores());
        rate.ifPresent(most -> environment.put("RATE", Long.toString(most)));
        if (!plan.keys().isEmpty()) {
            environment.put("KEYS", keys(plan.keys(), directory).toString());
        }
        environment.putAll(scratch.environment());
        return new PlanScript(Files.writeString(directory.resolve("restore.sh"), plan.script()), files, environment);
    }

    /** One file with all of them, for nobody else to read. */
    private static Path keys(List<Path> keys, Path directory) throws IOException {
        Path out = Files.createFile(
                directory.resolve("keys"),
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        for (Path each : keys) {
            Files.writeString(out, Files.readString(each) + "\n", StandardOpenOption.APPEND);
        }
        return out;
    }

    @Override
    public void again(List<String> arguments) throws Trouble, InterruptedException {
        List<String> command = new ArrayList<>(List.of("sh", script.toString(), files.toString()));
        command.addAll(arguments);
        Program.run(command, environment, line -> {});
    }
}
